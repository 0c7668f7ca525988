import { describe, expect, it } from 'vitest'
import type { PartKind } from '#core/shapes/kind.ts'
import { outline, smoothNodes } from '#core/shapes/outline.ts'
import { oval } from '#core/shapes/oval.ts'
import { rod } from '#core/shapes/rod.ts'
import { onShape, Tracer, type Traced } from './tracer.ts'

/** A bench of one part that writes down what it is told. */
function bench(shape: number[] | null, places: PartKind | null = rod) {
  const told: [string, unknown][] = []
  const traced = (points: readonly number[]): Traced => ({
    id: 'p',
    kind: rod,
    settings: { widthHeel: 8, widthTip: 8 },
    points,
  })
  const tracer = new Tracer({
    chosen: () => (shape ? traced(shape) : null),
    others: () => [{ ...traced([500, 500, 600, 500]), id: 'other' }],
    places: () => places,
    choose: (id) => told.push(['choose', id]),
    choosePoint: (index) => told.push(['point', index]),
    place: (points) => told.push(['place', points]),
    drag: (points) => told.push(['drag', points]),
    drop: (points) => told.push(['drop', points]),
  })
  const press = (...places: [number, number][]) => {
    const [first, ...rest] = places
    tracer.down(...first!, 1)
    rest.forEach((place) => tracer.move(...place, 1))
    tracer.up(...places.at(-1)!)
  }
  return { tracer, told, press }
}

describe('the hand on the picture', () => {
  it('places a rod with two clicks, even outside the picture', () => {
    const { told, press } = bench(null)
    press([100, 200])
    press([-40, 900])
    expect(told).toEqual([['place', [100, 200, -40, 900]]])
  })
  it('goes on placing where the ghost lies under the pointer', () => {
    const { told, press } = bench([100, 100, 200, 100])
    press([103, 101])
    press([204, 98])
    expect(told).toEqual([['place', [103, 101, 204, 98]]])
  })
  it('drags an end by as much as the hand moves, not to where it grabbed', () => {
    const { told, press } = bench([100, 100, 200, 100])
    press([205, 104], [215, 124])
    expect(told.at(-1)).toEqual(['drop', [100, 100, 210, 120]])
    expect(told.at(-2)).toEqual(['point', 1])
  })
  it('drags the whole rod by its body', () => {
    const { told, press } = bench([100, 100, 200, 100])
    press([150, 102], [155, 112])
    expect(told.at(-1)).toEqual(['drop', [105, 110, 205, 110]])
  })
  it('reaches for handles in pixels of the screen, however large the picture is shown', () => {
    const { tracer } = bench([100, 100, 200, 100])
    expect(tracer.under(92, 100, 1)?.point).toBe(0)
    expect(tracer.under(92, 100, 16)).toBeNull()
    expect(tracer.under(99.5, 100, 16)?.point).toBe(0)
  })
  it('leaves what was begun without writing anything', () => {
    const { tracer, told, press } = bench([100, 100, 200, 100])
    press([300, 300])
    expect(tracer.state.name).toBe('placing')
    expect(tracer.cancel()).toBe(true)
    tracer.down(200, 100, 1)
    tracer.move(240, 140, 1)
    tracer.cancel()
    tracer.up(240, 140)
    expect(told.at(-1)).toEqual(['drop', null])
    expect(told.some(([what]) => what === 'place')).toBe(false)
    expect(tracer.cancel()).toBe(false)
  })
  it('chooses points and other parts when nothing is to be placed', () => {
    const { told, press } = bench([100, 100, 200, 100], null)
    press([200, 101])
    press([550, 502])
    press([150, 100])
    expect(told).toEqual([
      ['point', 1],
      ['choose', 'other'],
      ['point', null],
    ])
  })
  it('feels closed shapes inside and along their edge', () => {
    const round: Traced = { id: 'o', kind: oval, settings: {}, points: oval.fromClicks([100, 100, 130, 120]) }
    expect(onShape(round, 100, 100, 5)).toBe(true)
    expect(onShape(round, 133, 100, 5)).toBe(true)
    expect(onShape(round, 140, 100, 5)).toBe(false)
    const free: Traced = { id: 'f', kind: outline, settings: {}, points: smoothNodes([0, 0, 50, 0, 50, 50, 0, 50]) }
    expect(onShape(free, 25, 25, 1)).toBe(true)
  })
})
