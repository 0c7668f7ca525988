/** Limits that every side keeps to; refusals name them. */
export const limits = {
  name: 80,
  side: { min: 16, max: 4096 },
  pixels: 4096 * 2304,
  frames: 20_000,
  coordinate: 1e6,
  numbers: 3000,
  brush: 400,
  matteLetters: 4_000_000,
  diffRecords: 20_000,
  uploadBytes: 4 * 1024 ** 3,
} as const
