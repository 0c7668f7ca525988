import { intersect, isEmpty, noRect, unite } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { type PictureNeed, rendererOf, type SettingsOfKind } from '../../effect.ts'
import { wholePicture } from '../../shared/place.ts'
import { mix } from '../../shared/tools.ts'
import { echo } from './echo.ts'

const slots = { echoPresent: new Slot(), echoCover: new Slot() }

const pictures = (settings: SettingsOfKind<typeof echo>, frame: number): PictureNeed[] =>
  Array.from({ length: Math.round(settings.count) }, (_, i) => ({
    ...{ media: '', frame: frame - (i + 1) * Math.round(settings.gap) },
  })).filter((need) => need.frame >= 0)

export const renderEcho = rendererOf(echo, {
  bounds(context) {
    const times = [...pictures(context.settings, context.frame).map((need) => need.frame), context.frame]
    const all = times.reduce((box, time) => unite(box, context.regionBounds(time)), noRect)
    return intersect(all, wholePicture(context))
  },
  sampleRadius: () => 0,
  needs: pictures,
  draw(context, { data, region }) {
    const { settings, frame, scratch } = context
    const present = scratch.floats(slots.echoPresent, data.length)
    const needs = pictures(settings, frame)
    const tint = context.colour(settings.tint)
    const behind = settings.order === 'behind'
    if (behind) present.set(data)
    // The farthest first: nearer ones cover it.
    for (const [i, need] of [...needs.entries()].reverse()) {
      const past = context.picture(need)
      if (!past) continue
      const far = needs.length > 1 ? i / (needs.length - 1) : 0
      const share = settings.strength * (1 - settings.fade * far)
      const tinted = settings.tinted * far
      const there = intersect(region, context.regionBounds(need.frame))
      if (isEmpty(there)) continue
      const cover = context.region(there, slots.echoCover, need.frame)
      for (let y = there.y, at = 0; y < there.y + there.height; y++) {
        let to = 4 * ((y - region.y) * region.width + there.x - region.x)
        let from = 4 * (y * past.width + there.x)
        for (let x = 0; x < there.width; x++, at++, to += 4, from += 4) {
          const own = cover[at]! * share
          if (own === 0) continue
          for (let c = 0; c < 3; c++) {
            const v = past.data[from + c]!
            data[to + c] = mix(data[to + c]!, mix(v, v * tint[c]! * 1.5, tinted), own)
          }
        }
      }
    }
    if (!behind) return
    const cover = context.region(region, slots.echoCover, frame)
    for (let i = 0; i < cover.length; i++)
      if (cover[i]) for (let c = 0; c < 4; c++) data[4 * i + c] = mix(data[4 * i + c]!, present[4 * i + c]!, cover[i]!)
  },
})
