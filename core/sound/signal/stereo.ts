/** Samples a second that everything is worked on at. */
export const soundRate = 48_000
/** Samples that are made at once: numbers that move are read once a block and go straight in between. */
export const blockSize = 128

/** Two channels of samples of equal length, -1 to 1 at full scale. */
export interface Stereo {
  left: Float32Array
  right: Float32Array
}

export const stereo = (samples: number): Stereo => ({
  left: new Float32Array(samples),
  right: new Float32Array(samples),
})

/** The factor of so many decibels. */
export const gainOf = (decibels: number): number => 10 ** (decibels / 20)
/** Decibels of a factor; -Infinity for 0. */
export const decibelsOf = (gain: number): number => 20 * Math.log10(gain)
/** The factor of frequency of so many semitones of equal temperament. */
export const ratioOf = (semitones: number): number => 2 ** (semitones / 12)
