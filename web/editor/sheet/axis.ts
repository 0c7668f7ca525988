/** How frames lie across the sheet. */
export interface SheetAxis {
  /** Middle of a frame's column in CSS pixels. */
  xOf(frame: number): number
  /** Frame of the shot under a place, kept within the shot. */
  frameAt(x: number): number
  /** Width of a frame's column. */
  perFrame: number
  /** Where the columns begin and end. */
  left: number
  right: number
}

export interface SheetRow {
  id: string
  name: string
  /** Whose it is, behind the name. */
  owner?: string
  /** A second line below the name. */
  note?: string
  colour: string
  height: number
  chosen: boolean
  /** Stays below the ruler however far the others are scrolled; such rows come first. */
  pinned?: boolean
}

/** Px of the ruler above all rows, of a part's lane, of the speed above them, of the lane of a number that moves, and of the one of time. */
export const heights = { ruler: 26, part: 28, speed: 34, curve: 66, clipPlaces: 96 } as const

/** Px that a frame sheet needs for so many parts. */
export const sheetHeight = (parts: number, chosen: boolean): number =>
  heights.ruler + heights.part * Math.max(1, parts) + (chosen ? heights.speed : 0) + 2

/** What the hand holds on to on a row, until it lets go. */
export interface Grip {
  move(x: number, y: number): void
  drop(): void
}

/**
 * Frames at which a line over all of `length` frames is drawn: those in sight, one a pixel at most; between whole ones where
 * `smooth` and there is room.
 */
export function drawnFrames({ xOf, perFrame, left, right }: SheetAxis, length: number, smooth = false): number[] {
  const step = perFrame < 1 ? Math.ceil(1 / perFrame) : smooth ? Math.min(1, 3 / perFrame) : 1
  const frameOf = (x: number) => (x - xOf(0)) / perFrame
  const from = Math.max(0, Math.floor(frameOf(left) / step) - 1)
  const to = Math.min(Math.floor((length - 1) / step), Math.ceil(frameOf(right) / step) + 1)
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => (from + i) * step)
}
