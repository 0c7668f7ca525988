import { say } from '../say.ts'
import { checks } from '../checks.ts'
import { retargeted } from '../edits/duplicate.ts'
import type { EffectKindName } from '../effects/catalogue.ts'
import { makeEffect } from '../effects/make.ts'
import type { Settings } from '../parameters/parameters.ts'
import { limits } from '../records/limits.ts'
import type { Effect } from '../records/types.ts'
import { Refusal } from '../refusal.ts'

/**
 * A named set of cards that can be put on any member. Where its cards name `subject`, the chosen member stands in;
 * everything else that they name stays empty.
 */
export interface Look {
  name: string
  /** What it is good for, in a few words. */
  about: string
  /** Kinds of parts that its subject needs one of; empty where it goes on anything, or on nobody. */
  needs: string[]
  cards: LookCard[]
}
export type LookCard = Omit<Effect, 'type' | 'id' | 'shot' | 'order'>

/** Stands for the member that a look is put on. */
export const subject = 'subject'

const format = 'wisp-trail-look'

/** Looks as a JSON file. */
export const writeLooks = (looks: readonly Look[]): string =>
  JSON.stringify({ format, version: 1, looks }, null, 2) + '\n'

/** Looks from a JSON file. Throws an Error whose message says what is wrong with it. */
export function readLooks(text: string): Look[] {
  let parsed: unknown
  try {
    parsed = JSON.parse(text)
  } catch {
    throw new Refusal(say`This is no JSON file. Choose a file of looks that was exported here.`)
  }
  const { format: named, version, looks } = (parsed ?? {}) as { format?: unknown; version?: unknown; looks?: unknown }
  if (named !== format || !Array.isArray(looks))
    throw new Refusal(say`This file holds no looks. Choose a file of looks that was exported here.`)
  if (version !== 1)
    throw new Refusal(say`These looks were written by a newer version; bring this one up to date first.`)
  if (looks.length > limits.looks)
    throw new Refusal(
      say`This file holds ${looks.length} looks; at most ${limits.looks} come in at once. Take some out first.`,
    )
  looks.forEach((look, i) => {
    try {
      checks.look(look)
    } catch (error) {
      throw new Refusal(say`Look ${i + 1} was refused: ${(error as Error).message}`, { cause: error })
    }
  })
  return looks as Look[]
}

/** Whether a look is about somebody; else it is one of the whole picture. */
export const isAboutSomebody = ({ cards }: Pick<Look, 'cards'>): boolean =>
  JSON.stringify(cards).includes(JSON.stringify(subject))

/** The cards of a look for a member (or for nobody, ''): what they name beside it is left out. */
export const cardsFor = (look: Pick<Look, 'cards'>, member: string): LookCard[] =>
  look.cards.map((one) => named(one, (id) => (id === subject ? member : '')))

/** A look's card from an effect: the member it is about becomes the subject, whatever else it names is left out. */
export function cardOf(effect: Effect, about: string): LookCard {
  const { type: _type, id: _id, shot: _shot, order: _order, ...fields } = effect
  return named(fields, (id) => (id === about ? subject : ''))
}

function named(card: LookCard, of: (id: string) => string): LookCard {
  const out = retargeted(card, of)
  return { ...out, region: { ...out.region, of: out.region.of.filter(Boolean) }, behind: out.behind.filter(Boolean) }
}

const card = (kind: EffectKindName, settings: Settings, more: Partial<LookCard> = {}): LookCard => {
  const {
    type: _,
    id: _id,
    shot: _shot,
    order: _order,
    ...fields
  } = makeEffect({
    ...{ id: 'x', shot: 'x', order: 0, kind, target: subject, ...more },
    settings,
  })
  return fields
}
const on = { target: '', region: { of: [subject], side: 'inside' as const, grow: 0, soften: 0 } }
const whole = { target: '' }
const around = { target: '', region: { of: [subject], side: 'outside' as const, grow: 0, soften: 4 } }
const blade = (outside: string, inside: string, more: Settings = {}) => card('blade', { outside, inside, ...more })

/** The looks that come with the program. */
export const shippedLooks: Look[] = [
  {
    name: 'Ember reed',
    about: 'a reed on fire: ragged flames, sparks that rise',
    needs: ['rod'],
    cards: [
      card('castLight', { strength: 1.6, distance: 240 }, { target: subject }),
      blade('#ff5a1f', '#ffe9c4', {
        ...{ burning: 0.85, crackle: 0.4, flame: 34, flow: 14, flicker: 0.22, taper: 0.5, coreEdge: 8 },
        ...{ turns: 0.6, second: '#ffb43c' },
      }),
      card('sparks', { from: 'edge', rate: 14, gravity: -0.12, speed: 5, life: 22 }),
    ],
  },
  {
    name: 'Cold river',
    about: 'running water that glistens, and drops that fall from it',
    needs: ['rod'],
    cards: [
      blade('#3f9fb4', '#d9f6f2', {
        ...{ coreWidth: 14, coreEdge: 12, brightness: 0.7, burning: 0.35, flow: 30, flame: 70, flicker: 0 },
        ...{ halos: [12, 40].map((feather) => ({ feather, strength: 0.35, colour: '' })), turns: 1, second: '#cfeee6' },
      }),
      card('sparks', {
        ...{ from: 'edge', rate: 9, gravity: 0.8, speed: 2, life: 16, size: 2.5, strength: 1.6 },
        ...{ young: '#e8fffb', old: '#3f9fb4' },
      }),
    ],
  },
  {
    name: 'Moonpath',
    about: 'a thin line of moonlight with a wide, still shine',
    needs: ['rod'],
    cards: [
      blade('#b9c6d8', '#f4f1e4', {
        ...{ coreWidth: 5, coreEdge: 2, flicker: 0, taper: 0.6 },
        halos: [
          { feather: 20, strength: 0.3, colour: '' },
          { feather: 90, strength: 0.28, colour: '' },
          { feather: 220, strength: 0.16, colour: '' },
        ],
      }),
      card('afterglow', { young: '#e9edf2', old: '#5f6f8c', length: 18, breakup: 0.5, wander: 10 }, { opacity: 0.28 }),
    ],
  },
  {
    name: 'Moss light',
    about: 'a soft green glimmer without a core, and motes that drift',
    needs: ['rod'],
    cards: [
      blade('#6fa653', '#86b56b', {
        ...{ coreWidth: 11, coreEdge: 14, brightness: 0.35, taper: 0.3, burning: 0.7, flame: 16, flow: 1 },
        halos: [10, 34].map((feather) => ({ feather, strength: 0.3, colour: '' })),
      }),
      card('sparks', {
        ...{ from: 'edge', rate: 2, gravity: -0.02, speed: 0.8, life: 70, size: 2, strength: 2.2, wander: 18 },
        ...{ young: '#dff0b8', old: '#4d7a3c' },
      }),
    ],
  },
  {
    name: 'Lantern eyes',
    about: 'eyes that burn, with shafts of warm light',
    needs: ['outline', 'oval'],
    cards: [
      card('fill', { first: '#fff6df', light: 1.6 }, { ...on, region: { ...on.region, soften: 3 } }),
      card('glow', { nearColour: '#fff0c0', farColour: '#ffa13c', near: 14, far: 80 }, on),
      card('shafts', { tint: '#ffd892', length: 420 }),
    ],
  },
  {
    name: 'Marsh ghost',
    about: 'a cold shimmer that drags copies behind it',
    needs: [],
    cards: [
      card('echo', { count: 5, gap: 3, tint: '#a8d8ff', strength: 0.5 }, on),
      card('glow', { nearColour: '#d6f2ff', farColour: '#6fb4ff', near: 8, far: 60, strength: 0.6 }, on),
    ],
  },
  {
    name: 'Quiet air',
    about: 'the surroundings go soft and dim, the subject stays',
    needs: [],
    cards: [card('soften', { amount: 16 }, around), card('grade', { exposure: -0.7, saturation: 0.75 }, around)],
  },
  {
    name: 'Rush past',
    about: 'the surroundings are swept sideways',
    needs: [],
    cards: [card('soften', { amount: 90, way: 'across' }, around)],
  },
  {
    name: 'Bad signal',
    about: 'everything around tears and splits',
    needs: [],
    cards: [card('signalTear', { slices: 0.5, shift: 80 }, around), card('colourSplit', { amount: 10 }, around)],
  },
  {
    name: 'Ink and paper',
    about: 'the subject painted in dabs, with a line around it',
    needs: [],
    cards: [card('dabs', { size: 14 }, on), card('outlineLine', { width: 3, tint: '#1b1712', soften: 1.5 }, on)],
  },
  {
    name: 'Hot stones',
    about: 'air that shimmers over warm ground',
    needs: [],
    cards: [
      card('ripple', { form: 'haze', amount: 6, size: 70 }, around),
      card('grade', { temperature: 5200, exposure: 0.15 }, { target: '' }),
    ],
  },
  {
    name: 'Whirlpool',
    about: 'the picture winds up about the subject',
    needs: [],
    cards: [card('twist', { angle: 260, radius: 420 }), card('spinBlur', { way: 'spin', spin: 10, keep: 40 })],
  },
  {
    name: 'Burst of tiles',
    about: 'the subject flies apart in glowing blocks',
    needs: [],
    cards: [
      card('blockScatter', { amount: 160, size: 16, glow: 3 }, on),
      card('glow', { from: 'bright', threshold: 0.75, far: 90 }, { target: '' }),
    ],
  },
  {
    name: 'Night watch',
    about: 'day turned to night, the subject edged in cold light',
    needs: [],
    cards: [
      card('grade', { exposure: -1.6, temperature: 9500, saturation: 0.6, contrast: 1.1 }, { target: '' }),
      card('outlineLine', { width: 4, tint: '#8fc4ff', light: 1.5, soften: 6 }, { ...on, blend: 'screen' }),
    ],
  },
  {
    name: 'Lamp oil',
    about: 'the whole picture in warm, old light between two bars',
    needs: [],
    cards: [
      card('grade', { temperature: 4300, contrast: 1.08, saturation: 0.85 }, whole),
      card('glow', { from: 'bright', threshold: 0.7, far: 70, strength: 0.35 }, whole),
      card('frame', { corners: 0.35 }, whole),
    ],
  },
  {
    name: 'Reed mist',
    about: 'the whole picture cool and pale, its bright places bloom',
    needs: [],
    cards: [
      card('grade', { exposure: 0.2, temperature: 7600, contrast: 0.85, saturation: 0.7 }, whole),
      card('glow', { from: 'bright', threshold: 0.55, far: 120, strength: 0.4 }, whole),
    ],
  },
  {
    name: 'Ferry record',
    about: 'the whole picture nearly grey, unsteady and dark at its corners',
    needs: [],
    cards: [
      card('grade', { saturation: 0.15, temperature: 5200, contrast: 1.15 }, whole),
      card('flicker', {}, whole),
      card('frame', { shape: 1.33, corners: 0.6 }, whole),
    ],
  },
]
