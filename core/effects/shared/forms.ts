import { choice, number, seedNumber, still } from '../../parameters/builders.ts'
import type { EffectKind } from '../effect.ts'

/** What most kinds have in common; each says for itself where it is otherwise. */
type Form = Pick<EffectKind, 'rides' | 'alone' | 'region' | 'makes' | 'blend'>

/** How the sentence of a layer ends. */
export const laidOn = '{behind} laid on with {blend} at {opacity} {range}'

export const anyShape = ['rod', 'oval', 'outline', 'pin', 'painted'] as const

/** Changes the picture, everywhere or in a region, and rides on nobody. */
export const onPicture: Form = { rides: null, alone: true, region: 'bounds', makes: 'picture', blend: 'normal' }

/** Changes the picture about a member, or about its middle. */
export const aboutSomebody: Form = { ...onPicture, rides: anyShape }

/** Changes the picture around a region by what is in it: echoes, shadows, reflections. */
export const fromRegion: Form = { rides: null, alone: false, region: 'source', makes: 'picture', blend: 'normal' }

/** Light of a member, laid on with Add. */
export const lightOfSomebody: Form = { rides: anyShape, alone: false, region: 'none', makes: 'layer', blend: 'add' }

/** In which order the pixels of a picture go: what dissolving into a colour and into the next shot have in common. */
export const dissolveBy = {
  noise: 'noise',
  dark: 'brightness, dark first',
  bright: 'brightness, bright first',
}
export const dissolveSettings = {
  size: number('Flake', 'px', [2, 400, 1], 40, 'Size of the flakes of noise.'),
  soften: number('Softness', '%', [0.005, 1, 0.005], 0.12, 'How softly it goes.'),
  rim: number('Burning rim', '×', [0, 20, 0.1], 3, 'Light of the rim where it goes.'),
  seed: seedNumber,
}

/** What inserts and words have in common: what carries them, and their own shift and turn. */
export const placementSettings = {
  lies: choice(
    'Lies',
    { over: 'over the picture', member: 'on a member, going along', pin: 'on a pin, in perspective' },
    'What carries it.',
  ),
  x: number('Across', 'px', [-8000, 8000, 1], 0, 'Moved to the right.'),
  y: number('Down', 'px', [-8000, 8000, 1], 0, 'Moved down.'),
  turn: number('Turn', '°', [-3600, 3600, 1], 0, 'Turned about its middle.'),
}

/** What smears a picture that an effect moves: its kind says `moves`. */
export const shutterSettings = {
  shutter: number(
    'Shutter',
    '°',
    [0, 360, 5],
    0,
    'How long the shutter is open while it moves: 180 is half a frame, 0 is sharp.',
  ),
  samples: still('Samples', '', [2, 32, 1], 8, 'Moments of the motion that are laid together.'),
}

/** How a sentence tells of the shutter; sharp is not worth a word. */
export const smeared = ({ shutter }: { shutter: number }): string => (shutter > 0 ? ' with a shutter of {shutter}' : '')

/** Which frames of another clip are seen. */
export const clipTimeSettings = {
  from: still(
    'Begins with',
    'frames',
    [0, 19999, 1],
    0,
    'Frame of the clip that is seen on the first frame of the shot.',
  ),
  speed: still('Speed', '×', [-8, 8, 0.05], 1, 'How fast it runs; below 0 it runs backwards.'),
  ends: choice('At its end', { loop: 'begins again', stay: 'stays' }, 'What happens when the clip is over.'),
}
