/** What learned detectors look for in a frame. */
export type Sought = 'people' | 'faces' | 'hands'

/** Something that a detector found, in plate pixels. */
export interface Detected {
  what: Sought
  /** 0 to 1. */
  confidence: number
  /** Left, top, right, bottom. */
  box: readonly [number, number, number, number]
  /** Places as the detector numbers them, flat. */
  places: readonly number[]
  /** Closed lines by name, as indices of places in their order. */
  lines: Readonly<Record<string, readonly number[]>>
  /** How much each pixel of a small copy of the picture belongs to a person, 0..255; of people only. */
  mask: { width: number; height: number; data: Uint8Array } | null
}
