import { spawnSync } from 'node:child_process'
import { Chance } from '../support/chance.ts'
import { ffprobeProgram } from '../support/ffmpeg.ts'
import type { Background } from './backgrounds.ts'

export const groundSize = { width: 1280, height: 720 }

export const moves = ['swing', 'thrust', 'twirl', 'two sticks', 'passes behind', 'regrip'] as const
export type Move = (typeof moves)[number]
export const cameras = ['steady', 'handheld', 'pan'] as const
export type Camera = (typeof cameras)[number]
/** How a hand lies on its rod: as if grown on, turning on it, a second hand beside it, a sleeve down to the knuckles. */
export const hands = ['stiff', 'turning', 'two', 'sleeve'] as const
export type Hand = (typeof hands)[number]

/** A drawn performance over a background, told by numbers alone. */
export interface Case {
  name: string
  seed: number
  background: Background
  /** Seconds into the background. */
  start: number
  frames: number
  rate: 24 | 30
  /** Degrees that the shutter is open of 360. */
  shutter: number
  camera: Camera
  move: Move
  hand: Hand
  /** Whether the performer's body stands behind the rod. */
  body: boolean
  /** Whether what comes nearer to the camera grows, so that the rod's width changes. */
  perspective: boolean
  /** Width of the rod at heel and tip, length where it lies across the view: px. */
  rod: { heel: number; tip: number; length: number; colour: string }
  /** Levels of grain, and how strongly the phone's coder squeezes (CRF of H.264). */
  grain: number
  crf: number
}

/** Colours of rods, as codes of sRGB in 0..255 from heel to tip. */
export const rodColours: Record<string, [number, number, number][]> = {
  pine: [
    [196, 160, 110],
    [214, 182, 132],
  ],
  dark: [
    [46, 38, 32],
    [38, 32, 30],
  ],
  white: [
    [226, 226, 220],
    [238, 238, 236],
  ],
  red: [
    [168, 32, 30],
    [188, 44, 36],
  ],
  steel: [
    [120, 126, 132],
    [150, 156, 162],
  ],
  banded: [
    [40, 40, 44],
    [210, 200, 170],
    [52, 46, 44],
    [220, 208, 180],
  ],
  green: [
    [52, 120, 60],
    [70, 150, 74],
  ],
  bamboo: [
    [140, 116, 66],
    [170, 142, 80],
    [150, 124, 70],
  ],
}

/** As many cases as asked for: every move and every background comes by in turn, the rest is chance. */
export function casesOf(backgrounds: readonly Background[], count: number, seed: number, perspective = false): Case[] {
  const clips = backgrounds.filter(({ is }) => is === 'clip')
  const photographs = backgrounds.filter(({ is }) => is === 'photograph')
  if (clips.length + photographs.length === 0) throw new Error('There is no clip and no photograph in that folder.')
  const frames = 72
  return Array.from({ length: count }, (_, i) => {
    const chance = new Chance(1000 * seed + 7919 * i + 17)
    chance.below(3)
    const panned = photographs.length > 0 && (clips.length === 0 || i % 4 === 3)
    const background = panned ? photographs[(i >> 2) % photographs.length]! : clips[i % clips.length]!
    const move = perspective && i % 2 === 0 ? 'thrust' : moves[i % moves.length]!
    const heel = chance.between(6, 20)
    return {
      name: `${String(i + 1).padStart(2, '0')} ${move}, ${background.name}`,
      seed: 100 * seed + i,
      background,
      start: panned ? 0 : chance.between(0.03, 0.8) * Math.max(0, secondsOf(background.file) - frames / 20),
      ...{ frames, perspective },
      rate: chance.one([24, 30] as const),
      shutter: chance.one([90, 180, 180, 270, 360]),
      camera: panned ? 'pan' : chance.one(['steady', 'handheld', 'handheld'] as const),
      move,
      hand: hands[(i + (i >> 2)) % hands.length]!,
      body: chance.happens(0.6),
      rod: {
        heel,
        tip: heel * chance.between(0.6, 1.05),
        length: chance.between(200, 400),
        colour: chance.one(Object.keys(rodColours)),
      },
      grain: chance.between(0.6, 2.4),
      crf: chance.one([20, 23, 26, 29]),
    }
  })
}

function secondsOf(file: string): number {
  const { stdout } = spawnSync(
    ffprobeProgram,
    ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', file],
    { encoding: 'utf8' },
  )
  return Number(stdout) || 0
}
