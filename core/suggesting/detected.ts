/** What learned detectors look for in a frame. */
export type Sought = 'people' | 'faces' | 'hands'

/** Left, top, right, bottom in plate pixels. */
export type Box = readonly [left: number, top: number, right: number, bottom: number]

/** Something that a detector found, in plate pixels. */
export interface Detected {
  what: Sought
  /** 0 to 1. */
  confidence: number
  box: Box
  /** Places as the detector numbers them, flat. */
  places: readonly number[]
  /** Closed lines by name, as indices of places in their order. */
  lines: Readonly<Record<string, readonly number[]>>
  /** Of people only. */
  mask: PersonMask | null
}

/** How much each pixel of a small copy of a part of the picture belongs to a person, 0..255. */
export interface PersonMask {
  width: number
  height: number
  data: Uint8Array
  /** The part of the picture. */
  box: Box
}
