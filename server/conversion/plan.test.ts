import { describe, expect, it } from 'vitest'
import { planOf, questionsOf, roomFor, widthsOf } from './plan.ts'
import type { Source } from './source.ts'

const source: Source = {
  ...{ stream: 0, codec: 'exr', called: 'OpenEXR', width: 1920, height: 1080, aspect: 1, alpha: false, bits: 32 },
  ...{ seconds: 0, meant: 0, rate: 25, clock: 25, interlaced: 'no', matrix: 'bt709', range: 'full', transfer: 'sdr' },
  ...{ wide: false, audio: '', still: true, pictures: 0, streams: [{ stream: 0, label: '1920 × 1080' }] },
}
const ours = { packaged: false }
const said = (one: Partial<Source>, choices: Parameters<typeof planOf>[2] = null) => {
  const plan = planOf({ ...source, ...one }, ours, choices)
  return { ...plan, args: plan.args.join(' '), reading: plan.reading.join(' ') }
}

describe('a still', () => {
  it('of light stays light: nothing on the way knows white', () => {
    const plan = said({ alpha: true, width: 1919 })
    expect(plan).toMatchObject({ ending: 'exr', picture: 'exr', reading: '', table: null })
    expect(plan.args).toContain('-c:v exr -compression zip16 -format half')
    expect(plan.args).not.toMatch(/pix_fmt|-vf|scale/)
  })
  it('of light that is too large is scaled as codes of 16 bits', () => {
    const large = { width: 8192, height: 4096 }
    const { best } = questionsOf({ ...source, ...large })!
    expect(best.width).toBe(4096)
    const plan = said(large, best)
    expect(plan).toMatchObject({ ending: 'png', picture: 'png', reading: '-apply_trc iec61966_2_1' })
    expect(plan.args).toMatch(/scale=4096:2048.*-pix_fmt rgb48be -c:v png/)
  })
  it.each([
    ['tiff', 16, false, 'rgb48be'],
    ['avif', 10, true, 'rgba64be'],
    ['bmp', 8, false, 'rgb24'],
    ['webp', 8, true, 'rgba'],
  ])('as %s of %i bits keeps what it has', (codec, bits, alpha, form) => {
    expect(said({ codec, bits, alpha })).toMatchObject({ ending: 'png', reading: '' })
    expect(said({ codec, bits, alpha }).args).toContain(`-frames:v 1 -update 1 -pix_fmt ${form} -c:v png`)
  })
  it('and many of them, numbered, are read in their rate and packed as they come', () => {
    const plan = said({ pictures: 40, rate: 24 })
    expect(plan).toMatchObject({ ending: 'zip', picture: 'exr', reading: '-f image2 -framerate 24' })
    expect(plan.args).toContain('-fps_mode passthrough -start_number 1')
    expect(roomFor({ ...source, pictures: 40 }, null)).toBe(40 * roomFor(source, null))
  })
})

describe('the widths that are offered', () => {
  it('are its own, or the largest that can be worked with and usual smaller ones', () => {
    expect(widthsOf(source)).toEqual([1920, 1280])
    expect(widthsOf({ ...source, width: 5120, height: 2880 })).toEqual([4096, 3840, 2560, 1920, 1280])
    // A camcorder's 720 x 576 with pixels of 64 by 45 is 1024 wide (ITU-R BT.601, as commonly shown).
    expect(widthsOf({ ...source, width: 720, height: 576, aspect: 64 / 45 })).toEqual([1024])
  })
})
