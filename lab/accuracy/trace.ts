import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, chromium } from '@playwright/test'
import { frameAround, gripPlace } from '#core/geometry/selectionFrame.ts'
import { bestSimilarity } from '#core/geometry/similarity.ts'
import { memberMatte } from '#core/matte/partMatte.ts'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { makeKey } from '#core/records/make.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Part } from '#core/records/types.ts'
import { anchors } from '#core/shapes/kind.ts'
import { outline } from '#core/shapes/kinds/outline.ts'
import { makePart } from '#core/shapes/make.ts'
import { likelyShape, shapeOf } from '#core/shapes/riding.ts'
import config from '../../playwright.config.ts'
import { frameRoom, hitRadii } from '../../web/editor/stage/tracer.ts'
import { outlineNodes } from '../scenes/paint.ts'
import type { Truth } from '../scenes/scene.ts'
import { App } from '../support/application.ts'
import { performance } from './footage.ts'
import { Hand } from './robotUser.ts'

const slots = { truth: new Slot(), traced: new Slot() }

/** What it took, and what it came to. */
interface Figure {
  scene: string
  way: string
  actions: number
  keys: number
  /** Keys on the slow half, before the swing. */
  slowKeys?: number
  /** Worst end of the pole on any frame, in px. */
  worst?: number
  /** Least intersection over union on any frame. */
  overlap?: number
}

/**
 * Tracing through the real interface by a hand that knows the truth and does what a practitioner would: on each frame
 * that the plan leads to it looks, leaves alone what is right and corrects what is not; when the plan has nothing more
 * it goes to the frames that are still wrong. Held against keying every frame with straight in-betweens.
 */
export async function trace(seed: number): Promise<Figure[]> {
  const folder = await mkdtemp(join(tmpdir(), 'wisp-measure-'))
  const browser = await chromium.launch(config.use!.launchOptions!)
  try {
    const swing = performance('jetty-swing', seed, folder)
    const leap = performance('leap', seed, folder)
    const figures = [
      await withBench(browser, folder, swing.file, (hand) => poleByPlan(hand, swing.truth)),
      await withBench(browser, folder, swing.file, (hand) => poleOnEveryFrame(hand, swing.truth)),
      await withBench(browser, folder, leap.file, (hand) => performerByPlan(hand, leap.truth)),
      performerOnEveryFrame(leap.truth),
    ]
    print(figures)
    return figures
  } finally {
    await browser.close()
    await rm(folder, { recursive: true, force: true })
  }
}

let rounds = 0
async function withBench(
  browser: Browser,
  folder: string,
  file: string,
  work: (hand: Hand) => Promise<Figure>,
): Promise<Figure> {
  const app = new App(join(folder, `data-${rounds++}`))
  await app.start()
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  try {
    const hand = new Hand(page)
    await hand.editor.newProjectWith(app, file)
    await hand.look()
    await page.getByRole('progressbar', { name: 'Frames ready' }).and(page.locator('[aria-valuenow="100"]')).waitFor()
    return await work(hand)
  } finally {
    await page.close()
    await app.stop()
  }
}

const recordsOf = async (hand: Hand) => {
  await hand.editor.page.getByText('All changes kept').waitFor()
  return new Records((await hand.editor.records()) as unknown as AnyRecord[])
}
const farthest = (a: readonly number[], b: readonly number[], indices: readonly number[]) =>
  Math.max(...indices.map((i) => Math.hypot(a[2 * i]! - b[2 * i]!, a[2 * i + 1]! - b[2 * i + 1]!)))

/** Pixels that an end of the pole may be off. */
const near = 2
const slowUntil = 48

async function poleByPlan(hand: Hand, truth: Truth): Promise<Figure> {
  const at = truth.rods[0]!.points
  const { page } = hand.editor
  await hand.zoom(640, 360, 3)
  await place(hand, at[0]!)
  await hand.choose(/^Frames that the playhead goes on/, 'by key plan')
  const part = async () => (await recordsOf(hand)).all('part')[0]!
  const wrong = async () => {
    const records = await recordsOf(hand)
    const one = records.all('part')[0]!
    return at.flatMap((points, frame) => {
      const there = shapeOf(records, one, frame)
      const off = there ? farthest(there, points, [0, 1]) : Infinity
      return off > near ? [{ frame, off }] : []
    })
  }
  await page.getByTitle('Pictures that were read for the plan').waitFor({ state: 'detached' })
  await hand.press('p')
  for (let i = 0; i < 300; i++) {
    await hand.settle()
    const left = await wrong()
    if (left.length === 0) break
    const frame = await hand.frame
    if (i % 10 === 0) console.log(`  ${hand.actions} actions, ${left.length} frames to go`)
    if (left.some((one) => one.frame === frame)) {
      await place(hand, at[frame]!)
      continue
    }
    if (await nothingPlanned(hand)) await hand.goTo(left.reduce((a, b) => (b.off > a.off ? b : a)).frame)
    else await hand.press('p')
  }
  const records = await recordsOf(hand)
  const keys = records.childrenOf('key', (await part()).id)
  return {
    ...{ scene: 'jetty swing, pole', way: 'key plan, arc', actions: hand.actions, keys: keys.length },
    slowKeys: keys.filter((key) => key.frame < slowUntil).length,
    worst: worstOf(records, at),
  }
}
async function place(hand: Hand, [hx, hy, tx, ty]: number[]): Promise<void> {
  await hand.click(hx!, hy!)
  await hand.click(tx!, ty!)
}
const nothingPlanned = async (hand: Hand) =>
  (await hand.editor.page.getByRole('region', { name: 'Key plan' }).getByText('Next worth keying').count()) === 0

function worstOf(records: Records, truth: number[][]): number {
  const part = records.all('part')[0]!
  return Math.max(
    ...truth.map((points, frame) => farthest(shapeOf(records, part, frame) ?? [1e9, 0, 0, 0], points, [0, 1])),
  )
}

async function poleOnEveryFrame(hand: Hand, truth: Truth): Promise<Figure> {
  const at = truth.rods[0]!.points
  await hand.zoom(640, 360, 3)
  await place(hand, at[0]!)
  await hand.choose(/^In-between: /, 'straight')
  for (let frame = 1; frame < truth.frames; frame++) await place(hand, at[frame]!)
  const records = await recordsOf(hand)
  const keys = records.all('key')
  return {
    ...{ scene: 'jetty swing, pole', way: 'every frame, straight', actions: hand.actions, keys: keys.length },
    slowKeys: keys.filter((key) => key.frame < slowUntil).length,
    worst: worstOf(records, at),
  }
}

/** Pixels that a point of a limb may be off before it is corrected. */
const nearLimb = 3
const wanted = 0.95

async function performerByPlan(hand: Hand, truth: Truth): Promise<Figure> {
  const { page } = hand.editor
  await page
    .getByTitle('Pictures that were read for the plan')
    .waitFor({ state: 'detached' })
    .catch(() => {})
  for (const [i, limb] of truth.outlines.entries()) {
    const at = limb.points.map(outlineNodes)
    if (i > 0) {
      await hand.goTo(0)
      await hand.choose(/^Frames that the playhead goes on/, 'step 1')
    }
    await draw(hand, at[0]!)
    await hand.settle()
    console.log(`  ${limb.name}, ${hand.actions} actions so far`)
    if (i === 0) await page.getByTitle('Pictures that were read for the plan').waitFor({ state: 'detached' })
    await hand.choose(/^Frames that the playhead goes on/, 'by key plan')
    const id = partsOf(await recordsOf(hand)).at(-1)!.id
    if (i === 0) await hand.press('c')
    await hand.press('p')
    for (let step = 0; step < 120; step++) {
      await hand.settle()
      const frame = await hand.frame
      const records = await recordsOf(hand)
      const part = records.get('part', id)!
      const here = likelyShape(records, part, frame)!
      if (farthest(here, at[frame]!, anchors(outline, here)) > nearLimb) {
        await correct(hand, here, at[frame]!)
        await hand.press('Enter')
      } else if (await nothingPlanned(hand)) break
      else await hand.press('p')
    }
  }
  // What is still below the mark: the limb that is farthest off on the worst frame.
  for (let round = 0; round < 60; round++) {
    const records = await recordsOf(hand)
    const overlaps = overlapsOf(records, truth)
    const worst = overlaps.indexOf(Math.min(...overlaps))
    if (overlaps[worst]! >= wanted) break
    const parts = partsOf(records)
    const offs = parts.map((part, i) => {
      const here = likelyShape(records, part, worst)!
      return farthest(here, outlineNodes(truth.outlines[i]!.points[worst]!), anchors(outline, here))
    })
    const limb = offs.indexOf(Math.max(...offs))
    hand.actions++
    await page.getByRole('button', { name: `${parts[limb]!.name} outline`, exact: true }).click()
    await hand.goTo(worst)
    await correct(hand, likelyShape(records, parts[limb]!, worst)!, outlineNodes(truth.outlines[limb]!.points[worst]!))
  }
  const records = await recordsOf(hand)
  return {
    ...{ scene: 'leap, performer', way: 'key plan, arc', actions: hand.actions, keys: records.all('key').length },
    overlap: Math.min(...overlapsOf(records, truth)),
  }
}

/** Turns of the wheel that bring a limb close enough to be drawn. */
const closer = 6
/** Presses that drawing an outline takes besides its points: the tool, the wheel, closing, smoothing, fitting. */
const drawingTakes = closer + 4

/** Draws an outline close up, by clicks on its points that are then made smooth. */
async function draw(hand: Hand, nodes: number[]): Promise<void> {
  await hand.press('k')
  const own = nodes.filter((_, i) => i % 8 < 2)
  const [x, y] = [0, 1].map((k) => own.filter((_, i) => i % 2 === k).reduce((a, b) => a + b) / (own.length / 2))
  await hand.zoom(x!, y!, -closer)
  for (let i = 0; i < own.length; i += 2) await hand.click(own[i]!, own[i + 1]!)
  await hand.press('Enter')
  await hand.press('.')
  await hand.press('f')
  await hand.look()
}

/** Brings a shape that is framed to where it should be: turned by its frame, then moved within it. */
async function correct(hand: Hand, from: readonly number[], to: number[]): Promise<void> {
  const own = anchors(outline, from)
  const places = (list: readonly number[]) => own.flatMap((i) => [list[2 * i]!, list[2 * i + 1]!])
  const k = ((await hand.editor.at(1000, 0)).x - (await hand.editor.at(0, 0)).x) / 1000
  let here = places(from)
  const { ar, ai } = bestSimilarity(here, places(to))
  const angle = Math.atan2(ai, ar)
  if (turns(here, angle)) {
    const frame = frameAround(here, null, frameRoom / k)!
    const [gx, gy] = gripPlace(frame, 'turn', hitRadii.turn / k)
    const [dx, dy] = [gx - frame.pivotX, gy - frame.pivotY]
    const [c, s] = [Math.cos(angle), Math.sin(angle)]
    const to = [frame.pivotX + c * dx - s * dy, frame.pivotY + s * dx + c * dy] as const
    const seen = Math.hypot(to[0] - gx, to[1] - gy) * k > dragged
    if (seen) await hand.drag([gx, gy], to)
    if (seen)
      here = here.map((_, i) => {
        const [x, y] = [here[i - (i % 2)]! - frame.pivotX, here[i - (i % 2) + 1]! - frame.pivotY]
        return i % 2 ? frame.pivotY + s * x + c * y : frame.pivotX + c * x - s * y
      })
  }
  const mean = (list: readonly number[], of: number) =>
    list.reduce((sum, v, i) => (i % 2 === of ? sum + v : sum), 0) / own.length
  const [dx, dy] = [mean(places(to), 0) - mean(here, 0), mean(places(to), 1) - mean(here, 1)]
  if (Math.hypot(dx, dy) * k <= dragged) {
    // Less than a drag: the arrows do it, a pixel a press.
    for (let i = 0; i < Math.round(Math.abs(dx)); i++) await hand.press(dx > 0 ? 'ArrowRight' : 'ArrowLeft')
    for (let i = 0; i < Math.round(Math.abs(dy)); i++) await hand.press(dy > 0 ? 'ArrowDown' : 'ArrowUp')
  } else {
    // Between the pivot and a corner, where nothing else is held.
    const frame = frameAround(here, null, frameRoom / k)!
    const grip = [(frame.pivotX + frame.left) / 2, (frame.pivotY + frame.top) / 2] as const
    await hand.drag(grip, [grip[0] + dx, grip[1] + dy])
  }
}
/** Screen pixels that a press must move to be a drag, and a little more. */
const dragged = 3.3
/** Whether leaving a turn away would be seen at the ends of a shape. */
const turns = (places: readonly number[], angle: number) =>
  Math.abs(angle) * Math.hypot(...span(places)) * 0.5 > nearLimb * 0.7
const span = (list: readonly number[]) => {
  const [xs, ys] = [list.filter((_, i) => i % 2 === 0), list.filter((_, i) => i % 2)]
  return [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)] as const
}
const partsOf = (records: Records): Part[] =>
  records.all('member').flatMap((member) => [...records.childrenOf('part', member.id)])

/** Intersection over union of the traced matte and the drawn one on every frame, both as the program computes mattes. */
function overlapsOf(records: Records, truth: Truth): number[] {
  const region = { x: 0, y: 0, width: truth.width, height: truth.height }
  const scratch = new Scratch()
  const hard = { feather: 0, grow: 0, opacity: 1, roundness: 0 }
  return Array.from({ length: truth.frames }, (_, frame) => {
    const drawn = truth.outlines.map((limb) => ({
      ...{ kind: 'outline', role: 'add' as const, settings: hard, points: outlineNodes(limb.points[frame]!) },
    }))
    const traced = partsOf(records).map((part) => ({
      ...{ kind: 'outline', role: 'add' as const, settings: hard, points: shapeOf(records, part, frame) },
    }))
    const a = memberMatte(drawn, 0.5, half(region), scratch, slots.truth)
    const b = memberMatte(traced, 0.5, half(region), scratch, slots.traced)
    let [both, either] = [0, 0]
    for (let i = 0; i < a.length; i++) {
      both += Math.min(a[i]!, b[i]!)
      either += Math.max(a[i]!, b[i]!)
    }
    return both / either
  })
}
const half = ({ width, height }: { width: number; height: number }) => ({
  x: 0,
  y: 0,
  width: width / 2,
  height: height / 2,
})

/**
 * The same hand on every frame with the shape of the frame before: counted by the same rules, not clicked, because it
 * is thousands of presses.
 */
function performerOnEveryFrame(truth: Truth): Figure {
  let [actions, keys] = [0, 0]
  const records = new Records()
  truth.outlines.forEach((limb, i) => {
    const at = limb.points.map(outlineNodes)
    actions += drawingTakes + at[0]!.length / 8
    keys++
    records.apply({
      put: [makePart({ id: `p${i}`, member: 'm', name: limb.name, kind: 'outline', order: i })],
      remove: [],
    })
    for (let frame = 1; frame < truth.frames; frame++) {
      const [before, now] = [at[frame - 1]!, at[frame]!]
      const own = anchors(outline, before)
      const places = (list: readonly number[]) => own.flatMap((k) => [list[2 * k]!, list[2 * k + 1]!])
      const { ar, ai } = bestSimilarity(places(before), places(now))
      const turned = turns(places(before), Math.atan2(ai, ar))
      const moved = farthest(before, now, own) > 0.6
      // A key on every frame: turned, moved, or at least accepted as it is; then a step.
      actions += (turned ? 1 : 0) + (moved ? 1 : 0) + 1
      keys++
      records.apply({ put: [makeKey(`p${i}`, frame, now)], remove: [] })
    }
  })
  return { scene: 'leap, performer', way: 'every frame, straight (counted)', actions, keys, overlap: 1 }
}

function print(figures: Figure[]): void {
  console.log(`${'scene'.padEnd(20)}${'way'.padEnd(34)}${'actions'.padStart(8)}${'keys'.padStart(7)}  result`)
  for (const one of figures) {
    const outcome =
      one.worst !== undefined
        ? `worst end ${one.worst.toFixed(2)} px, ${one.slowKeys} keys on the slow half of ${slowUntil} frames`
        : `least overlap ${one.overlap!.toFixed(3)}`
    console.log(
      `${one.scene.padEnd(20)}${one.way.padEnd(34)}${String(one.actions).padStart(8)}${String(one.keys).padStart(7)}  ${outcome}`,
    )
  }
  for (const scene of new Set(figures.map((one) => one.scene))) {
    const [plan, every] = figures.filter((one) => one.scene === scene)
    console.log(
      `${scene}: ${((100 * plan!.actions) / every!.actions).toFixed(0)} % of the actions, ${((100 * plan!.keys) / every!.keys).toFixed(0)} % of the keys.`,
    )
  }
}
