import { rendererOf } from '../../effect.ts'
import { clip, ramp } from '../../shared/tools.ts'
import { frame } from './frame.ts'

export const renderFrameOf = rendererOf(frame, {
  draw(context, { data, region }) {
    const { settings, size } = context
    const { width, height } = size
    const { shape, corners, begins } = settings
    const tint = context.colour(settings.colour)
    const [halfWidth, halfHeight] = [Math.min(width, height * shape) / 2, Math.min(height, width / shape) / 2]
    /** Share of a pixel that lies between the bars, by its middle's distance from the picture's. */
    const seen = (from: number, half: number) => clip(half - Math.abs(from) + 0.5)
    const reach = Math.hypot(halfWidth, halfHeight)
    const most = Math.max(begins + 1e-3, 1)
    for (let y = 0, i = 0; y < region.height; y++) {
      const dy = region.y + y + 0.5 - height / 2
      const row = seen(dy, halfHeight)
      for (let x = 0; x < region.width; x++, i += 4) {
        const dx = region.x + x + 0.5 - width / 2
        const between = row * seen(dx, halfWidth)
        const dark = corners ? corners * ramp(begins, most, Math.sqrt(dx * dx + dy * dy) / reach) : 0
        const kept = between * (1 - dark)
        for (let c = 0; c < 3; c++) data[i + c] = tint[c]! * (1 - kept) + data[i + c]! * kept
        data[i + 3] = 1 - kept + data[i + 3]! * kept
      }
    }
  },
})
