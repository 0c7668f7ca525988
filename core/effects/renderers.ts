import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'
import { renderDive } from './arrangement/dive/render.ts'
import { renderDroplets } from './distortion/droplets/render.ts'
import { renderLag } from './arrangement/lag/render.ts'
import { renderRelight } from './light/relight/render.ts'
import { renderEcho } from './arrangement/echo/render.ts'
import { renderFrameOf } from './arrangement/frame/render.ts'
import { renderHold } from './arrangement/hold/render.ts'
import { renderInsert } from './arrangement/insert/render.ts'
import { renderReflection } from './arrangement/reflection/render.ts'
import { renderTakeOver } from './arrangement/takeOver/render.ts'
import { renderTransform } from './arrangement/transform/render.ts'
import { renderWords } from './arrangement/words/render.ts'
import { renderLensBlur } from './blur/lensBlur/render.ts'
import { renderMotionBlur } from './blur/motionBlur/render.ts'
import { renderSoften } from './blur/soften/render.ts'
import { renderSpinBlur } from './blur/spinBlur/render.ts'
import { renderChangeMask } from './breakup/changeMask/render.ts'
import { renderColourSplit } from './breakup/colourSplit/render.ts'
import { renderDabs } from './breakup/dabs/render.ts'
import { renderDissolve } from './breakup/dissolve/render.ts'
import { renderFlicker } from './breakup/flicker/render.ts'
import { renderMosaic } from './breakup/mosaic/render.ts'
import { renderSignalTear } from './breakup/signalTear/render.ts'
import type { EffectKindName } from './catalogue.ts'
import { renderFill } from './colour/fill/render.ts'
import { renderGrade } from './colour/grade/render.ts'
import { renderOutlineLine } from './colour/outlineLine/render.ts'
import { renderBarrel } from './distortion/barrel/render.ts'
import { renderBlockScatter } from './distortion/blockScatter/render.ts'
import { renderLens } from './distortion/lens/render.ts'
import { renderMirror } from './distortion/mirror/render.ts'
import { renderRipple } from './distortion/ripple/render.ts'
import { renderScroll } from './distortion/scroll/render.ts'
import { renderShake } from './distortion/shake/render.ts'
import { renderTwist } from './distortion/twist/render.ts'
import type { Renderer } from './effect.ts'
import { renderAfterglow } from './light/afterglow/render.ts'
import { renderBlade } from './light/blade/render.ts'
import { renderCastLight } from './light/castLight/render.ts'
import { renderFlash } from './light/flash/render.ts'
import { renderGlow } from './light/glow/render.ts'
import { renderShadow } from './light/shadow/render.ts'
import { renderShafts } from './light/shafts/render.ts'
import { renderSparks } from './light/sparks/render.ts'
import { renderWrap } from './light/wrap/render.ts'

/** How each kind is drawn. Apart from the catalogue, so that pages that only describe kinds do not carry it. */
const renderers: { [K in EffectKindName]: Renderer } = {
  afterglow: renderAfterglow,
  barrel: renderBarrel,
  blade: renderBlade,
  blockScatter: renderBlockScatter,
  castLight: renderCastLight,
  changeMask: renderChangeMask,
  colourSplit: renderColourSplit,
  dabs: renderDabs,
  dive: renderDive,
  dissolve: renderDissolve,
  echo: renderEcho,
  droplets: renderDroplets,
  lag: renderLag,
  relight: renderRelight,
  reflection: renderReflection,
  fill: renderFill,
  flash: renderFlash,
  flicker: renderFlicker,
  glow: renderGlow,
  grade: renderGrade,
  hold: renderHold,
  insert: renderInsert,
  lens: renderLens,
  lensBlur: renderLensBlur,
  mosaic: renderMosaic,
  motionBlur: renderMotionBlur,
  outlineLine: renderOutlineLine,
  ripple: renderRipple,
  mirror: renderMirror,
  scroll: renderScroll,
  shafts: renderShafts,
  wrap: renderWrap,
  shadow: renderShadow,
  shake: renderShake,
  signalTear: renderSignalTear,
  soften: renderSoften,
  sparks: renderSparks,
  spinBlur: renderSpinBlur,
  takeOver: renderTakeOver,
  transform: renderTransform,
  twist: renderTwist,
  words: renderWords,
  frame: renderFrameOf,
}

/** The renderer of an effect, by the name that its record keeps. Throws where there is none of that name. */
export function rendererFor(name: string): Renderer {
  const renderer = (renderers as Record<string, Renderer>)[name]
  if (!renderer) throw new Refusal(say`There is no effect called "${name}".`)
  return renderer
}
