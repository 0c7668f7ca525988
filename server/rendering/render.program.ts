/** npm run render: renders a project file without a window. */
import { parseArgs } from 'node:util'
import { type FileKind, formOf, isOfPictures } from '#core/outgoing/forms.ts'
import type { Content } from '#core/render/contents.ts'
import { Refusal } from '#core/refusal.ts'
import { asRefusal } from '../http/refusal.ts'
import { nodeKinds, type NodeOrder, renderProject } from './renderProject.ts'

const contents: readonly Content[] = ['over', 'light', 'cutout', 'matte', 'plate', 'clean']
const help = `npm run render -- PROJECT-FILE [--shot NAME] [--what WHAT] [--of NAME] [--as KIND] [--frames A-B] [--scale S] [--premultiplied] [--crop] [--out FILE]

  PROJECT-FILE     a project that was taken out of a shelf, with its clips
  --shot NAME      one shot; without it the whole film
  --what WHAT      ${contents.join(', ')}; over: the plate with its light
  --of NAME        the one member whose matte or cut-out it is; without it everybody
  --as KIND        ${nodeKinds.join(', ')}
  --frames A-B     a piece, both ends included, counted from 0; pieces are joined without a seam
  --scale S        1, 2 or 4: by how much it is smaller
  --premultiplied  colours of pictures with alpha are multiplied by it
  --crop           a matte or cut-out as large as is seen of it
  --out FILE       where it goes`

/** What the arguments ask for. Throws a Refusal that names what is wrong. */
export function orderOf(args: readonly string[]): NodeOrder | null {
  const text = { type: 'string' } as const
  const options = { shot: text, what: text, of: text, as: text, frames: text, scale: text, out: text } as const
  const flags = {
    premultiplied: { type: 'boolean' },
    crop: { type: 'boolean' },
    help: { type: 'boolean', short: 'h' },
  } as const
  let parsed
  try {
    parsed = parseArgs({ args: [...args], options: { ...options, ...flags }, allowPositionals: true })
  } catch (error) {
    throw new Refusal(`${(error as Error).message.split('. ')[0]}. --help tells what there is.`)
  }
  const { values, positionals } = parsed
  if (values.help || (!args.length && !positionals.length)) return null
  const oneOf = <T extends string>(name: string, value: string | undefined, list: readonly T[], usual: T): T => {
    if (value === undefined) return usual
    if (!list.includes(value as T)) throw new Refusal(`--${name} is one of ${list.join(', ')}, not "${value}".`)
    return value as T
  }
  if (positionals.length !== 1) throw new Refusal('Name one project file. --help tells what else there is.')
  const content = oneOf('what', values.what, contents, 'over')
  const usual: FileKind = content === 'cutout' ? 'webmAlpha' : 'mp4'
  const kind = oneOf('as', values.as, nodeKinds, usual)
  const fits = (one: FileKind) => formOf(one).of.includes(content)
  if (isOfPictures(kind) && !fits(kind))
    throw new Refusal(`--what ${content} does not go into ${kind}. Take one of ${nodeKinds.filter(fits).join(', ')}.`)
  const [, from, to] = /^(\d+)(?:-(\d+))?$/.exec(values.frames ?? '') ?? []
  if (values.frames !== undefined && from === undefined)
    throw new Refusal(`--frames takes two numbers as in 0-47, not "${values.frames}".`)
  return {
    ...{
      project: positionals[0]!,
      footage: '',
      shot: values.shot ?? '',
      span: null,
      content,
      of: values.of ?? '',
      kind,
    },
    piece: from === undefined ? null : { from: Number(from), to: Number(to ?? from) },
    reduce: Number(oneOf('scale', values.scale, ['1', '2', '4'], '1')) as 1 | 2 | 4,
    ...{ premultiplied: values.premultiplied ?? false, crop: values.crop ?? false, out: values.out ?? '', work: '' },
  }
}

async function main(): Promise<void> {
  const order = orderOf(process.argv.slice(2))
  if (!order) return console.log(help)
  const began = performance.now()
  let said = 0
  let stopped = false
  process.once('SIGINT', () => (stopped = true))
  const { out, frames, troubles, lies } = await renderProject(order, (done, of) => {
    if (stopped) throw new Refusal('Stopped. Nothing was written.')
    const now = performance.now()
    if (!process.stderr.isTTY || (now - said < 500 && done < of)) return
    said = now
    process.stderr.write(`\r${done} of ${of} frames, ${((1000 * done) / (now - began)).toFixed(1)} a second `)
  })
  if (process.stderr.isTTY) process.stderr.write('\n')
  for (const sentence of troubles) console.error(sentence)
  const seconds = (performance.now() - began) / 1000
  console.log(`${out}: ${frames} ${frames === 1 ? 'frame' : 'frames'} in ${seconds.toFixed(1)} s${lies && `, ${lies}`}`)
}

if (process.argv[1] === import.meta.filename)
  main().catch((error: unknown) => {
    console.error(asRefusal(error)?.message ?? `Something unforeseen went wrong; nothing was written. ${String(error)}`)
    process.exitCode = 1
  })
