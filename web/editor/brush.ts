import { useLocalStorage } from '@vueuse/core'
import { limits } from '#core/records/limits.ts'

/** What the next stroke says, and its width in plate pixels; kept in this browser. */
export const brush = useLocalStorage('wisp-brush', { wanted: true, size: 16 })

/** Times the brush that a pen's stroke is wide, by how hard it is pressed, 0 to 1: as it is at half, never thinner than a quarter. */
export const pressedSize = (pressure: number): number => Math.max(0.25, Math.min(2, 2 * pressure))

export function sizeBrush(times: number): void {
  const size = Math.round(brush.value.size * times)
  // A small brush grows by a pixel at least.
  const next = size === brush.value.size ? size + Math.sign(times - 1) : size
  brush.value.size = Math.max(1, Math.min(limits.brush, next))
}
