import type { Records } from '../records/records.ts'
import { shotLength } from '../records/types.ts'
import type { Scene } from '../render/scene.ts'
import type { Way } from './forms.ts'
import { lottieFile } from './lottieFile.ts'
import { writeShapes } from './shapesFile.ts'
import { animatedSvg, type SvgOrder } from './svgFile.ts'
import { tracksCsv, tracksJson } from './tracksFile.ts'

/** Forms of traced shapes that are one text. */
export type TextForm = Exclude<Extract<Way, { way: 'shapes' }>['writes'], 'svgs'>

/** What was traced in a shot as the text of a file. `told` hears now and then how much of it is done, 0 to 1. */
export function shapesText(
  records: Records,
  scene: Scene,
  writes: TextForm,
  order: SvgOrder,
  told: (share: number) => void = () => {},
): string {
  const parts = order.members.reduce((sum, { id }) => sum + scene.partsOf(id).length, 0)
  const all = (order.to - order.from + 1) * Math.max(1, parts)
  let done = 0
  const asked = { ...order, step: () => ++done % 16 === 0 && told(Math.min(1, done / all)) }
  switch (writes) {
    case 'svg':
      return animatedSvg(scene, asked)
    case 'lottie':
      return lottieFile(scene, asked)
    case 'csv':
      return tracksCsv(records, scene, asked)
    case 'tracks':
      return tracksJson(records, scene, asked)
    case 'shapes': {
      const { width, height, rate } = order
      const whole = order.members.map(({ id }) => records.get('member', id)!)
      return writeShapes(records, whole, { width, height, rate, frames: shotLength(scene.shot) })
    }
  }
}
