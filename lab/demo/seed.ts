/** Puts The Reed Ferry on an empty shelf: footage through the same door as any, records through the same checks. */
import { createReadStream, createWriteStream, existsSync, readFileSync } from 'node:fs'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { decode, encode } from 'fast-png'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Media, Shot } from '#core/records/types.ts'
import { renderFrame } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { createServer, type Server } from '../../server/app.ts'
import { takeFootage } from '../../server/http/footage.ts'
import { packProject } from '../../server/storage/projectFile.ts'
import type { Truth } from '../scenes/scene.ts'
import type { Found, FoundPlate } from './foundKept.ts'
import { type Footage, story, type Told } from './story.ts'

/** The footage in the order of the shots; `join`: frames over which the next one takes over. */
export const told: { file: string; ending: string; name: string; join?: number }[] = [
  { file: 'jetty-swing', ending: 'mp4', name: 'Jetty swing' },
  { file: 'two-poles', ending: 'webm', name: 'Two poles' },
  { file: 'heron-mask', ending: 'mp4', name: 'Heron mask' },
  { file: 'leap', ending: 'mp4', name: 'Leap', join: 12 },
  { file: 'moon-pond', ending: 'mp4', name: 'Moon pond' },
]

/** Pictures that are inserted, and the still of a clean plate: no shot is made of them. */
export const inserted = ['lantern.png', 'lantern-sway.zip', 'leap-clean.png'] as const

/** How the still of the leap's clean plate lies. */
export const plateOfLeap = (folder: string): FoundPlate =>
  JSON.parse(readFileSync(join(folder, 'leap-clean.json'), 'utf8')) as FoundPlate

/** Seeds the data folder when no project was ever made in it. `media`: folder of the committed footage. */
export async function seed(data: string, media: string): Promise<void> {
  const server = await createServer({ data })
  try {
    if (!(await server.database.read((manager) => manager.count('project')))) await tell(server, media)
  } finally {
    await server.close()
  }
}

/** Writes the demo as the project file that a shelf offers to begin with. */
export async function writeExample(to: string, media: string): Promise<void> {
  const data = await mkdtemp(join(tmpdir(), 'wisp-example-'))
  const server = await createServer({ data })
  try {
    const id = await tell(server, media)
    const { records } = await server.projects.open(id)
    const hashes = [...new Set(records.flatMap((one) => (one.type === 'media' ? [one.hash] : [])))]
    const clips = hashes.map((hash) => ({ hash, path: join(server.files.footage, hash) }))
    const packed = packProject(
      await server.projects.streamWhole(id, hashes),
      clips,
      await readFile(server.files.thumbnailOf(id)),
      (error) => packed.destroy(error),
    )
    await pipeline(packed, createWriteStream(to))
  } finally {
    await server.close()
    await rm(data, { recursive: true, force: true })
  }
}

/** Makes The Reed Ferry; returns its id. */
async function tell(server: Server, media: string): Promise<string> {
  const shots = [] as Footage[]
  for (const [i, one] of told.entries()) shots.push(await shotOf(server, media, one, i + 1))
  const [jetty, poles, heron, leap, pond] = shots as [Footage, Footage, Footage, Footage, Footage]
  const stills = await Promise.all(inserted.map((file) => mediaOf(server, media, file)))
  const [lantern, sway, clean] = stills as [Media, Media, Media]
  const plate = plateOfLeap(media)
  const records = story({ jetty, poles, heron, leap, pond, lantern, sway, clean, plate } satisfies Told)
  const id = await server.projects.create('The Reed Ferry', 'linear', () => [
    ...shots.flatMap(({ media, shot }) => [media, shot]),
    ...stills,
    ...records,
  ])
  await writeFile(server.files.thumbnailOf(id), burning(join(media, 'two-poles.png'), records, poles, 50))
  return id
}

async function shotOf(
  server: Server,
  folder: string,
  { file, ending, name, join: over = 0 }: (typeof told)[number],
  order: number,
): Promise<Footage> {
  const media = await mediaOf(server, folder, `${file}.${ending}`)
  const shot: Shot = {
    type: 'shot',
    id: `shot-${file}`,
    media: media.id,
    name,
    order,
    in: 0,
    out: media.frames,
    join: over,
  }
  return { media, shot, ...known(folder, file) }
}

/** What is known of a clip: the truth it was drawn with, and what a follower found where that was kept. */
export function known(folder: string, file: string): Pick<Footage, 'truth' | 'found'> {
  const truth = JSON.parse(readFileSync(join(folder, `${file}.truth.json`), 'utf8')) as Truth
  const found = join(folder, `${file}.found.json`)
  return existsSync(found) ? { truth, found: JSON.parse(readFileSync(found, 'utf8')) as Found[] } : { truth }
}

async function mediaOf(server: Server, folder: string, name: string): Promise<Media> {
  const facts = await takeFootage(createReadStream(join(folder, name)), server.database, server.files)
  const { times: _, pictures: __, ...fields } = facts
  return { type: 'media', id: mediaId(name), name, ...fields }
}
export const mediaId = (name: string) => `media-${name.replace(/\.\w+$/, '')}`

/** The small picture of a frame with the shot's light on it, as PNG. */
function burning(file: string, records: AnyRecord[], { media, shot }: Footage, frame: number): Uint8Array {
  const { width, height, data, channels } = decode(readFileSync(file))
  const words = Uint32Array.from(
    { length: width * height },
    (_, i) =>
      (0xff000000 | (data[channels * i + 2]! << 16) | (data[channels * i + 1]! << 8) | data[channels * i]!) >>> 0,
  )
  const scene = sceneOf(new Records([media, shot, ...records]), shot.id)!
  renderFrame(scene, frame, width / media.width, { words, width, height }, new Scratch())
  return encode({ width, height, data: new Uint8Array(words.buffer), channels: 4 })
}
