import { existsSync, readFileSync } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { describe, expect, it, onTestFinished } from 'vitest'
import { checks } from '#core/checks.ts'
import { type EffectKindName, effectKinds } from '#core/effects/catalogue.ts'
import { pixelsOfPng } from '#core/formats/png.ts'
import { shippedLooks } from '#core/looks/looks.ts'
import { Records } from '#core/records/records.ts'
import { sceneOf } from '#core/render/scene.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { createServer } from '../../server/app.ts'
import { round, truthOf } from '../scenes/film.ts'
import { scenes } from '../scenes/index.ts'
import { lantern, lanternCorners, swayFrames, turnAt } from '../scenes/lantern.ts'
import type { Truth } from '../scenes/scene.ts'
import { demoMedia, root } from '../support/places.ts'
import { demoRecords } from './demoRecords.ts'
import { effectsPage } from './effectsPage.ts'
import { seed } from './seed.ts'

const truthFile = (file: string) =>
  JSON.parse(readFileSync(join(demoMedia, file.replace(/\.\w+$/, '.truth.json')), 'utf8')) as Truth

describe('scenes', () => {
  it.each(scenes.map((scene) => [scene.name, scene] as const))(
    '%s: the truth beside the footage is what the scene says',
    (_, scene) => {
      expect(truthOf(scene.name, scene.perform(1), scene.frames, 1)).toEqual(truthFile(scene.file))
    },
  )
  it.each(scenes.map((scene) => [scene.name, scene] as const))(
    '%s: another seed gives another performance',
    (_, scene) => {
      const places = [2, 3].map((seed) => {
        const { rods, outlines } = scene.perform(seed).at(40)
        return rods[0]?.points.slice(2) ?? outlines[0]!.nodes.slice(0, 2)
      })
      expect(Math.hypot(places[0]![0]! - places[1]![0]!, places[0]![1]! - places[1]![1]!)).toBeGreaterThan(2)
    },
  )
  it('the swing leaves the picture and passes the head; the poles meet twice', () => {
    const [swing, poles] = [truthFile('jetty-swing.mp4'), truthFile('two-poles.webm')]
    expect(swing.rods[0]!.tipOutside.length).toBeGreaterThan(3)
    expect(swing.rods[0]!.behindHead.length).toBeGreaterThan(3)
    expect(poles.contacts).toHaveLength(2)
    for (const { x, y } of poles.contacts) expect(x > 400 && x < 880 && y > 100 && y < 500).toBe(true)
  })
})

describe('the lantern', () => {
  const truth = JSON.parse(readFileSync(join(demoMedia, 'lantern.truth.json'), 'utf8')) as {
    still: number[]
    sway: number[][]
  }
  const still = pixelsOfPng(readFileSync(join(demoMedia, 'lantern.png')))
  const sway = Object.values(unzipSync(readFileSync(join(demoMedia, 'lantern-sway.zip')))).map((png) =>
    pixelsOfPng(png),
  )
  it('is what its scene draws, its corners where the scene says', () => {
    expect(still.rgba).toEqual(lantern(0))
    expect(sway).toHaveLength(swayFrames)
    expect(sway[3]!.rgba).toEqual(lantern(turnAt(3)))
    expect(truth.sway[3]).toEqual(round(lanternCorners(turnAt(3))))
    expect(truth.still).toEqual(round(lanternCorners(0)))
  })
  it('is paper within its corners and nothing around them', () => {
    for (const [i, { rgba: data, width }] of [still, ...sway].entries()) {
      const corners = i ? truth.sway[i - 1]! : truth.still
      const mean = (k: number) => (corners[k]! + corners[k + 2]! + corners[k + 4]! + corners[k + 6]!) / 4
      const alpha = (x: number, y: number) => data[4 * (Math.round(y) * width + Math.round(x)) + 3]
      expect(alpha(mean(0), mean(1))).toBe(255)
      // Half-way down its sides the barrel fills the box; beside it there is nothing.
      const side = [(corners[2]! + corners[4]!) / 2, (corners[3]! + corners[5]!) / 2] as const
      const out = [(side[0] - mean(0)) * 0.06, (side[1] - mean(1)) * 0.06] as const
      expect(alpha(side[0] - out[0], side[1] - out[1])).toBe(255)
      expect(alpha(side[0] + out[0], side[1] + out[1])).toBe(0)
    }
  })
})

describe('the demo project', () => {
  it('the reference page of effects is what their descriptions say: npm run reference', async () => {
    expect(readFileSync(join(root, 'docs/effects.md'), 'utf8')).toBe(await effectsPage())
    for (const kind of Object.keys(effectKinds))
      expect(existsSync(join(root, `web/public/effects/${kind}.jpg`)), kind).toBe(true)
    for (const { name } of shippedLooks)
      expect(existsSync(join(root, `web/public/looks/${name.toLowerCase().replaceAll(' ', '-')}.jpg`)), name).toBe(true)
  })
  it('uses every kind of effect somewhere', () => {
    const { records } = demoRecords()
    const used = new Set(records.flatMap((one) => (one.type === 'effect' ? [one.kind] : [])))
    expect(Object.keys(effectKinds).filter((kind) => !used.has(kind as EffectKindName))).toEqual([])
    for (const record of records) expect(() => checks.record(record)).not.toThrow()
  })
  it('is seeded once: one shot half traced, one traced to its end, both within a pixel and a half of the truth', async () => {
    const data = await mkdtemp(join(tmpdir(), 'wisp-seed-'))
    onTestFinished(() => rm(data, { recursive: true, force: true }))
    await seed(data, demoMedia)
    await seed(data, demoMedia)
    const server = await createServer({ data })
    const list = await server.projects.list()
    expect(list).toMatchObject([{ name: 'The Reed Ferry', shots: 5, frames: 384 }])
    const records = new Records((await server.projects.open(list[0]!.id)).records)
    await server.close()

    const rods = [
      ['shot-jetty-swing', 'ferry-pole-shaft', 'jetty-swing.mp4', 'Keeper pole', 48],
      ['shot-two-poles', 'keeper-pole-pole', 'two-poles.webm', 'Keeper pole', 71],
      ['shot-two-poles', 'stranger-oar-oar', 'two-poles.webm', 'Stranger pole', 71],
    ] as const
    for (const [shot, part, file, name, last] of rods) {
      const traced = sceneOf(records, shot)!.part(part)!
      const truth = truthFile(file).rods.find((rod) => rod.name === name)!
      for (let frame = 0; frame <= last; frame++)
        traced
          .at(frame)!
          .forEach((value, i) => expect(Math.abs(value - truth.points[frame]![i]!)).toBeLessThanOrEqual(1.5))
      // A shape goes on for half a frame; after that nothing is there.
      expect(traced.at(last + 1)).toBeNull()
      expect(records.childrenOf('key', part).length).toBeLessThan(last * 0.7)
    }
    // The beak was traced on one frame and followed from there: every point within three pixels, and sure of it.
    const beak = records.childrenOf('key', 'heron-beak')
    const known = truthFile('heron-mask.mp4').outlines.find((one) => one.name === 'beak')!
    expect(beak.filter(isHandKey).map((key) => key.frame)).toEqual([0])
    expect(beak).toHaveLength(72)
    for (const { frame, points, followed } of beak) {
      expect(followed ?? 1).toBeGreaterThan(0.5)
      for (let node = 0; node < points.length / 8; node++)
        for (const k of [0, 1])
          expect(Math.abs(points[8 * node + k]! - known.points[frame]![6 * node + k]!)).toBeLessThanOrEqual(3)
    }
    // The hat has a single key and lies on the drawn one all the same: it rides on the head.
    const hat = sceneOf(records, 'shot-leap')!.part('leaper-hat')!
    const drawn = truthFile('leap.mp4').outlines.find((one) => one.name === 'hat')!
    expect(records.childrenOf('key', 'leaper-hat')).toHaveLength(1)
    for (let frame = 0; frame < 72; frame++)
      for (let node = 0; node < 8; node++)
        for (const k of [0, 1])
          expect(Math.abs(hat.at(frame)![8 * node + k]! - drawn.points[frame]![6 * node + k]!)).toBeLessThanOrEqual(2.5)
  })
})
