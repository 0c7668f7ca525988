import type { Drive } from '#core/parameters/drives.ts'
import type { Settings } from '#core/parameters/parameters.ts'
import type { Bead, Shot, Sound } from '#core/records/types.ts'
import { makeSound } from '#core/soundtrack/make.ts'

/** What is heard of the story, all of it made by our own voices. The half-traced shot has what it has. */
export const soundsOfStory = (shots: Record<'jetty' | 'poles' | 'heron' | 'leap' | 'pond', Shot>): Sound[] => [
  ...jettySounds(sounds(shots.jetty)),
  ...polesSounds(sounds(shots.poles)),
  ...heronSounds(sounds(shots.heron)),
  ...leapSounds(sounds(shots.leap)),
  ...pondSounds(sounds(shots.pond)),
]

type Make = ReturnType<typeof sounds>
function sounds(shot: Shot) {
  let order = 0
  return (kind: string, settings: Settings, more: Partial<Omit<Sound, 'type'>> = {}): Sound => {
    order++
    return makeSound({ id: `${shot.id}-${order}-${kind}`, shot: shot.id, kind, order, settings, ...more })
  }
}
const drive = (signal: Drive['signal'], of: string, from: [number, number], to: [number, number]): Drive => ({
  ...{ signal, of, with: '', from, to, bend: [0, 0, 1, 1], smooth: 1, lag: 0 },
})
const at = (...frames: number[]): Partial<Sound> => ({
  ...{ way: 'moments', source: 'frames' },
  beads: frames.map((frame): Bead => ({ at: null, frame, muted: false, gain: 0 })),
})
const across = (of: string) => drive('x', of, [0, 1280], [-0.7, 0.7])
const range = (from: number, to: number, fadeIn = 0, fadeOut = 0) => ({ range: { from, to, fadeIn, fadeOut } })

function jettySounds(sound: Make): Sound[] {
  const pole = 'ferry-pole'
  return [
    sound('lightUp', { level: -9, length: 0.7 }, { target: pole, ...at(4) }),
    sound(
      'hum',
      {
        ...{ body: 'reed', level: drive('tipSpeed', pole, [0, 60], [-20, -9]), place: across(pole) },
        pitch: drive('tipSpeed', pole, [0, 60], [0, 7]),
      },
      { target: pole, ...range(6, 95, 8, 6) },
    ),
    sound('swish', { level: -8, place: across(pole) }, { target: pole }),
  ]
}

function polesSounds(sound: Make): Sound[] {
  const [keeper, stranger] = ['keeper-pole', 'stranger-oar']
  const hum = (of: string, body: string, note: number) =>
    sound(
      'hum',
      {
        ...{ body, note, level: drive('tipSpeed', of, [0, 60], [-24, -12]), place: across(of) },
        pitch: drive('tipSpeed', of, [0, 60], [0, 6]),
      },
      { target: of },
    )
  return [
    hum(keeper, 'reed', 92),
    hum(stranger, 'furnace', 69),
    sound('swish', { level: -10, place: across(keeper) }, { target: keeper }),
    sound('swish', { level: -12, seed: 5, length: 0.5, place: across(stranger) }, { target: stranger }),
    sound('crack', { body: 'wood', level: -5, ring: 0.9 }, { target: keeper, with: stranger }),
    sound('crack', { body: 'spark', level: -13 }, { target: keeper, with: stranger }),
    sound('wind', { level: -22, strong: 0.3 }),
  ]
}

function heronSounds(sound: Make): Sound[] {
  return [
    sound('shimmer', { level: -15, note: 520, glass: 0.7 }, { target: 'heron-eyes', ...range(0, 71, 10, 6) }),
    sound('tick', { level: -16, note: 1500 }, at(30)),
    sound('boom', { level: -10, length: 1.6 }, at(56)),
  ]
}

function leapSounds(sound: Make): Sound[] {
  return [
    sound('step', { level: -9, weight: 0.8 }, at(22)),
    sound('swish', { level: -12, length: 0.8, sharpness: 0.1, weight: 0.9 }, at(34)),
    sound('thud', { level: -6 }, { target: 'leaper' }),
    sound('wind', { level: -24, strong: 0.35, gusts: 0.8 }),
  ]
}

function pondSounds(sound: Make): Sound[] {
  return [
    sound('wind', { level: -20, strong: 0.25, whistle: 0.1 }),
    sound('shimmer', { level: -22, note: 880, pace: 0.7 }, { target: 'moon' }),
    sound('crackle', { level: -20, density: 5, hardness: 0.2 }, { target: 'lantern', ...range(0, 71, 4, 4) }),
  ]
}
