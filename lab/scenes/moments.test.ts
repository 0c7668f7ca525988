import { describe, expect, it } from 'vitest'
import { contactsOf } from '#core/motion/contacts.ts'
import { momentsOf } from '#core/motion/moments.ts'
import { defaultsOf } from '#core/parameters/values.ts'
import { partKind } from '#core/shapes/registry.ts'
import { truthOf } from './film.ts'
import { scenes } from './index.ts'
import type { Truth } from './scene.ts'

/** The props of a drawn performance as traced parts, straight from frame to frame. */
function propsOf({ rods, frames }: Truth) {
  const settings = defaultsOf(partKind('rod').settings)
  return rods.map(({ name, points }) => ({
    ...{ id: name, kind: 'rod', settings, role: 'add' as const },
    at(time: number): number[] {
      const i = Math.max(0, Math.min(frames - 1, Math.floor(time)))
      const [a, b] = [points[i]!, points[Math.min(frames - 1, i + 1)]!]
      return a.map((v, k) => v + (b[k]! - v) * (time - i))
    },
  }))
}
const performed = (name: string, seed: number) => {
  const scene = scenes.find((one) => one.name === name)!
  const truth = truthOf(name, scene.perform(seed), scene.frames, seed)
  const props = propsOf(truth)
  const shot = {
    ...{ length: truth.frames, joinStart: truth.frames },
    member: (id: string) => props.filter((one) => one.id === id),
    contacts: () => (props[1] ? contactsOf([props[0]!], [props[1]], truth.frames) : []),
  }
  return { truth, props, shot }
}
/** Frames at which a tip moves faster than just before and after, and than half of its greatest speed. */
function peaksOf({ rods, frames }: Truth, which: number): number[] {
  const tip = rods[which]!.points
  const speeds = Array.from({ length: frames }, (_, f) => {
    const [a, b] = [tip[Math.max(0, f - 1)]!, tip[Math.min(frames - 1, f + 1)]!]
    return Math.hypot(b[2]! - a[2]!, b[3]! - a[3]!) / 2
  })
  const top = Math.max(...speeds)
  // The camera sways and the tip trembles: a peak is the fastest within two frames.
  return speeds.flatMap((v, f) =>
    v > top / 2 && v === Math.max(...speeds.slice(Math.max(0, f - 2), f + 3)) ? [f] : [],
  )
}

describe.each([1, 2, 3, 4, 5, 6])('moments of the drawn performances, seed %i', (seed) => {
  it.each(['Jetty swing', 'Two poles'])(
    '%s: every swing above half of the greatest speed is found, at most one more',
    (name) => {
      const { truth, props, shot } = performed(name, seed)
      for (const [which, prop] of props.entries()) {
        const peaks = peaksOf(truth, which)
        const found = momentsOf(shot, 'swings', prop.id, '')
        for (const peak of peaks)
          expect(Math.min(...found.map(({ frame }) => Math.abs(frame - peak)))).toBeLessThanOrEqual(1.6)
        // What is slower than half may be found, too: it is a swing of its own.
        expect(found.filter((one) => one.strength > 0.55).length).toBeLessThanOrEqual(peaks.length + 1)
      }
    },
  )
  it('Two poles: both knocks are found within a frame, and nothing else', () => {
    const { truth, props, shot } = performed('Two poles', seed)
    const found = momentsOf(shot, 'contacts', props[0]!.id, props[1]!.id)
    expect(found).toHaveLength(truth.contacts.length)
    for (const [i, { frame }] of truth.contacts.entries())
      expect(Math.abs(found[i]!.frame - frame)).toBeLessThanOrEqual(1)
  })
})
