import { Slot } from '../../../pixels/buffers/scratch.ts'
import { type PictureNeed, rendererOf, type SettingsOfKind } from '../../effect.ts'
import { mix } from '../../shared/tools.ts'
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
    const then = scratch.floats(slots.then, data.length)
    let count = 0
    for (const need of pictures(settings, Math.round(frame))) {
      const picture = context.picture(need)
      if (!picture) continue
      count++
      for (let y = 0; y < height; y++) {
        const from = 4 * ((region.y + y) * picture.width + region.x)
        const to = 4 * y * width
        if (count === 1) {
          then.set(picture.data.subarray(from, from + 4 * width), to)
          continue
        }
        for (let i = 0; i < 4 * width; i++) {
          const [was, now] = [then[to + i]!, picture.data[from + i]!]
          if (settings.together === 'mean') then[to + i] = was + (now - was) / count
          else then[to + i] = settings.together === 'bright' ? Math.max(was, now) : Math.min(was, now)
        }
      }
    }
    if (count) for (let i = 0; i < 4 * width * height; i++) data[i] = mix(data[i]!, then[i]!, settings.strength)
  },
})
