/** Hands a file to the browser to be saved. */
export function saveFile(file: Blob, name: string): void {
  const address = URL.createObjectURL(file)
  Object.assign(document.createElement('a'), { href: address, download: name }).click()
  // The download has begun to read by then.
  setTimeout(() => URL.revokeObjectURL(address), 60_000)
}

export const saveJson = (text: string, name: string): void =>
  saveFile(new Blob([text], { type: 'application/json' }), name)

/** A name as files have it. */
export const slugOf = (name: string): string => name.toLowerCase().replaceAll(' ', '-')
