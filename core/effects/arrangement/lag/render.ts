import { Slot } from '../../../pixels/buffers/scratch.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { type PictureNeed, rendererOf, type SettingsOfKind } from '../../effect.ts'
import { lag } from './lag.ts'

const slots = { then: new Slot() }

/** Pictures of then, without whom they surround: whoever goes on in front would be seen in them a second time. */
const pictures = ({ back, count, gap }: SettingsOfKind<typeof lag>, frame: number): PictureNeed[] =>
  Array.from({ length: Math.round(count) }, (_, i) => ({
    ...{ media: '', frame: Math.round(frame - back) - i * Math.round(gap), made: true, without: true },
  }))

export const renderLag = rendererOf(lag, {
  sampleRadius: () => 0,
  needs: (settings, frame) => (settings.strength > 0 ? pictures(settings, frame) : []),
  draw(context, { data, region }) {
    const { settings, frame, scratch } = context
    if (settings.strength <= 0) return
    const { width, height } = region
    // Where nothing of the present is left they are laid together in its place.
    const then = settings.strength < 1 ? scratch.floats(slots.then, data.length) : data
    let count = 0
    for (const need of pictures(settings, Math.round(frame))) {
      const share = 1 / (count + 1)
      const there = context.eachRow(need, region, (row, y) => {
        const to = span(then, 4 * y * width)
        if (count === 0) then.set(row.data.subarray(row.at, row.at + 4 * width), to.at)
        else if (settings.together === 'mean') scratch.kernels.mixInto(row, to, 4 * width, share)
        else if (settings.together === 'bright') scratch.kernels.maxNumbers(row, to, 4 * width)
        else for (let i = 0; i < 4 * width; i++) then[to.at + i] = Math.min(then[to.at + i]!, row.data[row.at + i]!)
      })
      if (there) count++
    }
    if (count && then !== data) scratch.kernels.mixInto(span(then), span(data), 4 * width * height, settings.strength)
  },
})
