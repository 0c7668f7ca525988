/** Puts The Reed Ferry on an empty shelf: footage through the same door as any, records through the same checks. */
import { createReadStream, readFileSync } from 'node:fs'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { decode, encode } from 'fast-png'
import { polygonArea } from '#core/geometry/path.ts'
import { Scratch } from '#core/image/scratch.ts'
import { Records } from '#core/model/diff.ts'
import { makeEffect, makeKey, makePart } from '#core/model/make.ts'
import type { Settings } from '#core/model/parameters.ts'
import {
  type AnyRecord,
  type Effect,
  type Media,
  type Member,
  type MemberKind,
  type Part,
  type PartKindName,
  type Shot,
} from '#core/model/records.ts'
import { renderFrame } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { shapeAt } from '#core/shapes/track.ts'
import { createServer } from '../server/app.ts'
import { takeFootage } from '../server/routes/footage.ts'
import { outlineNodes, polygonOf } from './scenes/paint.ts'
import type { Truth } from './scenes/scene.ts'

/** Seeds the data folder when no project was ever made in it. `media`: folder of the committed footage. */
export async function seed(data: string, media: string): Promise<void> {
  const server = await createServer({ data })
  try {
    if (await server.database.read((manager) => manager.count('project'))) return
    const jetty = await shotOf(server, media, 'jetty-swing', 'mp4', 'Jetty swing', 1)
    const poles = await shotOf(server, media, 'two-poles', 'webm', 'Two poles', 2)
    const heron = await shotOf(server, media, 'heron-mask', 'mp4', 'Heron mask', 3)
    const leap = await shotOf(server, media, 'leap', 'mp4', 'Leap', 4)
    const records = [...jettySwing(jetty), ...twoPoles(poles), ...heronMask(heron), ...leapOf(leap)]
    const id = await server.projects.create('The Reed Ferry', () => [
      ...[jetty, poles, heron, leap].flatMap(({ media, shot }) => [media, shot]),
      ...records,
    ])
    await writeFile(
      join(server.files.thumbnails, `${id}.png`),
      burning(join(media, 'two-poles.png'), records, poles, 50),
    )
  } finally {
    await server.close()
  }
}

interface Footage {
  media: Media
  shot: Shot
  truth: Truth
}

async function shotOf(
  server: Awaited<ReturnType<typeof createServer>>,
  folder: string,
  file: string,
  ending: string,
  name: string,
  order: number,
): Promise<Footage> {
  const facts = await takeFootage(createReadStream(join(folder, `${file}.${ending}`)), server.database, server.files)
  const { times: _, ...fields } = facts
  const media: Media = { type: 'media', id: `media-${file}`, name: `${file}.${ending}`, ...fields }
  const shot: Shot = { type: 'shot', id: `shot-${file}`, media: media.id, name, order, in: 0, out: media.frames }
  const truth = JSON.parse(readFileSync(join(folder, `${file}.truth.json`), 'utf8')) as Truth
  return { media, shot, truth }
}

/** Half traced: the swing itself is left for whoever opens the project. */
function jettySwing({ shot, truth }: Footage): AnyRecord[] {
  const until = 48
  const pole = member(shot, 'ferry-pole', 'Ferry pole', 'prop', 0, 1)
  const keeper = member(shot, 'keeper', 'Keeper', 'performer', 1, 2)
  const shaft = rod(pole, 'shaft', truth, 'Keeper pole', until)
  const head = headOf(keeper, truth, 'Keeper', until)
  return [
    ...[pole, keeper, ...shaft, ...head],
    blade(shot, 'blade-keeper', pole, head, 1, {
      lit: {
        keys: [
          { frame: 4, value: 0, ease: 'eased' },
          { frame: 14, value: 1, ease: 'straight' },
        ],
      },
    }),
  ]
}

function twoPoles({ shot, truth }: Footage): AnyRecord[] {
  const until = truth.frames - 1
  const left = member(shot, 'keeper-pole', 'Keeper’s pole', 'prop', 0, 1)
  const right = member(shot, 'stranger-oar', 'Stranger’s oar', 'prop', 4, 2)
  const keeper = member(shot, 'keeper-2', 'Keeper', 'performer', 1, 3)
  const stranger = member(shot, 'stranger', 'Stranger', 'performer', 3, 4)
  const heads = [...headOf(keeper, truth, 'Keeper', until), ...headOf(stranger, truth, 'Stranger', until)]
  return [
    ...[left, right, keeper, stranger, ...heads],
    ...rod(left, 'pole', truth, 'Keeper pole', until),
    ...rod(right, 'oar', truth, 'Stranger pole', until),
    blade(shot, 'blade-left', left, heads, 1, {}),
    blade(shot, 'blade-right', right, heads, 2, { outside: '#ff5a2e' }),
  ]
}

/** The two eyes, with lids that close once, and the mask around them. */
function heronMask({ shot, truth }: Footage): AnyRecord[] {
  const eyes = member(shot, 'heron-eyes', 'Heron’s eyes', 'eye', 2, 1)
  const mask = member(shot, 'heron', 'Heron mask', 'other', 4, 2)
  const named = (of: Member, name: string, order: number) => outlineOf(of, truth, name, order)
  return [
    eyes,
    mask,
    ...named(eyes, 'left eye', 1),
    ...named(eyes, 'right eye', 2),
    ...named(mask, 'mask', 1),
    ...named(mask, 'beak', 2),
  ]
}

/** Every limb on its own; the hat rides on the head and needs one key. */
function leapOf({ shot, truth }: Footage): AnyRecord[] {
  const keeper = member(shot, 'leaper', 'Keeper', 'performer', 1, 1)
  const limbs = truth.outlines.filter((one) => one.name !== 'hat')
  const records = limbs.flatMap((one, i) => outlineOf(keeper, truth, one.name, i + 1))
  const head = outlineNodes(truth.outlines.find((one) => one.name === 'head')!.points[0]!)
  const hat: Part = {
    ...part(keeper, 'hat', 'outline', limbs.length + 1),
    ride: { on: 'leaper-head', from: [{ part: 'leaper-head', points: head }] },
  }
  const worn = truth.outlines.find((one) => one.name === 'hat')!
  return [keeper, ...records, hat, makeKey(hat.id, 0, outlineNodes(worn.points[0]!))]
}

function outlineOf(of: Member, truth: Truth, name: string, order: number): AnyRecord[] {
  const one = part(of, name, 'outline', order)
  return [one, ...keysFor(one, truth.outlines.find((shape) => shape.name === name)!.points.map(outlineNodes))]
}
const member = (shot: Shot, id: string, name: string, kind: MemberKind, colour: number, order: number): Member => ({
  ...{ type: 'member', id, shot: shot.id, name, kind, colour, order },
})

function part(of: Member, name: string, kind: PartKindName, order: number, settings: Settings = {}): Part {
  return makePart({ id: `${of.id}-${name.replaceAll(' ', '-')}`, member: of.id, name, kind, order, settings })
}

function rod(of: Member, name: string, truth: Truth, known: string, until: number): AnyRecord[] {
  const { points, width } = truth.rods.find((one) => one.name === known)!
  const one = part(of, name, 'rod', 1, { widthHeel: width, widthTip: width - 2, reach: 0 })
  return [one, ...keysFor(one, points.slice(0, until + 1))]
}

/** What covers a blade: face and hat as ovals of the same middle, size and turn. */
function headOf(of: Member, truth: Truth, figure: string, until: number): AnyRecord[] {
  return ['head', 'crown', 'brim'].flatMap((name, i) => {
    const { points } = truth.outlines.find((one) => one.name === name && one.figure === figure)!
    const one = part(of, name, 'oval', i + 1)
    return [one, ...keysFor(one, alike(points.slice(0, until + 1).map(ovalOf)))]
  })
}

/** As few keys as keep the in-betweens within a pixel and a half of the drawn truth, the worst frame first. */
function keysFor(one: Part, truth: number[][]): AnyRecord[] {
  const frames = [0, truth.length - 1]
  const keys = () => frames.map((frame) => makeKey(one.id, frame, truth[frame]!))
  for (;;) {
    const track = { keys: keys(), aways: [], tween: one.tween, hold: false }
    let worst = { frame: -1, error: 1.5 }
    truth.forEach((points, frame) => {
      const between = shapeAt(track, frame)!
      const error = Math.max(...between.map((v, k) => Math.abs(v - points[k]!)))
      if (error > worst.error) worst = { frame, error }
    })
    if (worst.frame < 0) break
    frames.push(worst.frame)
    frames.sort((a, b) => a - b)
  }
  return keys()
}

/** The same ovals with their axes in the order and direction that lie nearest to the frame before. */
function alike(ovals: number[][]): number[][] {
  let before = ovals[0]!
  return ovals.map((oval) => {
    const [x, y, ax, ay, bx, by] = oval as [number, number, number, number, number, number]
    const turned = [
      oval,
      [x, y, bx, by, 2 * x - ax, 2 * y - ay],
      [x, y, 2 * x - ax, 2 * y - ay, 2 * x - bx, 2 * y - by],
      [x, y, 2 * x - bx, 2 * y - by, ax, ay],
    ]
    const apart = (one: number[]) => one.reduce((sum, v, i) => sum + (v - before[i]!) ** 2, 0)
    before = turned.reduce((best, one) => (apart(one) < apart(best) ? one : best))
    return before
  })
}

/** Ellipse with the centre and second moments of area of an outline: centre and ends of its half-axes. */
function ovalOf(nodes: number[]): number[] {
  const p = polygonOf(nodes)
  const area = polygonArea(p)
  let [mx, my, xx, yy, xy] = [0, 0, 0, 0, 0]
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2) % p.length
    const [x0, y0, x1, y1] = [p[i]!, p[i + 1]!, p[j]!, p[j + 1]!]
    const cross = x0 * y1 - x1 * y0
    mx += ((x0 + x1) * cross) / 6
    my += ((y0 + y1) * cross) / 6
    xx += ((x0 * x0 + x0 * x1 + x1 * x1) * cross) / 12
    yy += ((y0 * y0 + y0 * y1 + y1 * y1) * cross) / 12
    xy += ((x0 * y1 + 2 * x0 * y0 + 2 * x1 * y1 + x1 * y0) * cross) / 24
  }
  const [cx, cy] = [mx / area, my / area]
  const [a, b, c] = [xx / area - cx * cx, xy / area - cx * cy, yy / area - cy * cy]
  const turn = Math.atan2(2 * b, a - c) / 2
  const spread = Math.hypot((a - c) / 2, b)
  // A filled ellipse has a variance of a quarter of the squared half-axis.
  const [long, short] = [2 * Math.sqrt((a + c) / 2 + spread), 2 * Math.sqrt((a + c) / 2 - spread)]
  const [dx, dy] = [Math.cos(turn), Math.sin(turn)]
  return [cx, cy, cx + dx * long, cy + dy * long, cx - dy * short, cy + dx * short].map(
    (v) => Math.round(v * 100) / 100,
  )
}

function blade(shot: Shot, id: string, on: Member, covers: AnyRecord[], order: number, settings: Settings): Effect {
  const behind = covers.filter((record) => record.type === 'part').map((record) => record.id)
  return makeEffect({ id, shot: shot.id, kind: 'blade', order, target: on.id, behind, opacity: 0.92, settings })
}

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
