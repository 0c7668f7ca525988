import { say } from '../say.ts'
import { type EffectKindName, effectKinds } from './catalogue.ts'
import type { EffectKind } from './effect.ts'
import { soughtIn } from '../words/sought.ts'

/** Words by which somebody looks for a kind who does not know what it is called here. */
export const kindWords: Record<EffectKindName, string> = {
  blade: say`sword beam laser neon fire burning energy staff stick`,
  glow: say`halo bloom aura shine bright fire eyes`,
  shafts: say`rays god sun beams streaks`,
  flash: say`spark clash explosion hit impact bang lightning`,
  castLight: say`illuminate lamp lantern reflection`,
  afterglow: say`trail tail streak smear wake motion`,
  sparks: say`particles embers dust snow rain fireflies glitter`,
  fill: say`colour gradient solid paint silhouette matte background`,
  grade: say`darker brighter lighter exposure contrast saturation black white sepia temperature tint gamma correct`,
  outlineLine: say`stroke border contour edge rim line`,
  soften: say`blur unsharp defocus smooth censor hide`,
  spinBlur: say`radial rotation whirl blur zoom`,
  lensBlur: say`bokeh focus depth field blur`,
  motionBlur: say`shutter smear speed fast blur`,
  twist: say`swirl whirl vortex spiral rotate warp`,
  lens: say`magnify magnifier enlarge zoom bulge pinch shrink warp`,
  barrel: say`fisheye wide bulge curve warp`,
  ripple: say`water waves wobble heat haze warp`,
  wrap: say`rim edge spill bleed integrate composite surroundings light`,
  shadow: say`dark ground floor cast sun silhouette contact`,
  reflection: say`mirror water wet floor ground puddle ice`,
  mirror: say`reflect reflection flip symmetry kaleidoscope water`,
  blockScatter: say`explode shatter burst fragments tiles debris break disintegrate`,
  shake: say`earthquake handheld camera tremble wobble jitter`,
  scroll: say`move slide pan repeat tile treadmill background`,
  signalTear: say`glitch interference broken static tape distortion noise`,
  colourSplit: say`glitch rgb chromatic aberration shift channels`,
  flicker: say`strobe blink lamp unsteady noise old film`,
  dabs: say`painting brush strokes cartoon oil watercolour`,
  mosaic: say`pixelate pixels censor blocks tiles hide face`,
  changeMask: say`difference motion moving only what changes`,
  dissolve: say`vanish disappear burn away fade disintegrate teleport`,
  insert: say`picture image photo logo clip video screen replace background overlay plate speed slow reverse backwards loop`,
  dive: say`zoom magnify eye tunnel portal enter camera`,
  transform: say`move scale rotate resize position zoom turn larger smaller`,
  hold: say`freeze frozen still pause stop time slow stutter`,
  droplets: say`water liquid drops blobs metaballs splash bubbles burst melt goo`,
  lag: say`delay past time late behind slow shutter long exposure surroundings background`,
  relight: say`light lamp lantern key fill rim illuminate brighten side shading normal`,
  echo: say`ghost repeat trail delay clone copies time`,
  takeOver: say`transition crossfade wipe cut next shot`,
  frame: say`letterbox bars cinema widescreen vignette border crop corners dark`,
  words: say`text title caption credits subtitle letters type font`,
}

/** Kinds that are looked for by what was typed, as `soughtIn` ranks them. */
export function soughtKinds(typed: string): EffectKind[] {
  return soughtIn(typed, Object.values(effectKinds) as EffectKind[], (kind) => ({
    name: kind.title,
    says: kind.summary,
    words: kindWords[kind.kind as EffectKindName],
  }))
}
