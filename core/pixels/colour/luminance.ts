/** Weights of R, G and B in luminance: ITU-R BT.709-6 and BT.601-7. */
export const lumaWeights = { bt709: [0.2126, 0.7152, 0.0722], bt601: [0.299, 0.587, 0.114] } as const
const [red, green, blue] = lumaWeights.bt709

/** BT.709 luminance of the pixel whose red is number `i`. */
export const luminanceAt = (data: Float32Array, i: number): number =>
  red * data[i]! + green * data[i + 1]! + blue * data[i + 2]!
