import { describe, expect, it } from 'vitest'
import { frameAround } from '#core/geometry/selectionFrame.ts'
import type { PartKind } from '#core/shapes/kind.ts'
import { cornerNodes, outline, smoothNodes } from '#core/shapes/kinds/outline.ts'
import { oval } from '#core/shapes/kinds/oval.ts'
import { rod } from '#core/shapes/kinds/rod.ts'
import { type Hand, onShape, type Traced, Tracer } from './tracer.ts'

/** An editor of one part that writes down what it is told. */
function tracing(shape: number[] | null, places: PartKind | null = rod, kind: PartKind = rod) {
  const told: [string, unknown][] = []
  const state = { selection: [] as readonly number[], framing: false, edge: null as { x: number; y: number } | null }
  const traced = (points: readonly number[], of = kind): Traced => ({
    ...{ id: 'p', kind: of, settings: { widthHeel: 8, widthTip: 8 }, points, locked: false },
  })
  const tracer = new Tracer({
    chosen: () => (shape ? traced(shape) : null),
    others: () => [{ ...traced([500, 500, 600, 500], rod), id: 'other' }],
    places: () => places,
    selection: () => state.selection,
    frame: () => (state.framing ? { frame: frameAround(shape!, null)!, sides: 'stretch' } : null),
    choose: (id) => told.push(['choose', id]),
    select: (points) => {
      state.selection = points
      told.push(['select', [...points]])
    },
    setPivot: (x, y) => told.push(['pivot', [x, y]]),
    place: (_, points) => told.push(['place', points]),
    reshape: (points) => told.push(['reshape', points]),
    insert: (segment, t) => told.push(['insert', [segment, +t.toFixed(2)]]),
    snapped: (x, y) => state.edge ?? { x, y },
    say: (sentence) => told.push(['say', sentence]),
  })
  const hand = ([x, y]: readonly [number, number], more: Partial<Hand> = {}): Hand => ({ x, y, k: 1, ...more })
  const press = (...places: (readonly [number, number])[]) => pressWith({}, ...places)
  const pressWith = (more: Partial<Hand>, ...places: (readonly [number, number])[]) => {
    const [first, ...rest] = places
    tracer.down(hand(first!, more))
    rest.forEach((place) => tracer.move(hand(place, more)))
    tracer.up(hand(places.at(-1)!, more))
  }
  return { tracer, told, press, pressWith, state, last: () => told.at(-1)! }
}
const square = cornerNodes([0, 0, 100, 0, 100, 100, 0, 100])
const places = (points: unknown) => (points as number[]).filter((_, i) => i % 8 < 2)

describe('the hand on the picture', () => {
  it('places a rod with two clicks, even outside the picture', () => {
    const { told, press } = tracing(null)
    press([100, 200])
    press([-40, 900])
    expect(told).toEqual([['place', [100, 200, -40, 900]]])
  })
  it('goes on placing where the ghost lies under the pointer', () => {
    const { told, press } = tracing([100, 100, 200, 100])
    press([103, 101])
    press([204, 98])
    expect(told).toEqual([['place', [103, 101, 204, 98]]])
  })
  it('drags an end by as much as the hand moves, not to where it grabbed', () => {
    const { told, press, last } = tracing([100, 100, 200, 100])
    press([205, 104], [215, 124])
    expect(last()).toEqual(['reshape', [100, 100, 210, 120]])
    expect(told[0]).toEqual(['select', [1]])
  })
  it('drags the whole rod by its body', () => {
    const { press, last } = tracing([100, 100, 200, 100])
    press([150, 102], [155, 112])
    expect(last()).toEqual(['reshape', [105, 110, 205, 110]])
  })
  it('takes a point to an edge of the picture while points go to edges', () => {
    const { press, last, state } = tracing([100, 100, 200, 100])
    state.edge = { x: 222.5, y: 131 }
    press([205, 104], [215, 124])
    expect(last()).toEqual(['reshape', [100, 100, 222.5, 131]])
  })
  it('reaches for handles in pixels of the screen, however large the picture is shown', () => {
    const { tracer } = tracing([100, 100, 200, 100])
    expect(tracer.under({ x: 92, y: 100, k: 1 })?.grip).toEqual({ point: 0 })
    expect(tracer.under({ x: 92, y: 100, k: 16 })).toBeNull()
    expect(tracer.under({ x: 99.5, y: 100, k: 16 })?.grip).toEqual({ point: 0 })
  })
  it('leaves what was begun without writing anything', () => {
    const { tracer, told, press } = tracing([100, 100, 200, 100])
    press([300, 300])
    expect(tracer.state.name).toBe('placing')
    expect(tracer.cancel()).toBe(true)
    tracer.down({ x: 200, y: 100, k: 1 })
    tracer.move({ x: 240, y: 140, k: 1 })
    expect(tracer.dragged).toEqual([100, 100, 240, 140])
    tracer.cancel()
    expect(tracer.dragged).toBeNull()
    tracer.up({ x: 240, y: 140, k: 1 })
    expect(told.filter(([what]) => what === 'place' || what === 'reshape')).toEqual([])
    expect(tracer.cancel()).toBe(false)
  })
  it('chooses points and other parts when nothing is to be placed', () => {
    const { told, press } = tracing([100, 100, 200, 100], null)
    press([200, 101])
    press([550, 502])
    press([150, 100])
    expect(told).toEqual([
      ['select', [1]],
      ['choose', 'other'],
      ['select', []],
    ])
  })
  it('feels closed shapes inside and along their edge', () => {
    const shape = (kind: PartKind, points: number[]): Traced => ({ id: 'o', kind, settings: {}, points, locked: false })
    const round = shape(oval, oval.fromClicks([100, 100, 130, 120]))
    expect(onShape(round, 100, 100, 5)).toBe(true)
    expect(onShape(round, 133, 100, 5)).toBe(true)
    expect(onShape(round, 140, 100, 5)).toBe(false)
    expect(onShape(shape(outline, smoothNodes([0, 0, 50, 0, 50, 50, 0, 50])), 25, 25, 1)).toBe(true)
  })
})

describe('drawing an outline', () => {
  it('takes clicks as corners and press and drag as smooth points; the first point closes it', () => {
    const { press, last, told } = tracing(null, outline)
    press([10, 10])
    press([110, 10])
    press([110, 110], [120, 140])
    press([12, 13])
    expect(told).toHaveLength(1)
    const points = last()[1] as number[]
    expect(places(points)).toEqual([10, 10, 110, 10, 110, 110])
    // The handle drawn out lies after the point, the other one opposite.
    expect(points.slice(16, 22)).toEqual([110, 110, 100, 80, 120, 140])
    expect([0, 4, 8].map((i) => outline.handleForm(points, i))).toEqual(['corner', 'corner', 'smooth'])
  })
  it('does not close with two points and says why', () => {
    const { press, tracer, last, told } = tracing(null, outline)
    press([10, 10])
    press([110, 10])
    press([11, 11])
    expect(last()).toEqual(['say', expect.stringMatching(/at least 3 points to close; this one has two/)])
    expect(tracer.state.name).toBe('outlining')
    press([60, 90])
    expect(tracer.finish()).toBe(true)
    expect(told.at(-1)![0]).toBe('place')
  })
  it('takes points back one by one', () => {
    const { press, tracer } = tracing(null, outline)
    press([10, 10])
    press([110, 10])
    expect(tracer.takeBack()).toBe(true)
    expect(tracer.takeBack()).toBe(true)
    expect(tracer.state.name).toBe('idle')
    expect(tracer.takeBack()).toBe(false)
  })
  it('begins with a click on a point of the chosen outline too: limbs meet there', () => {
    const { press, told, tracer } = tracing(square, outline, outline)
    press([100, 0])
    press([160, 10])
    expect(tracer.state).toMatchObject({ name: 'outlining' })
    expect(told).toEqual([])
  })
  it('moves a point of the one drawn before where it is dragged, with the tool still in hand', () => {
    const { press, last, tracer } = tracing(square, outline, outline)
    press([100, 0], [112, 9])
    expect(last()[0]).toBe('reshape')
    expect((last()[1] as number[]).slice(8, 10)).toEqual([112, 9])
    expect(tracer.state.name).toBe('idle')
    // Its body and its edge are no grips: the next outline may begin there.
    press([50, 50])
    expect(tracer.state.name).toBe('outlining')
  })
  it('fits few smooth points to a quick stroke around something', () => {
    const { press, last } = tracing(null, outline)
    const round = Array.from({ length: 80 }, (_, i) => {
      const a = (i / 80) * 2 * Math.PI
      return [200 + 90 * Math.cos(a), 200 + 60 * Math.sin(a)] as const
    })
    press(...round)
    expect(last()[0]).toBe('place')
    const count = (last()[1] as number[]).length / 8
    expect(count).toBeGreaterThanOrEqual(3)
    expect(count).toBeLessThanOrEqual(8)
  })
})

describe('choosing and moving points', () => {
  it('adds with Shift, sweeps a box, and a loop with Ctrl', () => {
    const { press, pressWith, state } = tracing(square, null, outline)
    press([100, 0])
    pressWith({ shift: true }, [100, 100])
    expect(state.selection).toEqual([4, 8])
    pressWith({ shift: true }, [100, 0])
    expect(state.selection).toEqual([8])
    press([-30, -30], [20, 120])
    expect(state.selection).toEqual([0, 12])
    pressWith({ ctrl: true }, [-40, -40], [140, -40], [140, 20], [-40, 20])
    expect(state.selection).toEqual([0, 4])
  })
  it('with Ctrl draws out where the edge of a point has faded away', () => {
    const { pressWith, last, state } = tracing(square, null, outline)
    pressWith({ ctrl: true }, [100, 0], [118, -9])
    const points = last()[1] as number[]
    expect(places(points)).toEqual(places(square))
    expect(points.slice(14, 16)).toEqual([118, -9])
    expect(state.selection).toEqual([4])
  })
  it('moves all chosen points with the one that is dragged', () => {
    const { press, state, last } = tracing(square, null, outline)
    state.selection = [0, 4]
    press([100, 0], [110, -7])
    expect(places(last()[1])).toEqual([10, -7, 110, -7, 100, 100, 0, 100])
  })
  it('turns and grows what the frame holds about its pivot', () => {
    const { press, state, last } = tracing(square, null, outline)
    state.framing = true
    press([100, 100], [150, 100])
    const [x0, , x1] = places(last()[1])
    expect([x0, x1]).toEqual([-50, 150])
    press([50, 50], [0, 0])
    expect(last()).toEqual(['pivot', [0, 0]])
  })
  it('makes a point where the edge of an outline is pressed twice', () => {
    const { tracer, last } = tracing(square, null, outline)
    tracer.double({ x: 40, y: 2, k: 1 })
    expect(last()[0]).toBe('insert')
    expect((last()[1] as number[])[0]).toBe(0)
  })
})
