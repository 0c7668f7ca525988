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

/** What the hand holds on to on a row, until it lets go. */
export interface Grip {
  move(x: number, y: number): void
  drop(): void
}
