import type { Shading } from '../effects/effect.ts'
import { isEmpty, type Rect } from '../geometry/rect.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { drawLayer, type EffectPass, hiddenFrom, holdoutOf, looksAt, maskOf } from './passes.ts'
import type { Scene } from './scene.ts'

const slots = { ownLight: new Slot() }

/** What a graphics card does for one effect: computes or is handed a layer, and lays it onto the working picture. */
export interface GraphicsPass {
  /** Pixels that it may change. */
  bounds: Rect
  /** What the card computes, or what the core has drawn: premultiplied RGBA floats over the bounds. */
  source: Shading | Float32Array
  /** Whether `mask` is for the shading to take off by itself. */
  hides: boolean
  /** By what pixels are laid on, or hidden: 0..1 over the bounds; null for all of them. */
  mask: Float32Array | null
  laid: 'normal' | 'add' | 'screen'
  opacity: number
}

/** What can draw passes. */
export interface GraphicsCard {
  /** Whether it draws what kinds say of themselves as the core does. */
  proven(kind: string): boolean
  lay(pass: GraphicsPass): void
}

type Planned = { pass: EffectPass; shading: Shading | null }

/** Hands a card the passes of effects, in their order; false, and nothing handed over, where the core has to draw them. */
export function layPasses(passes: EffectPass[], scene: Scene, card: GraphicsCard, scratch: Scratch): boolean {
  const planned = passes.map((pass) => ({ pass, shading: shadingOf(pass, card) }))
  if (!planned.every((one) => isForCard(one, scene))) return false
  for (const { pass, shading } of planned)
    scratch.passing(() => {
      const laid = shading ? shaded(pass, shading, scene, scratch) : drawn(pass, scene, scratch)
      if (laid) card.lay(laid)
    })
  return true
}

/** How a card draws an effect by itself; null where it does not. */
function shadingOf({ kind, renderer, context, moments, bounds }: EffectPass, card: GraphicsCard): Shading | null {
  const own = kind.makes !== 'own' || context.blend !== 'normal'
  return own && moments.length === 1 && card.proven(kind.kind) ? (renderer.shade?.(context, bounds) ?? null) : null
}

/** Whether a card can lay an effect on: it takes nobody out, blends in simple ways, and is handed no changed picture. */
function isForCard({ pass, shading }: Planned, scene: Scene): boolean {
  const { context, effect } = pass
  const simple = context.blend === 'normal' || context.blend === 'add' || context.blend === 'screen'
  const whole = !effect.group || (effect.groupOpacity ?? 1) === 1
  return simple && whole && !hiddenFrom(pass, scene).length && (shading !== null || !looksAt(pass))
}

const laidBy = ({ context }: EffectPass) => context.blend as GraphicsPass['laid']

function shaded(pass: EffectPass, shading: Shading, scene: Scene, scratch: Scratch): GraphicsPass {
  const { kind, effect, context, bounds } = pass
  const hides = kind.makes === 'own'
  const mask = hides
    ? holdoutOf(scene, effect, context.frame, context.scale, bounds, [], scratch)
    : maskOf(pass, scene, bounds, [], scratch)
  const opacity = hides ? 1 : context.opacity
  return { bounds, source: shading, hides, mask, laid: laidBy(pass), opacity }
}

/** What the core draws of an effect; null where that is nothing. */
function drawn(pass: EffectPass, scene: Scene, scratch: Scratch): GraphicsPass | null {
  const { kind, renderer, effect, context, bounds } = pass
  const common = { bounds, hides: false, laid: laidBy(pass) }
  if (kind.makes === 'own' && context.blend !== 'normal') {
    const holdout = holdoutOf(scene, effect, context.frame, context.scale, bounds, [], scratch)
    const data = scratch.floats(slots.ownLight, 4 * bounds.width * bounds.height, true)
    // Light on nothing is that light, added or screened.
    renderer.draw(context, { data, region: bounds, holdout })
    return { ...common, source: data, mask: null, opacity: 1 }
  }
  const layer = drawLayer(pass, bounds, noPicture, false, scratch)
  if (!layer || isEmpty(layer.within)) return null
  const opacity = kind.makes === 'own' ? 1 : context.opacity
  return { ...common, source: layer.layer, mask: maskOf(pass, scene, bounds, [], scratch), opacity }
}

const noPicture = new Float32Array(0)
