/** Limits that every side keeps to; refusals name them. */
export const limits = {
  name: 80,
  side: { min: 16, max: 4096 },
  pixels: 4096 * 2304,
  /** Pixels of a frame above which it is large: seen smaller than it is, and drawn by few at once. */
  usualFrame: 1920 * 1088,
  /** Eighteen hours at 30 frames a second: what a clip may take is said by the disk, this by what a damaged header makes up. */
  frames: 2_000_000,
  /** Frames that a shot of a still may have. */
  stillFrames: 10_000,
  rate: { min: 0.01, max: 1000 },
  coordinate: 1e6,
  numbers: 3000,
  brush: 400,
  matteLetters: 4_000_000,
  diffRecords: 20_000,
  /** Pieces of a shot that run at speeds of their own; the slowest and the fastest speed. */
  timePieces: 500,
  speed: { min: 0.02, max: 20 },
  /** Moments of a sound that were set by hand. */
  beads: 2000,
  /** Looks of one file, and of one project. */
  looks: 300,
} as const
