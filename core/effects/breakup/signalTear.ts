import { Slot } from '../../pixels/buffers/scratch.ts'
import { hashed } from '../../pixels/filters/noise.ts'
import { withinBorder } from '../../pixels/buffers/border.ts'
import { number, plain, seedNumber } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'

const slots = { torn: new Slot() }

const p = {
  slices: number('slices', 'Torn slices', '%', [0, 1, 0.01], 0.35, 'Share of the slices that are torn aside.'),
  height: number('height', 'Slice', 'px', [2, 300, 2], 24, 'Height of a slice.'),
  shift: number('shift', 'Shift', 'px', [0, 1000, 2], 60, 'How far a slice is torn aside.'),
  blocks: number('blocks', 'Lost blocks', '%', [0, 1, 0.01], 0.06, 'Share of the blocks that show another place.'),
  colours: number('colours', 'Colour shift', 'px', [0, 200, 1], 8, 'How far the colours of torn slices come apart.'),
  hold: number('hold', 'Holds', 'frames', [1, 24, 1], 2, 'Frames until it tears anew.'),
  seed: seedNumber,
}

export const signalTear: EffectKind = {
  kind: 'signalTear',
  title: 'Signal tear',
  summary: 'A failing signal: torn slices, lost blocks and shifted colours.',
  group: 'Breakup',
  ...onPicture,
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Tear' },
    { setting: 'slices' },
    { text: 'of the signal' },
    { field: 'region' },
    { text: 'by' },
    { setting: 'shift' },
    { field: 'range' },
  ],
  looks: () => Infinity,
  render({ settings, scale, scratch, frame }, { data, region }) {
    const source = scratch.floats(slots.torn, data.length)
    source.set(data)
    const { width, height } = region
    const time = Math.floor(frame / plain(settings, p.hold))
    const seed = plain(settings, p.seed) + 977 * time
    const slice = plain(settings, p.height) * scale
    const shift = plain(settings, p.shift) * scale
    const share = plain(settings, p.slices)
    const apart = plain(settings, p.colours) * scale
    const blocks = plain(settings, p.blocks)
    for (let y = 0; y < height; y++) {
      const k = Math.floor((region.y + y + 0.5) / slice)
      const torn = hashed(k, seed) < share
      const by = torn ? shift * (2 * hashed(k, seed, 1) - 1) : 0
      const split = torn ? apart * hashed(k, seed, 2) : 0
      for (let x = 0; x < width; x++) {
        const at = 4 * (y * width + x)
        // A lost block is six slices wide and shows what lies elsewhere in the picture.
        const column = Math.floor((region.x + x + 0.5) / (slice * 6))
        const lost = blocks > 0 && hashed(column, k, seed + 5) < blocks
        const [ox, oy] = lost
          ? [shift * 4 * (2 * hashed(column, k, seed + 6) - 1), slice * 6 * (2 * hashed(column, k, seed + 7) - 1)]
          : [by, 0]
        if (!torn && !lost) continue
        const row = withinBorder(Math.round(y + oy), height, 'mirrored') * width
        for (let c = 0; c < 3; c++) {
          const from = withinBorder(Math.round(x - ox + (1 - c) * split), width, 'mirrored')
          data[at + c] = source[4 * (row + from) + c]!
        }
      }
    }
  },
}
