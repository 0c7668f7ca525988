import type { Plate } from '#core/records/types.ts'

/* What found.ts keeps beside the demo's footage. */

/** Where the still of a clean plate lies, as a Plate says it, and its size. */
export interface FoundPlate extends Pick<Plate, 'x' | 'y' | 'from' | 'motions'> {
  width: number
  height: number
}

/** A followed frame: points to a tenth of a pixel, and how sure it is. */
export interface Found {
  frame: number
  points: number[]
  confidence: number
}
