/** Limits that every side keeps to; refusals name them. */
export const limits = {
  name: 80,
  side: { min: 16, max: 4096 },
  pixels: 4096 * 2304,
  frames: 20_000,
  rate: { min: 0.01, max: 1000 },
  coordinate: 1e6,
  numbers: 3000,
  brush: 400,
  matteLetters: 4_000_000,
  diffRecords: 20_000,
  /** Looks of one file, and of one project. */
  looks: 300,
  uploadBytes: 4 * 1024 ** 3,
} as const
