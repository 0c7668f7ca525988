import bezier from 'bezier-easing'
import { describe, expect, it } from 'vitest'
import { linearColour, to8Bit } from '../pixels/colour/transfer.ts'
import { colourCurveAt, type Curve, curveAt, retimeCurve } from './curves.ts'
import { type Drive, driven } from './drives.ts'
import type { Parameter } from './parameters.ts'
import { settingsSchema } from './schemas.ts'
import { numberAt, settingsAt } from './values.ts'

const curve: Curve = {
  keys: [
    { frame: 4, value: 0, ease: 'straight' },
    { frame: 8, value: 10, ease: 'shaped', bend: [0.3, 0, 0.35, 1.5] },
    { frame: 20, value: 30, ease: 'held' },
    { frame: 21, value: 5, ease: 'straight' },
  ],
}
const amount: Parameter & { type: 'number' } = {
  ...{ type: 'number', name: 'amount', label: 'Amount', hint: '', unit: 'px', min: 0, max: 50, step: 1, default: 7 },
  keyed: true,
}
const tint: Parameter = { type: 'colour', name: 'tint', label: 'Tint', hint: '', default: '#ffffff', keyed: true }
const drive: Drive = {
  ...{ signal: 'speed', of: 'pole', with: '', from: [2, 40], to: [0, 20], bend: [0, 0, 1, 1], smooth: 0, lag: 0 },
}

describe('curves', () => {
  it('a shaped span runs as bezier-easing says, beyond its end where it overshoots', () => {
    const ease = bezier(0.3, 0, 0.35, 1.5)
    for (const frame of [9, 11, 14, 17, 19])
      expect(curveAt(curve, frame)).toBeCloseTo(10 + 20 * ease((frame - 8) / 12), 4)
    expect(Math.max(...Array.from({ length: 12 }, (_, i) => curveAt(curve, 8 + i)))).toBeGreaterThan(30)
    // What a parameter takes it as stays within its range.
    const wild: Curve = {
      keys: [
        { frame: 0, value: 40, ease: 'shaped', bend: [0.3, 0, 0.3, 3] },
        { frame: 10, value: 50, ease: 'straight' },
      ],
    }
    expect(numberAt({ amount: wild }, amount, 8)).toBe(50)
  })
  it('turned around twice it is the same again, and its values run backwards', () => {
    const back = retimeCurve(curve, 'reverse', 0)
    for (let f = 8; f < 20; f++) expect(curveAt(back, 25 - f)).toBeCloseTo(curveAt(curve, f), 4)
    const again = retimeCurve(back, 'reverse', 0)
    for (let f = 4; f <= 20; f++) expect(curveAt(again, f)).toBeCloseTo(curveAt(curve, f), 6)
  })
  it('stretched, squeezed and begun elsewhere it keeps its values and one key a frame', () => {
    expect(retimeCurve(curve, 'twice', 0).keys.map((key) => key.frame)).toEqual([4, 12, 36, 38])
    expect(retimeCurve(curve, 'here', 50).keys.map((key) => key.frame)).toEqual([50, 54, 66, 67])
    const half = retimeCurve(
      { keys: [0, 1, 2, 3].map((frame) => ({ frame, value: frame, ease: 'straight' as const })) },
      'half',
      0,
    )
    expect(new Set(half.keys.map((key) => key.frame)).size).toBe(half.keys.length)
  })
  it('colours are mixed in linear light', () => {
    const colours = {
      colours: [
        { frame: 0, colour: '#000000', ease: 'straight' as const },
        { frame: 10, colour: '#ffffff', ease: 'straight' as const },
      ],
    }
    const level = to8Bit(0.5)
    expect(linearColour(colourCurveAt(colours, 5))[0]).toBeCloseTo(0.5, 2)
    expect(colourCurveAt(colours, 5)).toBe(`#${level.toString(16).repeat(3)}`)
    expect(colourCurveAt(colours, -3)).toBe('#000000')
    expect(colourCurveAt(colours, 30)).toBe('#ffffff')
  })
})

describe('drives', () => {
  it('map the signal to the number and stay at its ends beyond', () => {
    const mapped = [-5, 2, 21, 40, 400].map((input) => driven(drive, input))
    mapped.forEach((value, i) => expect(value).toBeCloseTo([0, 0, 10, 20, 20][i]!, 8))
    expect(driven({ ...drive, to: [20, 0] }, 21)).toBeCloseTo(10, 8)
    expect(driven({ ...drive, from: [5, 5] }, 5)).toBe(20)
  })
  it('leave the default where there is nothing to read', () => {
    expect(numberAt({ amount: drive }, amount, 3, () => null)).toBe(7)
    expect(numberAt({ amount: drive }, amount, 3, () => 40)).toBe(20)
  })
  it('settings at a frame stand still', () => {
    const colours = [{ frame: 0, colour: '#ff0000', ease: 'held' as const }]
    const at = settingsAt([amount, tint], { amount: curve, tint: { colours } }, 6)
    expect(at).toEqual({ amount: 5, tint: '#ff0000' })
  })
  it.each([
    [{ amount: { ...drive, signal: 'mood' } }, 'does not exist'],
    [{ amount: { ...drive, from: [1] } }, 'needs two numbers'],
    [{ amount: { keys: [{ frame: 1, value: 1, ease: 'shaped', bend: [2, 0, 0, 0] }] } }, 'within its span'],
    [{ amount: 'much' }, 'must be a number'],
    [{ amount: { keys: [] } }, 'at least one key'],
    [{ tint: { colours: [{ frame: 1, colour: 'red', ease: 'held' }] } }, '#rrggbb'],
  ])('what can not be is refused with a sentence: %j', (settings, sentence) => {
    expect(() => settingsSchema([amount, tint]).validateSync(settings, { strict: true })).toThrow(sentence)
  })
})
