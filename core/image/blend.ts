/**
 * Separable blending of light with what is behind it, on values 0..1.
 * Screen: W3C Compositing and Blending Level 1, 9.1.2; Add: plus-lighter, the same text, 10.1.
 */
export const blendChannel = {
  add: (behind: number, light: number): number => behind + light,
  screen: (behind: number, light: number): number => behind + light - behind * light,
} as const
