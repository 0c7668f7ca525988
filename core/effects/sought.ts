import { type EffectKindName, effectKinds } from './catalogue.ts'
import type { EffectKind } from './effect.ts'
import { soughtIn } from '../words/sought.ts'

/** Words by which somebody looks for a kind who does not know what it is called here. */
export const kindWords: Record<EffectKindName, string> = {
  blade: 'sword beam laser neon fire burning energy staff stick',
  glow: 'halo bloom aura shine bright fire eyes',
  shafts: 'rays god sun beams streaks',
  flash: 'spark clash explosion hit impact bang lightning',
  castLight: 'illuminate lamp lantern reflection',
  afterglow: 'trail tail streak smear wake motion',
  sparks: 'particles embers dust snow rain fireflies glitter',
  fill: 'colour gradient solid paint silhouette matte background',
  grade: 'darker brighter lighter exposure contrast saturation black white sepia temperature tint gamma correct',
  outlineLine: 'stroke border contour edge rim line',
  soften: 'blur unsharp defocus smooth censor hide',
  spinBlur: 'radial rotation whirl blur zoom',
  lensBlur: 'bokeh focus depth field blur',
  motionBlur: 'shutter smear speed fast blur',
  twist: 'swirl whirl vortex spiral rotate warp',
  lens: 'magnify magnifier enlarge zoom bulge pinch shrink warp',
  barrel: 'fisheye wide bulge curve warp',
  ripple: 'water waves wobble heat haze warp',
  wrap: 'rim edge spill bleed integrate composite surroundings light',
  shadow: 'dark ground floor cast sun silhouette contact',
  reflection: 'mirror water wet floor ground puddle ice',
  mirror: 'reflect reflection flip symmetry kaleidoscope water',
  blockScatter: 'explode shatter burst fragments tiles debris break disintegrate',
  shake: 'earthquake handheld camera tremble wobble jitter',
  scroll: 'move slide pan repeat tile treadmill background',
  signalTear: 'glitch interference broken static tape distortion noise',
  colourSplit: 'glitch rgb chromatic aberration shift channels',
  flicker: 'strobe blink lamp unsteady noise old film',
  dabs: 'painting brush strokes cartoon oil watercolour',
  mosaic: 'pixelate pixels censor blocks tiles hide face',
  changeMask: 'difference motion moving only what changes',
  dissolve: 'vanish disappear burn away fade disintegrate teleport',
  insert:
    'picture image photo logo clip video screen replace background overlay plate speed slow reverse backwards loop',
  dive: 'zoom magnify eye tunnel portal enter camera',
  transform: 'move scale rotate resize position zoom turn larger smaller',
  hold: 'freeze frozen still pause stop time slow stutter',
  droplets: 'water liquid drops blobs metaballs splash bubbles burst melt goo',
  lag: 'delay past time late behind slow shutter long exposure surroundings background',
  relight: 'light lamp lantern key fill rim illuminate brighten side shading normal',
  echo: 'ghost repeat trail delay clone copies time',
  takeOver: 'transition crossfade wipe cut next shot',
  frame: 'letterbox bars cinema widescreen vignette border crop corners dark',
  words: 'text title caption credits subtitle letters type font',
}

/** Kinds that are looked for by what was typed, as `soughtIn` ranks them. */
export function soughtKinds(typed: string): EffectKind[] {
  return soughtIn(typed, Object.values(effectKinds) as EffectKind[], (kind) => ({
    name: kind.title,
    says: kind.summary,
    words: kindWords[kind.kind as EffectKindName],
  }))
}
