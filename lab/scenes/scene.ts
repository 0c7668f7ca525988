import type { Canvas } from './paint.ts'

/** What is known of the drawn clip, frame by frame: the measure of followers and mattes. */
export interface Truth {
  scene: string
  seed: number
  width: number
  height: number
  rate: number
  frames: number
  /** [heel x, heel y, tip x, tip y] in plate pixels at the middle of the shutter. */
  rods: { name: string; width: number; points: number[][]; behindHead: number[]; tipOutside: number[] }[]
  /** Nodes of outlines (six numbers a node): the head on its own and, together, everything of the figure. */
  outlines: { name: string; figure: string; points: number[][] }[]
  contacts: { frame: number; x: number; y: number }[]
}

/** A figure's shapes at a time, in camera coordinates, with what draws them. */
export interface Posed {
  draw(target: Canvas): void
  rods: { name: string; width: number; points: number[]; head: string }[]
  outlines: { name: string; figure: string; nodes: number[] }[]
}

export interface Performance {
  /** What stands still, drawn once, `margin` pixels larger on each side. */
  background: () => Canvas
  /** Everything that moves at a time in frames. */
  at(time: number): Posed
  contacts: number[]
  /** Pixels by which the camera's picture of the world is moved at a time, besides its sway; at most 16. */
  follow?(time: number): { x: number; y: number }
}

/** A scene of the demo: a new one is its file and a line in `index.ts`. */
export interface Scene {
  name: string
  file: string
  frames: number
  /** Frame of the small picture for the shelf. */
  thumbnail: number
  codec: 'h264' | 'vp9'
  sound: boolean
  perform(seed: number): Performance
}

export const frameSize = { width: 1280, height: 720, rate: 24, margin: 24 }
