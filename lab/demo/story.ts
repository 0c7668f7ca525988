/** The Reed Ferry's tracing and effects, from the drawn truth: records alone, without a server. */
import type { EffectKindName } from '#core/effects/catalogue.ts'
import { makeEffect } from '#core/effects/make.ts'
import { polygonArea } from '#core/geometry/path.ts'
import type { Settings } from '#core/parameters/parameters.ts'
import { joinStart } from '#core/records/film.ts'
import { makeKey } from '#core/records/make.ts'
import type { AnyRecord, Effect, Media, Member, MemberKind, Part, Region, Shot } from '#core/records/types.ts'
import { makePart } from '#core/shapes/make.ts'
import type { PartKindName } from '#core/shapes/registry.ts'
import { shapeAt } from '#core/shapes/track.ts'
import { sway } from '../scenes/film.ts'
import { lanternCorners, lanternSize, turnAt } from '../scenes/lantern.ts'
import { outlineNodes, polygonOf } from '../scenes/paint.ts'
import type { Truth } from '../scenes/scene.ts'
import type { Found, FoundPlate } from './foundKept.ts'
import { soundsOfStory } from './sounds.ts'

export interface Footage {
  media: Media
  shot: Shot
  truth: Truth
  /** What a follower made of it: see found.ts. */
  found?: Found[]
}

/** The shots that the story is told in. */
export interface Told {
  jetty: Footage
  poles: Footage
  heron: Footage
  leap: Footage
  pond: Footage
  /** The paper lantern as a still, and swaying. */
  lantern: Media
  sway: Media
  /** The clean plate of the leap: its still, and how it lies. */
  clean: Media
  plate: FoundPlate
}

/** Everything traced and laid on, shot by shot; every kind of effect is used somewhere. */
export const story = ({ jetty, poles, heron, leap, pond, lantern, sway: swaying, clean, plate }: Told): AnyRecord[] => [
  ...jettySwing(jetty),
  ...twoPoles(poles),
  ...heronMask(heron, pond),
  ...leapOf(leap, clean, plate),
  ...moonPond(pond, lantern, swaying),
  ...soundsOfStory({ jetty: jetty.shot, poles: poles.shot, heron: heron.shot, leap: leap.shot, pond: pond.shot }),
]

type Corners = [number, number, number, number, number, number, number, number]

/** Cards of a shot in their order. */
function cards(shot: Shot) {
  let order = 0
  return (kind: EffectKindName, settings: Settings, more: Partial<Omit<Effect, 'type'>> = {}): Effect => {
    order++
    return makeEffect({ id: `${shot.id}-${order}-${kind}`, shot: shot.id, kind, order, settings, ...more })
  }
}
const within = (...members: Member[]): Region => ({
  of: members.map((one) => one.id),
  side: 'inside',
  grow: 0,
  soften: 0,
})
const around = (...members: Member[]): Region => ({ ...within(...members), side: 'outside', soften: 4 })
const frames = (from: number, to: number, fade = 0): Effect['range'] => ({ from, to, fadeIn: fade, fadeOut: fade })

/** Half traced: the swing itself is left for whoever opens the project. */
function jettySwing({ shot, truth }: Footage): AnyRecord[] {
  const until = 48
  const pole = member(shot, 'ferry-pole', 'Ferry pole', 'prop', 0, 1)
  const keeper = member(shot, 'keeper', 'Keeper', 'performer', 1, 2)
  const card = cards(shot)
  const lit: Settings = {
    lit: {
      keys: [
        { frame: 4, value: 0, ease: 'eased' },
        { frame: 14, value: 1, ease: 'straight' },
      ],
    },
  }
  const behind = { target: pole.id, behind: [keeper.id] }
  return [
    ...[pole, keeper],
    ...rod(pole, 'shaft', truth, 'Keeper pole', until),
    ...headOf(keeper, truth, 'Keeper', until),
    // Its light rises and falls with the wind that is heard.
    card(
      'castLight',
      {
        strength: {
          ...{ signal: 'loudness', of: '', with: '', from: [-38, -26], to: [0.9, 1.6], bend: [0, 0, 1, 1] },
          ...{ smooth: 2, lag: 0 },
        },
        ...{ tint: '#3f9cff', distance: 200 },
      },
      { target: pole.id, range: frames(6, 95, 8) },
    ),
    card('blade', lit, { ...behind, id: 'blade-keeper', opacity: 0.92 }),
    card(
      'afterglow',
      { length: 8, young: '#bfe6ff', old: '#2a52d8' },
      { ...behind, opacity: 0.7, range: frames(12, 95, 4) },
    ),
    // Everything but the Keeper leaves what it was a moment ago: the pole as a fan of poles.
    card('lag', { back: 2, count: 7, gap: 2, together: 'bright' }, { region: around(keeper), on: false }),
  ]
}

function twoPoles({ shot, truth }: Footage): AnyRecord[] {
  const until = truth.frames - 1
  const left = member(shot, 'keeper-pole', 'Keeper’s pole', 'prop', 0, 1)
  const right = member(shot, 'stranger-oar', 'Stranger’s oar', 'prop', 4, 2)
  const keeper = member(shot, 'keeper-2', 'Keeper', 'performer', 1, 3)
  const stranger = member(shot, 'stranger', 'Stranger', 'performer', 3, 4)
  const behind = [keeper.id, stranger.id]
  const card = cards(shot)
  // The faster the tip, the brighter it burns.
  const swift = (of: Member): Settings[string] => ({
    ...{
      signal: 'tipSpeed',
      of: of.id,
      with: '',
      from: [2, 45],
      to: [0.75, 1.5],
      bend: [0, 0, 1, 1],
      smooth: 1,
      lag: 0,
    },
  })
  const ember: Settings = {
    outside: '#ff9a2e',
    turns: 0.8,
    second: '#ffd35a',
    burning: 0.9,
    crackle: 0.5,
    line: 1,
    brightness: 1.2,
  }
  return [
    ...[left, right, keeper, stranger],
    ...headOf(keeper, truth, 'Keeper', until),
    ...headOf(stranger, truth, 'Stranger', until),
    ...rod(left, 'pole', truth, 'Keeper pole', until),
    ...rod(right, 'oar', truth, 'Stranger pole', until),
    card('castLight', { tint: '#57e07c', distance: 170, strength: 1.1 }, { target: left.id }),
    card('castLight', { tint: '#ffa03c', distance: 170, strength: 1.1 }, { target: right.id }),
    card('blade', { outside: '#4fd873', strength: swift(left) }, { target: left.id, behind, opacity: 0.92 }),
    card('blade', { ...ember, strength: swift(right) }, { target: right.id, behind, opacity: 0.92 }),
    card('flash', { other: right.id, size: 70 }, { target: left.id }),
    card(
      'sparks',
      { from: 'contact', other: right.id, rate: 14, speed: 14, life: 14 },
      { target: left.id, range: frames(22, 34) },
    ),
    card('shake', { amount: 10, turn: 0.5, falloff: 9 }, { range: frames(24, 33) }),
    card(
      'relight',
      { tint: '#57e07c', strength: 1.6, reach: 260, round: 26, before: 30 },
      { target: left.id, region: within(keeper) },
    ),
  ]
}

/** The two eyes, with lids that close once, and the mask around them; at its end the camera dives through one of them. */
function heronMask({ shot, truth, found }: Footage, pond: Footage): AnyRecord[] {
  const eyes = member(shot, 'heron-eyes', 'Heron’s eyes', 'eye', 2, 1)
  const mask = member(shot, 'heron', 'Heron mask', 'other', 4, 2)
  const named = (of: Member, name: string, order: number) => outlineOf(of, truth, name, order)
  const card = cards(shot)
  const rising = {
    keys: [
      { frame: 4, value: 0, ease: 'eased' },
      { frame: 20, value: 1, ease: 'straight' },
    ],
  } as const
  const strength = { keys: rising.keys.map((key) => ({ ...key })) }
  return [
    eyes,
    mask,
    ...named(eyes, 'left eye', 1),
    ...named(eyes, 'right eye', 2),
    ...named(mask, 'mask', 1),
    // Traced on one frame; the rest was followed.
    ...followed(
      part(mask, 'beak', 'outline', 2),
      truth.outlines.find((one) => one.name === 'beak')!.points[0]!,
      found!,
    ),
    card('grade', { exposure: -0.8, saturation: 0.7, temperature: 8200 }, { region: around(mask) }),
    card('fill', { first: '#fff4d8', light: 1.6 }, { region: { ...within(eyes), soften: 3 }, opacity: strength }),
    card(
      'glow',
      { near: 14, far: 90, nearColour: '#ffeab8', farColour: '#ff9a3c' },
      { region: within(eyes), opacity: strength },
    ),
    card(
      'shafts',
      { tint: '#ffd892', length: 460, strength: 0.8, flicker: 0.4 },
      { target: eyes.id, opacity: strength },
    ),
    card(
      'outlineLine',
      { width: 2, tint: '#ffb066', light: 1.2, soften: 5 },
      { region: within(mask), blend: 'screen', opacity: 0.35 },
    ),
    card(
      'dive',
      {
        clip: pond.media.id,
        depth: {
          keys: [
            { frame: 58, value: 0, ease: 'eased' },
            { frame: 71, value: 6.6, ease: 'straight' },
          ],
        },
      },
      { target: eyes.id, range: frames(58, 71) },
    ),
  ]
}

/**
 * Every limb on its own; the hat rides on the head and needs one key. The surroundings rush past in the air, and once the
 * Keeper has landed he bursts into glowing blocks, and the moon pond takes over.
 */
function leapOf({ shot, truth }: Footage, clean: Media, { x, y, from, motions }: FoundPlate): AnyRecord[] {
  const keeper = member(shot, 'leaper', 'Keeper', 'performer', 1, 1)
  const limbs = truth.outlines.filter((one) => one.name !== 'hat')
  const records = limbs.flatMap((one, i) => outlineOf(keeper, truth, one.name, i + 1))
  const head = outlineNodes(truth.outlines.find((one) => one.name === 'head')!.points[0]!)
  const hat: Part = {
    ...part(keeper, 'hat', 'outline', limbs.length + 1),
    ride: { on: 'leaper-head', from: [{ part: 'leaper-head', points: head }] },
  }
  const worn = truth.outlines.find((one) => one.name === 'hat')!
  const card = cards(shot)
  const air = frames(26, 46, 4)
  return [
    keeper,
    ...records,
    hat,
    { type: 'plate', id: 'leap-plate', shot: shot.id, media: clean.id, ...{ x, y, from, motions } },
    makeKey(hat.id, 0, outlineNodes(worn.points[0]!)),
    card(
      'shadow',
      { ground: 'line', line: 0.86, length: 0.35, lean: -62, strength: 0.9, soften: 14 },
      { region: within(keeper) },
    ),
    card('soften', { amount: 70, way: 'across' }, { region: around(keeper), range: air }),
    card('grade', { exposure: -0.9, saturation: 0.6 }, { region: around(keeper), range: air }),
    card('wrap', { width: 24, strength: 0.6 }, { region: within(keeper), range: air }),
    card(
      'words',
      {
        ...{ text: 'LEAP', face: 'poster', size: 430, y: -60, tint: '#ffe9c4', spacing: 0.04 },
        shown: {
          keys: [
            { frame: 26, value: 0, ease: 'straight' },
            { frame: 34, value: 1, ease: 'straight' },
          ],
        },
      },
      { behind: [keeper.id], range: frames(26, 46, 2), opacity: 0.4 },
    ),
    card('echo', { count: 4, gap: 3, strength: 0.6, tint: '#9fd0ff' }, { region: within(keeper), range: air }),
    // What is around him is gone first, then he flies apart over the pond, and the last blocks fade.
    card('takeOver', { amount: joined([0, 0.7], [0, 1]) }, { region: around(keeper) }),
    card(
      'blockScatter',
      {
        ...{ amount: joined([0.05, 1], [0, 420]), size: 12, threshold: 0, even: 0.5, shrink: 0.4, behind: 'next' },
        ...{ stay: joined([0.1, 0.45], [1, 0]), glow: joined([0, 0.6], [0, 12]), spread: 0.3, drift: 0.7 },
      },
      { target: keeper.id, region: within(keeper), range: frames(joinStart(shot), 71) },
    ),
    card('takeOver', { amount: joined([0.75, 1], [0, 1]) }),
    card('motionBlur', { shutter: 220 }, { target: keeper.id, range: air, on: false }),
    card('droplets', { rate: 2, size: 26, speed: 8, seed: 5 }, { target: keeper.id, range: air, on: false }),
  ]
}

/** A number that the join carries from one value to another while it goes through a part of its course. */
const joined = (from: [number, number], to: [number, number]): Settings[string] => ({
  ...{ signal: 'join', of: '', with: '', from, to, bend: [0, 0, 1, 1], smooth: 0, lag: 0 },
})

/** Where the lantern hangs in the pond's picture before the camera sways: the top left of its picture, and its size. */
const hung = { x: 236, y: 150, size: 0.5 }
/** Turns of a two seconds' sway in frames of the shot: its sequence runs at half speed. */
const swaySpeed = 0.5

/** A lantern hangs over the water; then the pond itself is played with, one effect after the other. */
function moonPond({ shot, truth }: Footage, still: Media, swaying: Media): AnyRecord[] {
  const moon = member(shot, 'moon', 'Moon', 'other', 6, 1)
  const lantern = member(shot, 'lantern', 'Lantern', 'prop', 3, 2)
  const every = Array.from({ length: truth.frames }, (_, frame) => frame)
  const placedAt = (points: number[], frame: number) => {
    const { x, y } = sway(frame, truth.seed)
    return points.map((v, i) => v * hung.size + (i % 2 ? hung.y + y : hung.x + x))
  }
  const { width, height } = lanternSize
  const picture = part(lantern, 'picture', 'pin', 1)
  const paper = part(lantern, 'paper', 'oval', 2)
  const papers = every.map((frame) => {
    const [ax, ay, bx, by, cx, cy, dx, dy] = lanternCorners(turnAt(Math.round(frame * swaySpeed))) as Corners
    const [mx, my] = [(ax + cx) / 2, (ay + cy) / 2]
    return placedAt([mx, my, (bx + cx) / 2, (by + cy) / 2, (cx + dx) / 2, (cy + dy) / 2], frame)
  })
  const card = cards(shot)
  const apart = 'The pond comes apart'
  const target = moon.id
  return [
    moon,
    ...outlineOf(moon, truth, 'moon', 1),
    ...[lantern, picture, paper],
    ...keysFor(
      picture,
      every.map((frame) => placedAt([0, 0, width, 0, width, height, 0, height], frame)),
    ),
    ...keysFor(paper, papers),
    // One near, its picture on the pin and its light from the paper; one far away.
    card('insert', { clip: swaying.id, lies: 'pin', speed: swaySpeed }, { target: lantern.id, id: 'lantern-near' }),
    card('insert', { clip: still.id, lies: 'member', x: 640, y: 96, size: 0.035 }, { target: lantern.id }),
    card(
      'glow',
      { near: 18, far: 110, nearColour: '#ffd9a0', farColour: '#ff8a3c', strength: 0.55 },
      { region: { ...within(lantern), of: [paper.id], soften: 8 } },
    ),
    card('ripple', { form: 'haze', amount: 4, size: 80 }, { range: frames(0, 71) }),
    card(
      'glow',
      { near: 20, far: 140, nearColour: '#fff1cf', farColour: '#8fb0ff', strength: 0.9 },
      { region: within(moon) },
    ),
    card(
      'reflection',
      { ground: 'line', line: 0.55, strength: 0.7, waves: 6, soften: 6, fade: 0.3 },
      { region: within(moon), range: frames(0, 11, 4) },
    ),
    card('lensBlur', { radius: 9 }, { region: around(moon), range: frames(0, 11, 4), group: apart }),
    card('lens', { strength: 0.6, radius: 240 }, { target, range: frames(12, 15), group: apart }),
    card('twist', { angle: 200, radius: 320 }, { target, range: frames(16, 20, 1), group: apart }),
    card('barrel', { bend: -0.35 }, { range: frames(21, 24), group: apart }),
    card('spinBlur', { zoom: 0.4 }, { target, range: frames(25, 28), group: apart }),
    card('colourSplit', { amount: 14 }, { range: frames(29, 32), group: apart }),
    card('signalTear', { slices: 0.5 }, { range: frames(33, 36), group: apart }),
    card(
      'scroll',
      {
        across: {
          keys: [
            { frame: 37, value: 0, ease: 'eased' },
            { frame: 42, value: 2, ease: 'straight' },
          ],
        },
        ...{ shutter: 180, samples: 32 },
      },
      { region: around(moon), range: frames(37, 42), group: apart },
    ),
    card('mosaic', { size: 40, form: 'hexagon' }, { region: around(moon), range: frames(43, 46), group: apart }),
    card('dabs', { size: 20 }, { range: frames(47, 51), group: apart }),
    card('changeMask', { ago: 3, strength: 3 }, { range: frames(52, 55), group: apart }),
    card('hold', { step: 4 }, { range: frames(56, 59), group: apart }),
    card(
      'transform',
      { x: -320, size: 1.4, behind: 'picture' },
      { target, region: within(moon), range: frames(56, 59), group: apart },
    ),
    card('mirror', {}, { target, range: frames(60, 61), group: apart }),
    card('flicker', { way: 'failing', rate: 0.5 }, { range: frames(60, 63), group: apart }),
    card(
      'blockScatter',
      {
        amount: {
          keys: [
            { frame: 60, value: 0, ease: 'eased' },
            { frame: 71, value: 420, ease: 'straight' },
          ],
        },
        size: 12,
      },
      { target, region: within(moon), range: frames(60, 71), group: apart },
    ),
    card(
      'dissolve',
      {
        amount: {
          keys: [
            { frame: 63, value: 0, ease: 'eased' },
            { frame: 71, value: 1, ease: 'straight' },
          ],
        },
      },
      { range: frames(63, 71), group: apart },
    ),
    card('frame', { shape: 2.2, corners: 0.35 }, { range: frames(12, 71, 3), group: apart }),
  ]
}

function outlineOf(of: Member, truth: Truth, name: string, order: number): AnyRecord[] {
  const one = part(of, name, 'outline', order)
  return [one, ...keysFor(one, truth.outlines.find((shape) => shape.name === name)!.points.map(outlineNodes))]
}
const followed = (one: Part, first: number[], found: Found[]): AnyRecord[] => [
  one,
  makeKey(one.id, 0, outlineNodes(first)),
  ...found.map(({ frame, points, confidence }) => makeKey(one.id, frame, points, '', confidence)),
]
const member = (shot: Shot, id: string, name: string, kind: MemberKind, colour: number, order: number): Member => ({
  ...{ type: 'member', id, shot: shot.id, name, kind, colour, order },
})

function part(of: Member, name: string, kind: PartKindName, order: number, settings: Settings = {}): Part {
  return makePart({ id: `${of.id}-${name.replaceAll(' ', '-')}`, member: of.id, name, kind, order, settings })
}

function rod(of: Member, name: string, truth: Truth, known: string, until: number): AnyRecord[] {
  const { points, width } = truth.rods.find((one) => one.name === known)!
  const one = part(of, name, 'rod', 1, { widthHeel: width, widthTip: width - 2, reach: 0 })
  return [one, ...keysFor(one, points.slice(0, until + 1))]
}

/** What covers a blade: face and hat as ovals of the same middle, size and turn. */
function headOf(of: Member, truth: Truth, figure: string, until: number): AnyRecord[] {
  return ['head', 'crown', 'brim'].flatMap((name, i) => {
    const { points } = truth.outlines.find((one) => one.name === name && one.figure === figure)!
    const one = part(of, name, 'oval', i + 1)
    return [one, ...keysFor(one, alike(points.slice(0, until + 1).map(ovalOf)))]
  })
}

/** As few keys as keep the in-betweens within a pixel and a half of the drawn truth, the worst frame first. */
function keysFor(one: Part, truth: number[][]): AnyRecord[] {
  const frames = [0, truth.length - 1]
  const keys = () => frames.map((frame) => makeKey(one.id, frame, truth[frame]!))
  for (;;) {
    const track = { keys: keys(), aways: [], tween: one.tween, hold: false }
    let worst = { frame: -1, error: 1.5 }
    truth.forEach((points, frame) => {
      const between = shapeAt(track, frame)!
      const error = Math.max(...between.map((v, k) => Math.abs(v - points[k]!)))
      if (error > worst.error) worst = { frame, error }
    })
    if (worst.frame < 0) break
    frames.push(worst.frame)
    frames.sort((a, b) => a - b)
  }
  return keys()
}

/** The same ovals with their axes in the order and direction that lie nearest to the frame before. */
function alike(ovals: number[][]): number[][] {
  let before = ovals[0]!
  return ovals.map((oval) => {
    const [x, y, ax, ay, bx, by] = oval as [number, number, number, number, number, number]
    const turned = [
      oval,
      [x, y, bx, by, 2 * x - ax, 2 * y - ay],
      [x, y, 2 * x - ax, 2 * y - ay, 2 * x - bx, 2 * y - by],
      [x, y, 2 * x - bx, 2 * y - by, ax, ay],
    ]
    const apart = (one: number[]) => one.reduce((sum, v, i) => sum + (v - before[i]!) ** 2, 0)
    before = turned.reduce((best, one) => (apart(one) < apart(best) ? one : best))
    return before
  })
}

/** Ellipse with the centre and second moments of area of an outline: centre and ends of its half-axes. */
function ovalOf(nodes: number[]): number[] {
  const p = polygonOf(nodes)
  const area = polygonArea(p)
  let [mx, my, xx, yy, xy] = [0, 0, 0, 0, 0]
  for (let i = 0; i < p.length; i += 2) {
    const j = (i + 2) % p.length
    const [x0, y0, x1, y1] = [p[i]!, p[i + 1]!, p[j]!, p[j + 1]!]
    const cross = x0 * y1 - x1 * y0
    mx += ((x0 + x1) * cross) / 6
    my += ((y0 + y1) * cross) / 6
    xx += ((x0 * x0 + x0 * x1 + x1 * x1) * cross) / 12
    yy += ((y0 * y0 + y0 * y1 + y1 * y1) * cross) / 12
    xy += ((x0 * y1 + 2 * x0 * y0 + 2 * x1 * y1 + x1 * y0) * cross) / 24
  }
  const [cx, cy] = [mx / area, my / area]
  const [a, b, c] = [xx / area - cx * cx, xy / area - cx * cy, yy / area - cy * cy]
  const turn = Math.atan2(2 * b, a - c) / 2
  const spread = Math.hypot((a - c) / 2, b)
  // A filled ellipse has a variance of a quarter of the squared half-axis.
  const [long, short] = [2 * Math.sqrt((a + c) / 2 + spread), 2 * Math.sqrt((a + c) / 2 - spread)]
  const [dx, dy] = [Math.cos(turn), Math.sin(turn)]
  return [cx, cy, cx + dx * long, cy + dy * long, cx - dy * short, cy + dx * short].map(
    (v) => Math.round(v * 100) / 100,
  )
}
