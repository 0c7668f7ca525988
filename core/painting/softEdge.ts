import { type Raster, rasterOf } from '../pixels/buffers/raster.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { signedDistance } from '../pixels/filters/distance.ts'
import { type FollowPicture, softened } from '../tracking/frame.ts'
import { type Grid, gridOf, gridSize } from './grid.ts'

const slots = { edge: new Slot() }

/*
 * The soft edge of a matte. Within a band along the hard edge a pixel is a mixture of what lies on both sides; its share
 * is its place on the line between both sides' colours nearby, as in the matting equation C = aF + (1 - a)B (Porter and
 * Duff, "Compositing Digital Images", SIGGRAPH 1984). Where both sides look alike the hard edge stays, softened by a pixel.
 */

/** Levels of brightness and colour apart below which a mixture can not be told from grain. */
const telling = 14

/**
 * The matte of the pixels that are wanted on a grid, at full size. `reach`: half the width of the band in plate pixels, 1
 * for a plain edge, 20 and more for hair.
 */
export function softEdge(picture: FollowPicture, grid: Grid, label: Uint8Array, reach: number): Raster | null {
  const box = labelled(grid, label)
  if (!box) return null
  const { step } = grid
  const pad = Math.ceil(reach) + 2 * step
  const whole = gridSize(picture, 1)
  const x = Math.max(0, box.x * step - pad)
  const y = Math.max(0, box.y * step - pad)
  const width = Math.min(whole.width, (box.x + box.width) * step + pad) - x
  const height = Math.min(whole.height, (box.y + box.height) * step + pad) - y
  const cover = enlarged(grid, label, x, y, width, height)
  const scratch = new Scratch()
  const distance = signedDistance({ data: cover, width, height }, scratch, slots.edge)
  const own = gridOf(picture, 1, { x, y, width, height })
  const planes = [own.luma, own.u, own.v]
  const inside = nearby(planes, distance, width, height, reach, -1)
  const outside = nearby(planes, distance, width, height, reach, 1)
  const mixed = new Float32Array(width * height)
  const trust = new Float32Array(width * height)
  /** Shares as they are, and how little grain there is in them: where both sides are far apart no neighbour is asked. */
  const shares = new Float32Array(width * height)
  const clear = new Float32Array(width * height)
  for (let i = 0; i < mixed.length; i++) {
    if (Math.abs(distance[i]!) > reach + 0.5) continue
    let [along, contrast, apart] = [0, 0, 0]
    for (let c = 0; c < 3; c++) {
      const weight = c ? 2 : 1
      const line = inside[c]![i]! - outside[c]![i]!
      const from = planes[c]![i]! - outside[c]![i]!
      along += weight * line * from
      contrast += weight * line * line
      apart += weight * from * from
    }
    const share = contrast > 1 ? along / contrast : 0
    // What lies far off the line is neither of both nor a mixture of them.
    const off = Math.max(0, apart - share * along)
    const fits = Math.exp(-off / (0.5 * contrast + telling * telling))
    shares[i] = Math.max(0, Math.min(1, share))
    trust[i] = (contrast / (contrast + telling * telling)) * fits
    clear[i] = (contrast / (contrast + 9 * telling * telling)) * fits
    mixed[i] = trust[i]! * shares[i]!
  }
  softened(mixed, width, height)
  softened(trust, width, height)
  const out = new Uint8Array(width * height)
  for (let i = 0; i < out.length; i++) {
    const d = distance[i]!
    if (d <= -reach - 0.5) out[i] = 255
    else if (d <= reach + 0.5) {
      const plain = Math.max(0, Math.min(1, 0.5 - d / 2))
      // The band ends gently: at its rims the hard edge has its way.
      const rim = Math.min(1, (reach + 0.5 - Math.abs(d)) / (0.15 * reach + 0.5))
      const t = Math.min(1, trust[i]!) * rim
      const smooth = trust[i]! > 1e-4 ? mixed[i]! / trust[i]! : plain
      const share = smooth + (shares[i]! - smooth) * clear[i]!
      out[i] = Math.round(255 * (plain + (share - plain) * t))
    }
  }
  return rasterOf(out, { x, y, width, height })
}

function labelled({ width, height, x, y }: Grid, label: Uint8Array) {
  let [x0, y0, x1, y1] = [width, height, -1, -1]
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++)
      if (label[j * width + i]) {
        x0 = Math.min(x0, i)
        x1 = Math.max(x1, i)
        y0 = Math.min(y0, j)
        y1 = Math.max(y1, j)
      }
  return x1 < 0 ? null : { x: x + x0, y: y + y0, width: x1 - x0 + 1, height: y1 - y0 + 1 }
}

/** The wanted pixels of a grid as coverage at full size, without the steps of the grid. */
function enlarged(grid: Grid, label: Uint8Array, x: number, y: number, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height)
  const smooth = Float32Array.from(label)
  if (grid.step > 1) softened(smooth, grid.width, grid.height)
  // The last row and column that have a neighbour after them; a grid of one pixel is its own.
  const [lastX, lastY] = [Math.max(0, grid.width - 2), Math.max(0, grid.height - 2)]
  const [right, below] = [grid.width > 1 ? 1 : 0, grid.height > 1 ? grid.width : 0]
  for (let j = 0; j < height; j++) {
    const gy = Math.max(0, Math.min(grid.height - 1, (y + j + 0.5) / grid.step - 0.5 - grid.y))
    const iy = Math.min(lastY, gy | 0)
    for (let i = 0; i < width; i++) {
      const gx = Math.max(0, Math.min(grid.width - 1, (x + i + 0.5) / grid.step - 0.5 - grid.x))
      const ix = Math.min(lastX, gx | 0)
      const at = iy * grid.width + ix
      const top = smooth[at]! + (smooth[at + right]! - smooth[at]!) * (gx - ix)
      const low = smooth[at + below]! + (smooth[at + below + right]! - smooth[at + below]!) * (gx - ix)
      // Steeper than the softening made it: a pixel is its whole way.
      out[j * width + i] = Math.max(0, Math.min(1, 0.5 + grid.step * (top + (low - top) * (gy - iy) - 0.5)))
    }
  }
  return out
}

/**
 * Mean colours of one side near each pixel. Places deeper in than the band count in full; in what is thinner than the band
 * the deepest there is still counts a little.
 */
function nearby(
  planes: Float32Array[],
  distance: Float32Array,
  width: number,
  height: number,
  reach: number,
  sign: 1 | -1,
): Float32Array[] {
  const weight = new Float32Array(distance.length)
  for (let i = 0; i < weight.length; i++) {
    const deep = Math.max(0, (sign * distance[i]!) / (reach + 0.5))
    if (deep > 0) weight[i] = deep >= 1 ? (deep < 4 ? 1 : 0.05) : 0.01 * deep ** 4 + 1e-6
  }
  const radius = Math.max(2, Math.round(1.2 * reach + 1))
  const sums = planes.map((plane) =>
    blurredTwice(
      plane.map((value, i) => value * weight[i]!),
      width,
      height,
      radius,
    ),
  )
  const all = blurredTwice(weight, width, height, radius)
  for (const sum of sums) for (let i = 0; i < sum.length; i++) sum[i]! /= Math.max(1e-12, all[i]!)
  return sums
}

/** Sums over a box of 2 radius + 1, twice, which comes near a Gaussian; beyond the piece is nothing. In place. */
function blurredTwice(data: Float32Array, width: number, height: number, radius: number): Float32Array {
  const rows = new Float32Array(data.length)
  // Doubles: sums of weights far apart in size must not lose the small ones.
  const sums = new Float64Array(width)
  for (let turn = 0; turn < 2; turn++) {
    for (let y = 0; y < height; y++) {
      const start = y * width
      let sum = 0
      for (let i = 0; i < Math.min(radius, width); i++) sum += data[start + i]!
      for (let i = 0; i < width; i++) {
        if (i + radius < width) sum += data[start + i + radius]!
        if (i - radius - 1 >= 0) sum -= data[start + i - radius - 1]!
        rows[start + i] = sum
      }
    }
    sums.fill(0)
    for (let y = -radius; y < height; y++) {
      const [enter, leave, at] = [(y + radius) * width, (y - radius - 1) * width, y * width]
      if (y + radius < height) for (let x = 0; x < width; x++) sums[x]! += rows[enter + x]!
      if (leave >= 0) for (let x = 0; x < width; x++) sums[x]! -= rows[leave + x]!
      if (y >= 0) for (let x = 0; x < width; x++) data[at + x] = Math.max(0, sums[x]!)
    }
  }
  return data
}
