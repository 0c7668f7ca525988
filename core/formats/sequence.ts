/** Files that belong together, by their place in the list that was given. */
export interface Sequence {
  /** What it is called: the common name with the first and last number, or the file's own name. */
  name: string
  files: number[]
}

const numbered = /^(.*?)(\d+)\.(png|jpe?g|tiff?|bmp|exr|webp|avif|heic|heif|dpx|tga|jp2)$/i

/**
 * Sorts chosen files into picture sequences: pictures whose names differ in their last number only, in its order. Every
 * other file stands alone.
 */
export function sequencesOf(names: readonly string[]): Sequence[] {
  const stems = new Map<string, { number: string; file: number }[]>()
  const out: Sequence[] = []
  names.forEach((name, file) => {
    const parts = numbered.exec(name)
    if (!parts) return void out.push({ name, files: [file] })
    const stem = `${parts[1]}*.${parts[3]!.toLowerCase()}`
    stems.set(stem, [...(stems.get(stem) ?? []), { number: parts[2]!, file }])
  })
  for (const [stem, members] of stems) {
    members.sort((a, b) => Number(a.number) - Number(b.number))
    const [first, last] = [members[0]!, members.at(-1)!]
    const name = members.length > 1 ? stem.replace('*', `${first.number}-${last.number}`) : names[first.file]!
    out.push({ name, files: members.map(({ file }) => file) })
  }
  return out
}
