import { contoursOf } from '../pixels/filters/contour.ts'
import type { Scene } from '../render/scene.ts'
import { partKind } from '../shapes/registry.ts'
import type { TracedPart } from '../shapes/traced.ts'

/*
 * Traced shapes as SVG (W3C, SVG 1.1): white where somebody is, a group for every member, a path for every part, in pixels of the
 * plate. What cuts from a member is a mask. Feathers and strokes of light are no part of it: edges are sharp.
 */

/** Whose shapes are written, on which frames (both included), on a plate of which size; `rate`: frames a second. */
export interface SvgOrder {
  members: readonly { id: string; name: string }[]
  from: number
  to: number
  width: number
  height: number
  rate: number
  /** Called after every frame of every part. */
  step?: () => void
}

/** The shapes on one frame as a drawing. */
export const svgOfFrame = (scene: Scene, order: SvgOrder, frame: number): string =>
  drawing(
    order,
    groups(scene, order, (part) => ` d="${pathAt(part, frame)}"/>`),
  )

/** The shapes on all frames as an animation that repeats (SMIL of SVG 1.1: `d` set anew with every frame). */
export function animatedSvg(scene: Scene, order: SvgOrder): string {
  const { from, to, rate, step } = order
  const seconds = Number(((to - from + 1) / rate).toFixed(6))
  return drawing(
    order,
    groups(scene, order, (part) => {
      const paths = Array.from({ length: to - from + 1 }, (_, i) => (step?.(), pathAt(part, from + i)))
      // A shape that stands still needs no animation.
      if (paths.every((path) => path === paths[0])) return ` d="${paths[0]}"/>`
      const animation = `<animate attributeName="d" calcMode="discrete" dur="${seconds}s" repeatCount="indefinite" values="${paths.join(';')}"/>`
      return ` d="${paths[0]}">${animation}</path>`
    }),
  )
}

const drawing = ({ width, height }: SvgOrder, content: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">\n${content}</svg>\n`

/** A group for each member; `rest` writes what follows a path's beginning. */
function groups(scene: Scene, { members, width, height }: SvgOrder, rest: (part: TracedPart) => string): string {
  return members
    .map(({ id, name }, m) => {
      let content = ''
      for (const [p, part] of scene.partsOf(id).entries()) {
        if (part.kind === 'pin' || part.kind === 'point') continue
        const path = (fill: string) => `<path id="m${m + 1}p${p + 1}" fill="${fill}" fill-rule="evenodd"${rest(part)}\n`
        if (part.role === 'add') content += path('#fff')
        else {
          // What cuts takes away from all that came before it; what limits leaves of that what lies in it.
          const mask = `mask${m + 1}-${p + 1}`
          const seen =
            part.role === 'cut'
              ? `<rect width="${width}" height="${height}" fill="#fff"/>${path('#000')}`
              : path('#fff')
          content = `<mask id="${mask}" maskUnits="userSpaceOnUse" x="0" y="0" width="${width}" height="${height}">${seen}</mask>\n<g mask="url(#${mask})">\n${content}</g>\n`
        }
      }
      return `<g id="member${m + 1}">\n<title>${escaped(name)}</title>\n${content}</g>\n`
    })
    .join('')
}

/** Path data of a part on a frame; a path without length while it is away. */
function pathAt(part: TracedPart, frame: number): string {
  if (part.raster) {
    const raster = part.raster(frame)
    const lines = raster ? contoursOf(raster).map((line) => `M${pairs(line).join('L')}Z`) : []
    return lines.join('') || nowhere
  }
  const points = part.at(frame)
  const path = points && partKind(part.kind).path(points, part.settings)
  if (!path?.length) return nowhere
  const curves = pairs(path.slice(2))
  return `M${pairs(path.slice(0, 2))[0]}C${curves.join(' ')}Z`
}
const nowhere = 'M0 0Z'

/** Coordinates two by two, to a hundredth of a pixel. */
function pairs(list: readonly number[]): string[] {
  const round = (value: number) => String(Math.round(value * 100) / 100)
  return Array.from({ length: list.length / 2 }, (_, i) => `${round(list[2 * i]!)} ${round(list[2 * i + 1]!)}`)
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
