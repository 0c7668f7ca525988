import { say } from '../say.ts'
import { cubicBezierEasing } from '../geometry/easing.ts'
import type { Bend } from './curves.ts'

/** What traced motion and the film can say at a time, to feed a number. */
export const signals = {
  tipSpeed: { label: say`tip speed`, unit: say`px/frame`, needs: 'rod', usual: [0, 40] },
  heelSpeed: { label: say`heel speed`, unit: say`px/frame`, needs: 'rod', usual: [0, 20] },
  speed: { label: say`speed`, unit: say`px/frame`, needs: 'one', usual: [0, 40] },
  angle: { label: say`angle`, unit: '°', needs: 'one', usual: [-180, 180] },
  turning: { label: say`turning speed`, unit: say`°/frame`, needs: 'one', usual: [0, 15] },
  length: { label: say`length`, unit: 'px', needs: 'one', usual: [0, 400] },
  area: { label: say`area`, unit: 'px²', needs: 'one', usual: [0, 20000] },
  approach: { label: say`coming closer`, unit: say`%/frame`, needs: 'one', usual: [-8, 8] },
  x: { label: say`place across`, unit: 'px', needs: 'one', usual: [0, 1280] },
  y: { label: say`place down`, unit: 'px', needs: 'one', usual: [0, 720] },
  distance: { label: say`distance`, unit: 'px', needs: 'two', usual: [0, 400] },
  contact: { label: say`contact`, unit: say`frames since`, needs: 'two', usual: [0, 12] },
  brightness: { label: say`brightness`, unit: say`from black 0 to white 1`, needs: 'one', usual: [0, 1] },
  loudness: { label: say`loudness`, unit: say`dB of full scale`, needs: 'sound', usual: [-50, -10] },
  join: { label: say`the join`, unit: say`of it, 0 to 1`, needs: 'nobody', usual: [0, 1] },
} as const
export type SignalName = keyof typeof signals

/** Stands for all sounds of a shot, as they are heard together. */
export const wholeMix = 'mix'

/** A number fed by a signal of the traced motion. */
export interface Drive {
  signal: SignalName
  /**
   * Id of the member it is read from, or of the clip whose sound it is ('' for the shot's own), of the sound of the shot
   * ({@link wholeMix} for all of them together), and of the second member where the signal is between two; else ''.
   */
  of: string
  with: string
  /** The signal's range that becomes the number's; beyond it the number stays at its end. */
  from: [number, number]
  to: [number, number]
  /** Form of the way between. */
  bend: Bend
  /** Frames over which the signal is smoothed (sigma of a Gaussian), and by which it comes late. */
  smooth: number
  lag: number
}

/** A drive to begin with: the speed of a member, from the number's default up; of decibels up to the default. */
export function freshDrive(number: { min: number; max: number; default: number; unit?: string }, of: string): Drive {
  const least = Math.max(number.min, 0)
  const quiet = Math.max(number.min, number.default - 24)
  return {
    ...{ signal: 'speed', of, with: '', from: [0, 40], bend: [0, 0, 1, 1], smooth: 1, lag: 0 },
    to: number.unit === 'dB' ? [quiet, number.default] : [least, number.default > least ? number.default : number.max],
  }
}

/** The number that a drive makes of its signal. */
export function driven({ from, to, bend }: Drive, input: number): number {
  const [low, high] = from
  const u = high === low ? (input >= high ? 1 : 0) : Math.max(0, Math.min(1, (input - low) / (high - low)))
  return to[0] + (to[1] - to[0]) * cubicBezierEasing(...bend, u)
}

/** Reads a drive's signal at a time, smoothed and late as the drive says; null where there is nothing to read. */
export type ReadSignal = (drive: Drive, time: number) => number | null
