import { onPlate, type SvgElement, type SvgMatrix, svgShapes, timesMatrix } from '#core/incoming/svg.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'

/** Bytes that a drawing may take. */
const mostBytes = 8 * 1024 ** 2
/** What is drawn elsewhere, or not at all, by its own. */
const apart = 'defs, symbol, clipPath, mask, pattern, marker'

/**
 * The elements of an SVG file that have a shape, laid on a plate of so many pixels. Nothing in it runs and nothing is fetched.
 * Throws a Refusal where the file can not be read.
 */
export async function drawingOf(file: File, plate: { width: number; height: number }): Promise<SvgElement[]> {
  if (file.size > mostBytes)
    throw new Refusal(
      say`The drawing is larger than 8 MB. Take out pictures and what is not needed, and save it again.`,
    )
  const parsed = new DOMParser().parseFromString(await file.text(), 'image/svg+xml')
  const root = parsed.documentElement
  if (!(root instanceof SVGSVGElement) || parsed.querySelector('parsererror'))
    throw new Refusal(say`${file.name} is no SVG drawing, or it is damaged. Save it anew in the program that drew it.`)
  const box = root.viewBox.baseVal
  const own = box && box.width > 0 ? box : sizeOf(root)
  const laid = onPlate(own, plate)
  return [...root.querySelectorAll<SVGGraphicsElement>(svgShapes.join(','))]
    .filter((element) => !element.closest(apart))
    .map((element) => ({
      name: element.tagName,
      called: (element.getAttribute('id') ?? '').slice(0, 70),
      attributes: Object.fromEntries([...element.attributes].map(({ name, value }) => [name, value])),
      matrix: timesMatrix(laid, matrixOf(element, root)),
    }))
}

/** What all transforms from the drawing down to an element come to. */
function matrixOf(element: SVGGraphicsElement, root: SVGSVGElement): SvgMatrix {
  let out: SvgMatrix = [1, 0, 0, 1, 0, 0]
  for (let at: Element | null = element; at && at !== root; at = at.parentElement) {
    if (!(at instanceof SVGGraphicsElement)) continue
    const own = at.transform.baseVal.consolidate()?.matrix
    if (own) out = timesMatrix([own.a, own.b, own.c, own.d, own.e, own.f], out)
  }
  return out
}

/** A size in pixels that the drawing gives itself; null where it gives none. */
function sizeOf(root: SVGSVGElement) {
  const side = (name: string) => Number.parseFloat(root.getAttribute(name) ?? '')
  const [width, height] = [side('width'), side('height')]
  return width > 0 && height > 0 ? { x: 0, y: 0, width, height } : null
}
