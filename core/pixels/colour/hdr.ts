/*
 * High dynamic range to what a screen of BT.709 shows. The steps are those of ITU-R BT.2446-1, method A, for 1000 cd/m2 down
 * to 100; light comes out of the codes by ITU-R BT.2100-2 (HLG with its OOTF at 1000 cd/m2, PQ), wide primaries by ITU-R
 * BT.2087. Where the brightest is cut instead, diffuse white stays white: 203 cd/m2 by ITU-R BT.2408. All values of colours are 0
 * to 1.
 */

type Rgb = [number, number, number]

/** What the codes of a wide or bright clip mean: HLG and PQ in BT.2020, or BT.2020 or Display P3 as bright as any other clip. */
export type WideTransfer = 'hlg' | 'pq' | 'sdr' | 'p3'

/** What becomes of light that is brighter than a screen of BT.709 shows: all of it is kept, closer together, or it is cut. */
export type BrightLight = 'kept' | 'cut'

/** Light of the brightest white that is mapped, cd/m2, of the screen's, and of diffuse white. */
const [brightest, screen, diffuse] = [1000, 100, 203]

/** Light of a scene from a code of HLG (inverse OETF): 0 to 1. */
export function hlgScene(code: number): number {
  const [a, b, c] = [0.17883277, 0.28466892, 0.55991073]
  return code <= 0.5 ? (code * code) / 3 : (Math.exp((code - c) / a) + b) / 12
}

/** Light of a screen from a code of PQ (EOTF): cd/m2. */
export function pqLight(code: number): number {
  const [m1, m2, c1, c2, c3] = [2610 / 16384, (2523 / 4096) * 128, 3424 / 4096, (2413 / 4096) * 32, (2392 / 4096) * 32]
  const root = code ** (1 / m2)
  return 10000 * (Math.max(0, root - c1) / (c2 - c3 * root)) ** (1 / m1)
}

/** Luma weights of BT.2020. */
const [kr, kg, kb] = [0.2627, 0.678, 0.0593]

/** Light of a screen of {@link brightest} cd/m2, from codes: 1 is that much. */
function displayLight(codes: Rgb, transfer: 'hlg' | 'pq'): Rgb {
  if (transfer === 'pq') return codes.map((code) => Math.min(1, pqLight(code) / brightest)) as Rgb
  const scene = codes.map(hlgScene) as Rgb
  // The OOTF of a screen of 1000 cd/m2 has a gamma of 1.2.
  const gain = Math.max(1e-9, kr * scene[0] + kg * scene[1] + kb * scene[2]) ** 0.2
  return scene.map((light) => Math.min(1, light * gain)) as Rgb
}

/** The tone of a luma (of light to the power of 1/2.4, 1 at {@link brightest}) on the screen, in the same way. */
export function tone(luma: number): number {
  const rho = (nits: number) => 1 + 32 * (nits / 10000) ** (1 / 2.4)
  const perceived = Math.log(1 + (rho(brightest) - 1) * luma) / Math.log(rho(brightest))
  const compressed =
    perceived <= 0.7399
      ? 1.077 * perceived
      : perceived < 0.9909
        ? (-1.151 * perceived + 2.7811) * perceived - 0.6302
        : 0.5 * perceived + 0.5
  return (rho(screen) ** compressed - 1) / (rho(screen) - 1)
}

/** Colours of BT.2020 as those of BT.709, both as light; what lies beyond is cut. */
export function narrowed([r, g, b]: Rgb): Rgb {
  const out: Rgb = [
    1.6605 * r - 0.5876 * g - 0.0728 * b,
    -0.1246 * r + 1.1329 * g - 0.0083 * b,
    -0.0182 * r - 0.1006 * g + 1.1187 * b,
  ]
  return out.map((light) => Math.max(0, Math.min(1, light))) as Rgb
}

/** The same of the colours of Display P3 (SMPTE EG 432-1, white D65). */
export function narrowedP3([r, g, b]: Rgb): Rgb {
  const out: Rgb = [1.22494 * r - 0.22494 * g, -0.04206 * r + 1.04206 * g, -0.01964 * r - 0.07864 * g + 1.09827 * b]
  return out.map((light) => Math.max(0, Math.min(1, light))) as Rgb
}

/** Codes of a wide or bright clip (R, G, B) as codes of BT.709 on a screen of gamma 2.4. */
export function shown(codes: Rgb, transfer: WideTransfer, bright: BrightLight = 'kept'): Rgb {
  const encode = (light: Rgb) => light.map((v) => Math.max(0, v) ** (1 / 2.4)) as Rgb
  const decode = (code: Rgb) => code.map((v) => Math.max(0, v) ** 2.4) as Rgb
  if (transfer === 'p3') return encode(narrowedP3(decode(codes)))
  if (transfer === 'sdr') return encode(narrowed(decode(codes)))
  const light = displayLight(codes, transfer)
  if (bright === 'cut') return encode(narrowed(light.map((v) => (v * brightest) / diffuse) as Rgb))
  const [r, g, b] = encode(light)
  const luma = kr * r + kg * g + kb * b
  const toned = tone(luma)
  const weaker = luma > 0 ? toned / (1.1 * luma) : 0
  const [cb, cr] = [((b - luma) / 1.8814) * weaker, ((r - luma) / 1.4746) * weaker]
  const y = toned - Math.max(0.1 * cr, 0)
  const [red, blue] = [y + 1.4746 * cr, y + 1.8814 * cb]
  const green = (y - kr * red - kb * blue) / kg
  return encode(narrowed(decode([red, green, blue])))
}

/**
 * {@link shown} as a table of the open form .cube, `size` values a side, red running fastest: a piece for every blue. Read by
 * tetrahedra, 49 values a side are 0.1 to 0.2 levels of 255 off in the mean; 33 are twice that.
 */
export function* cubeOf(transfer: WideTransfer, bright: BrightLight = 'kept', size = 49): Generator<string> {
  yield `LUT_3D_SIZE ${size}\n`
  const at = (i: number) => i / (size - 1)
  for (let b = 0; b < size; b++) {
    const lines: string[] = []
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++)
        lines.push(
          shown([at(r), at(g), at(b)], transfer, bright)
            .map((v) => v.toFixed(6))
            .join(' '),
        )
    yield `${lines.join('\n')}\n`
  }
}
