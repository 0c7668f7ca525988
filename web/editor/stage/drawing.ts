import { computed, inject } from 'vue'
import { moved } from '#core/geometry/similarity.ts'
import { contoursOf } from '#core/pixels/filters/contour.ts'
import type { Part } from '#core/records/types.ts'
import { useProject } from '../../project/project.ts'
import { castColour } from '../castColours.ts'
import { kindOf, useTracing } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import { stageKey } from './view.ts'

/** Of cubic spans, a point and then three for every span, as SVG. */
export function pathData(p: readonly number[]): string {
  let d = `M${p[0]!.toFixed(2)} ${p[1]!.toFixed(2)}`
  for (let i = 2; i < p.length; i += 2) d += `${i % 6 === 2 ? 'C' : ' '}${p[i]!.toFixed(2)} ${p[i + 1]!.toFixed(2)}`
  return `${d}Z`
}
/** Of closed polygons as flat lists, as SVG. */
export const ringsData = (rings: readonly (readonly number[])[]): string =>
  rings
    .map((p) => {
      let d = ''
      for (let i = 0; i < p.length; i += 2) d += `${i ? 'L' : 'M'}${p[i]!.toFixed(1)} ${p[i + 1]!.toFixed(1)}`
      return `${d}Z`
    })
    .join('')

/** Traced shapes as SVG on the stage, for whatever draws a piece of them. Points come in plate pixels. */
export function useStageDrawing() {
  const project = useProject()
  const viewing = useViewing()
  const tracing = useTracing()
  const { toStage } = inject(stageKey)!

  const place = (x: number, y: number) => {
    const [sx, sy] = moved(toStage.value, [x, y])
    return { x: sx!, y: sy! }
  }
  const places = (list: readonly number[]) =>
    Array.from({ length: list.length / 2 }, (_, i) => place(list[2 * i]!, list[2 * i + 1]!))
  const polyline = (list: readonly number[]) =>
    moved(toStage.value, list)
      .map((v) => v.toFixed(1))
      .join(' ')
  const svgPath = (path: readonly number[]) => pathData(moved(toStage.value, path))
  const pathOf = (part: Part, shape: readonly number[]) =>
    svgPath(kindOf(part).drawn?.(shape) ?? kindOf(part).path(shape, part.settings))
  /** Edges of a matte made of pixels, holes and all; null where there is none on the frame that is seen. */
  function edgesOf(part: Part): string | null {
    const raster = tracing.matte(part, viewing.seen)
    if (!raster) return null
    return ringsData(contoursOf(raster).map((line) => moved(toStage.value, line)))
  }
  const colourOf = (part: Part) => castColour(project.get('member', part.member)?.colour ?? 0)
  /** Stage pixels to a plate pixel. */
  const scale = computed(() => Math.hypot(toStage.value.ar, toStage.value.ai))
  /** Where the picture itself shows what is traced, lines are thin. */
  const faint = computed(() => ['result', 'matte', 'cutout', 'clean'].includes(viewing.mode))
  const tint = computed(() => (viewing.mode === 'overlay' ? viewing.overlay : 0))

  return { place, places, polyline, svgPath, pathOf, edgesOf, colourOf, scale, faint, tint }
}
