import { type BorderMode, withinBorder } from '../buffers/border.ts'
import type { Rgba } from '../buffers/picture.ts'
import { floatsToI420, yuvToFloats, yuvToReducedRgba, yuvToRgba } from '../buffers/yuv.ts'
import { luminanceAt } from '../colour/luminance.ts'
import { encodeSteps } from '../colour/transfer.ts'
import type { Kernels } from './interface.ts'
import { phi } from './phi.ts'
import { behindKnown, stationSays, viewNumbers } from './station.ts'

export const plainKernels: Kernels = {
  mixLines(data, [a, b], weight, out, start, end) {
    for (let i = start; i < end; i++) {
      const top = data[a + i]!
      out[i] = top + (data[b + i]! - top) * weight
    }
  },
  enlargeLine({ data: line, at: from }, cells, { data: out, at: shift }, width) {
    const pairs = pairsOf(cells, width)
    for (let i = 0, at = from, to = shift; i < pairs; i++, at += 3, to += 6) {
      for (let c = 0; c < 3; c++) {
        const left = line[at + c]!
        const difference = line[at + c + 3]! - left
        out[to + c] = left + 0.25 * difference
        out[to + c + 3] = left + 0.75 * difference
      }
    }
  },
  addEnlargedLine({ data: line, at: from }, { data: out, at: to }, pairs) {
    for (let i = 0; i < pairs; i++, from += 3, to += 6) {
      for (let c = 0; c < 3; c++) {
        const left = line[from + c]!
        const difference = line[from + c + 3]! - left
        out[to + c]! += left + 0.25 * difference
        out[to + c + 3]! += left + 0.75 * difference
      }
    }
  },
  addNumbers({ data: from, at: fromAt }, { data: to, at: toAt }, count) {
    for (let i = 0; i < count; i++) to[toAt + i]! += from[fromAt + i]!
  },
  moveNumbers({ data: from, at: fromAt }, { data: to, at: toAt }, count) {
    for (let i = 0; i < count; i++) to[toAt + i]! += from[fromAt + i]!
    from.fill(0, fromAt, fromAt + count)
  },
  weighRow({ data: from, at: fromAt }, step, weights, { data: out, at: outAt }, count) {
    for (let i = 0; i < count; i++) {
      const at = fromAt + i
      let sum = weights[0]! * from[at]!
      for (let k = 1; k < weights.length; k++) sum += weights[k]! * (from[at - k * step]! + from[at + k * step]!)
      out[outAt + i] = sum
    }
  },
  hideLine({ data: line, at }, { data: hidden, at: hiddenAt }, share, width) {
    for (let x = 0; x < width; x++, at += 3) {
      const h = hidden[hiddenAt + x]!
      if (h === 0) continue
      const left = 1 - h * share
      line[at]! *= left
      line[at + 1]! *= left
      line[at + 2]! *= left
    }
  },
  addLine({ data: line, at }, { data, at: to }, width) {
    for (let x = 0; x < width; x++, at += 3, to += 4) {
      data[to]! += line[at]!
      data[to + 1]! += line[at + 1]!
      data[to + 2]! += line[at + 2]!
    }
  },
  screenLine({ data: line, at }, { data, at: to }, width) {
    for (let x = 0; x < width; x++, at += 3, to += 4) {
      for (let c = 0; c < 3; c++) {
        const behind = data[to + c]!
        const light = line[at + c]!
        if (behind < 1) data[to + c] = behind + (light > 1 ? 1 : light) * (1 - behind)
      }
    }
  },
  nearRow({ data: near, at }, width, x, y, { ux, uy, length, half, taper, round, edge, core: [cr, cg, cb], halos }) {
    for (let column = 0; column < width; column++, x++, at += 3) {
      const u = x * ux + y * uy
      const v = Math.abs(y * ux - x * uy)
      const along = u < 0 ? 0 : u > length ? length : u
      const h = half * (1 - (taper * along) / length)
      const beyond = u - along
      const rounded = Math.sqrt(beyond * beyond + v * v) - h
      const distance = beyond > 0 ? round * rounded + (1 - round) * Math.max(v - h, beyond) : rounded
      const core = phi(-distance / edge)
      let r = core * cr
      let g = core * cg
      let b = core * cb
      for (let k = 0; k < halos.length; k += 4) {
        const sigma = halos[k]!
        if (v > h + 4 * sigma) continue
        const across = phi((v + h) / sigma) - phi((v - h) / sigma)
        const reach = 4 * sigma
        const lengthwise = u > reach && u < length - reach ? 1 : phi(u / sigma) - phi((u - length) / sigma)
        const amount = across * lengthwise
        r += amount * halos[k + 1]!
        g += amount * halos[k + 2]!
        b += amount * halos[k + 3]!
      }
      near[at]! += r
      near[at + 1]! += g
      near[at + 2]! += b
    }
  },
  farRow({ data, at }, width, { v, vStep, u, uStep }, { across, along, steps, light: [r, g, b] }) {
    for (let i = 0; i < width; i++, at += 3) {
      const vi = Math.abs(v + vStep * i)
      const ui = u + uStep * i
      if (vi >= steps || ui < 0 || ui >= 2 * steps) continue
      const vn = vi | 0
      const un = ui | 0
      const amount =
        (across[vn]! + (across[vn + 1]! - across[vn]!) * (vi - vn)) *
        (along[un]! + (along[un + 1]! - along[un]!) * (ui - un))
      data[at]! += amount * r
      data[at + 1]! += amount * g
      data[at + 2]! += amount * b
    }
  },
  foldRows(data, [a, b, c, d], { data: out, at: to }, count) {
    for (let i = 0; i < count; i++)
      out[to + i] = 0.125 * (data[a + i]! + data[d + i]!) + 0.375 * (data[b + i]! + data[c + i]!)
  },
  foldPixels({ data: line, at }, { data: out, at: to }, count) {
    for (let i = 0; i < count; i++, at += 8, to += 4)
      for (let c = at; c < at + 4; c++)
        out[to + c - at] = 0.125 * (line[c]! + line[c + 12]!) + 0.375 * (line[c + 4]! + line[c + 8]!)
  },
  spreadPixels({ data: line, at }, { data: out, at: to }, pairs) {
    for (let i = 0; i < pairs; i++, at += 4, to += 8)
      for (let c = 0; c < 4; c++) {
        const a = line[at + c]!
        const b = line[at + c + 4]!
        const d = (b - a) * 0.25
        out[to + c] = a + d
        out[to + c + 4] = b - d
      }
  },
  addZoomed({ data, width }, { x, dx, y }, { data: out, at: to }, count, gain) {
    const above = Math.floor(y)
    const below = above + 1
    for (let i = 0; i < count; i++) {
      const at = Math.min(width - 1, Math.max(0, x + dx * i))
      const left = Math.min(Math.floor(at), width - 2)
      const top = data[above * width + left]! + (data[above * width + left + 1]! - data[above * width + left]!) * (at - left)
      const low = data[below * width + left]! + (data[below * width + left + 1]! - data[below * width + left]!) * (at - left)
      out[to + i]! += (top + (low - top) * (y - above)) * gain
    }
  },
  addStreaming({ data: amounts, at }, { x, y }, table, [r, g, b], { data: out, at: to }, count) {
    for (let i = 0; i < count; i++, to += 4) {
      const amount = amounts[at + i]!
      if (amount < 1e-4) continue
      const share = amount * table[Math.floor((turnOf(x + i, y) + 0.5) * (table.length - 1))]!
      out[to]! += share * r
      out[to + 1]! += share * g
      out[to + 2]! += share * b
    }
  },
  mixChannels({ data, at }, count, [rr, rg, rb, gr, gg, gb, br, bg, bb]) {
    for (let i = at; i < at + 4 * count; i += 4) {
      const r = data[i]!
      const g = data[i + 1]!
      const b = data[i + 2]!
      const outR = rr * r + rg * g + rb * b
      const outG = gr * r + gg * g + gb * b
      const outB = br * r + bg * g + bb * b
      data[i] = outR < 0 ? 0 : outR
      data[i + 1] = outG < 0 ? 0 : outG
      data[i + 2] = outB < 0 ? 0 : outB
    }
  },
  changeRow({ data: layer, at: from }, { data: under, at: behind }, { data: to, at }, count, opacity, mask) {
    for (let x = 0; x < 4 * count; x += 4) {
      const share = mask ? opacity * mask.data[mask.at + x / 4]! : opacity
      if (share === 0) continue
      const alpha = layer[from + x + 3]!
      for (let k = x; k < x + 4; k++) to[at + k]! += (layer[from + k]! - alpha * under[behind + k]!) * share
      to[at + x + 3] = Math.min(1, to[at + x + 3]!)
    }
  },
  changeOver({ data: front, at }, behind, change, wide, cover, count) {
    for (let x = 0; x < count; x++) {
      const share = wide ? wide.data[wide.at + x]! : 1
      const own = cover.data[cover.at + x]!
      const over = share > 1 - own + 1e-4
      for (let k = 4 * x; k < 4 * x + 4; k++) {
        const was = behind.data[behind.at + k]!
        const shown = front[at + k]!
        const changed = share * change.data[change.at + k]!
        const out = over ? ((1 - share) / own) * (shown - (1 - own) * was) + share * was + changed : shown + changed
        front[at + k] = out < 0 && shown >= 0 ? 0 : out
      }
    }
  },
  sampleLine(source, { x, y, dx, dy }, border, { data: out, at: to }, count) {
    for (let i = 0; i < count; i++, to += 4)
      sampleInto(source, Math.fround(x + dx * i), Math.fround(y + dy * i), border, out, to)
  },
  sampleMesh(source, { nodes, step, offset }, border, { data: out, at: to }, count) {
    for (let i = 0; i < count; i++, to += 4) {
      const at = 2 * Math.floor((offset + i) / step)
      const u = ((offset + i) % step) / step
      const x = nodes[at]! + (nodes[at + 2]! - nodes[at]!) * u
      const y = nodes[at + 1]! + (nodes[at + 3]! - nodes[at + 1]!) * u
      sampleInto(source, x, y, border, out, to)
    }
  },
  mixInto({ data: from, at: fromAt }, { data: to, at: toAt }, count, share) {
    for (let i = 0; i < count; i++) to[toAt + i]! += (from[fromAt + i]! - to[toAt + i]!) * share
  },
  addTinted({ data: from, at: fromAt }, { data: to, at: toAt }, count, tint) {
    for (let i = 0; i < 4 * count; i++) to[toAt + i]! += from[fromAt + i]! * tint[i & 3]!
  },
  layRow(over, { data: from, at: fromAt }, { data: to, at: toAt }, count, share, mask) {
    for (let i = 0; i < count; i++, fromAt += 4, toAt += 4) {
      const s = mask ? share * mask.data[mask.at + i]! : share
      if (s === 0) continue
      const left = over ? 1 - from[fromAt + 3]! * s : 1
      for (let c = 0; c < 4; c++) to[toAt + c] = to[toAt + c]! * left + from[fromAt + c]! * s
      if (!over && to[toAt + 3]! > 1) to[toAt + 3] = 1
    }
  },
  litRow({ data, at }, count, { nodes, step, light: [r, g, b], table, root }) {
    const tones = table.length - 1
    for (let i = 0; i < count; i++, at += 4) {
      const k = Math.floor(i / step)
      const near = nodes[k]! + ((nodes[k + 1]! - nodes[k]!) * (i % step)) / step
      if (near < 0.002) continue
      const light = Math.min(1, Math.max(0, luminanceAt(data, at)))
      const own = table[((root ? Math.sqrt(light) : light) * tones) | 0]!
      data[at]! += near * r * (data[at]! + own)
      data[at + 1]! += near * g * (data[at + 1]! + own)
      data[at + 2]! += near * b * (data[at + 2]! + own)
    }
  },
  screenRow({ data: from, at: fromAt }, { data: to, at: toAt }, count, share, mask) {
    for (let i = 0; i < 4 * count; i++) {
      const s = from[fromAt + i]! * (mask ? share * mask.data[mask.at + (i >> 2)]! : share)
      const b = to[toAt + i]!
      if (s > 0 && b < 1) to[toAt + i] = b + (s > 1 ? 1 : s) * (1 - b)
    }
  },
  relaxPixels({ data, width, height }, unknown, back) {
    const row = 4 * width
    const last = row * (height - 1)
    const n = unknown.length
    for (let k = 0; k < n; k++) {
      const told = unknown[back ? n - 1 - k : k]!
      const i = told & ~1
      let up = i - row
      let down = i + row
      let left = i - 4
      let right = i + 4
      if (told & 1) {
        const x = i % row
        if (i < row) up = i
        if (i >= last) down = i
        if (!x) left = i
        if (x >= row - 4) right = i
      }
      for (let c = 0; c < 3; c++)
        data[i + c] = 0.25 * (data[up + c]! + data[down + c]! + data[left + c]! + data[right + c]!)
    }
  },
  addStretched({ data: line, at }, cells, { x, dx }, { data: out, at: to }, count, gain) {
    for (let i = 0; i < count; i++, to += 4) {
      const place = Math.fround(x + dx * i) - 0.5
      const k = Math.floor(place)
      for (let c = 0; c < 4; c++) {
        const a = k >= 0 && k < cells ? line[at + 4 * k + c]! : 0
        const b = k >= -1 && k + 1 < cells ? line[at + 4 * k + 4 + c]! : 0
        out[to + c]! += (a + (b - a) * (place - k)) * gain
      }
    }
  },
  addScaled({ data: from, at: fromAt }, { data: to, at: toAt }, count, share) {
    for (let i = 0; i < count; i++) to[toAt + i]! += from[fromAt + i]! * share
  },
  sumPixels({ data: line, at }, { data: out, at: to }, count) {
    out.fill(0, to, to + 4)
    for (let i = 0; i < 4 * count; i++) out[to + 4 + i] = out[to + i]! + line[at + i]!
  },
  addSpans({ data: sums, at }, length, { data: out, at: to }, count, share) {
    for (let i = 0; i < 4 * count; i++) out[to + i]! += (sums[at + 4 * length + i]! - sums[at + i]!) * share
  },
  sortColumns(data, rows, width) {
    const column = new Uint16Array(rows)
    for (let x = 0; x < width; x++) {
      for (let k = 0; k < rows; k++) column[k] = data[k * width + x]!
      column.sort()
      for (let k = 0; k < rows; k++) data[k * width + x] = column[k]!
    }
  },
  stationSays,
  maxNumbers({ data: from, at: fromAt }, { data: to, at: toAt }, count) {
    for (let i = 0; i < count; i++) if (from[fromAt + i]! > to[toAt + i]!) to[toAt + i] = from[fromAt + i]!
  },
  relightPixels({ data, at }, count, gain, offset) {
    for (let i = 0; i < count; i++, at += 4)
      for (let c = 0; c < 3; c++) data[at + c] = data[at + c]! * gain[c]! + data[at + 3]! * offset[c]!
  },
  knownPixels({ data, at }, behind, hidden, seen, far, { data: out, at: to }, count) {
    let said = 0
    for (let i = 0; i < count; i++, at += 4, to += 4) {
      const there = behind ? behind.at + 4 * i : 0
      const of = (c: number) => (behind ? behind.data[there + c]! : 0)
      const isHidden = hidden.data[hidden.at + i]! > seen
      if (isHidden) said |= data[at + 3]! < 0.999 ? 5 : 1
      const isLike = () => of(3) > 0.99 && [0, 1, 2].every((c) => Math.abs(data[at + c]! - of(c)) <= far[c]!)
      const isKnown = !isHidden && (!behind || isLike())
      if (isKnown) said |= 2
      for (let c = 0; c < 3; c++) out[to + c] = isKnown ? data[at + c]! - of(c) : 0
      out[to + 3] = Number(isKnown)
    }
    return said
  },
  layRound(table, steps, per, { x, y }, { data, at }, count) {
    for (let i = 0; i < count; i++, at += 4) {
      const place = Math.min(steps, Math.sqrt((x + i) ** 2 + y * y) * per)
      const k = 4 * Math.floor(place)
      const u = place - Math.floor(place)
      const told = (c: number) => table[k + c]! + (table[k + 4 + c]! - table[k + c]!) * u
      const stays = 1 - told(3)
      for (let c = 0; c < 4; c++) data[at + c] = data[at + c]! * stays + told(c)
    }
  },
  stepNumbers({ data, at }, count, { from, ramp, low, span }) {
    // What is no number, where a step is upright, is 0.
    const within = (v: number) => (v > 0 ? (v < 1 ? v : 1) : 0)
    for (let i = at; i < at + count; i++) {
      const u = within((within((data[i]! - from) / ramp) - low) / span)
      data[i] = u * u * (3 - 2 * u)
    }
  },
  burnPixels({ data: left, at: from }, { data, at }, count, colour, rim) {
    for (let i = 0; i < count; i++, at += 4) {
      const share = left[from + i]!
      if (share === 1) continue
      const burning = 4 * share * (1 - share)
      for (let c = 0; c < 4; c++)
        data[at + c] = colour[c]! + (data[at + c]! - colour[c]!) * share + burning * (rim[c] ?? 0)
    }
  },
  alikeSays({ data, x, y, width, height }, { count, numbers, scale }, at, { gain, offset }) {
    const { fround } = Math
    const [x0, y0, dx, dy] = [fround(at.x - x), fround(at.y - y), fround(at.dx), fround(at.dy)]
    let sum = 0
    let told = 0
    for (let i = 0; i < count; i++) {
      const along = numbers[i]!
      const across = numbers[count + i]!
      const px = Math.floor(fround(fround(x0 + fround(dx * along)) - fround(dy * across)))
      const py = Math.floor(fround(fround(y0 + fround(dy * along)) + fround(dx * across)))
      if (px < 0 || py < 0 || px >= width || py >= height) continue
      const from = (py * width + px) * viewNumbers
      const oy = data[from]! - (numbers[2 * count + i]! * gain + offset)
      const ou = data[from + 1]! - numbers[3 * count + i]!
      const ov = data[from + 2]! - numbers[4 * count + i]!
      const tells = numbers[5 * count + i]!
      sum += tells / (1 + (oy * oy + 2 * (ou * ou + ov * ov)) * scale)
      told += tells
    }
    return told < 8 ? -1 : sum / told
  },
  layBehind({ data, width, height }, { x, y, dx, dy }, { gain, offset }, view, to, count) {
    for (let i = 0; i < count; i++, to += viewNumbers) {
      const px = Math.fround(Math.fround(x) + Math.fround(Math.fround(dx) * i))
      const py = Math.fround(Math.fround(y) + Math.fround(Math.fround(dy) * i))
      if (!(px >= 0 && py >= 0 && px < width - 1 && py < height - 1)) continue
      const left = Math.floor(px)
      const top = Math.floor(py)
      const at = 4 * (top * width + left)
      const deviation = data[at + 3]!
      if (deviation < 0) continue
      for (let c = 0; c < 3; c++) {
        const from = at + c
        const above = data[from]! + (data[from + 4]! - data[from]!) * (px - left)
        const next = from + 4 * width
        const below = data[next]! + (data[next + 4]! - data[next]!) * (px - left)
        const mean = above + (below - above) * (py - top)
        const told = (c === 0 ? mean * gain + offset : mean) + 0.5
        view[to + 3 + c] = told < 0 ? 0 : told > 255 ? 255 : told
      }
      view[to + 6] = deviation > 255 ? 255 : deviation
      view[to + 7] = behindKnown
    }
  },
  yuvToRgba,
  yuvToReducedRgba,
  yuvToFloats,
  floatsToI420,
  wordsToFloats(words, from, count, working, data, to) {
    for (let i = 0; i < count; i++, to += 4) {
      const word = words[from + i]!
      data[to] = working[word & 255]!
      data[to + 1] = working[(word >> 8) & 255]!
      data[to + 2] = working[(word >> 16) & 255]!
      data[to + 3] = 1
    }
  },
  floatsToWords(data, from, count, table, words, to) {
    const level = (v: number) => table[v >= 1 ? encodeSteps : v > 0 ? (v * encodeSteps + 0.5) | 0 : 0]!
    for (let i = 0; i < count; i++, from += 4)
      words[to + i] =
        (0xff000000 | (level(data[from + 2]!) << 16) | (level(data[from + 1]!) << 8) | level(data[from]!)) >>> 0
  },
}

function sampleInto(
  { data: source, width, height }: Rgba,
  px: number,
  py: number,
  border: BorderMode,
  out: Float32Array,
  to: number,
): void {
  const at = (x: number, y: number, c: number) => {
    const column = withinBorder(x, width, border)
    const row = withinBorder(y, height, border)
    return column < 0 || row < 0 ? 0 : source[4 * (row * width + column) + c]!
  }
  const x = px - 0.5
  const y = py - 0.5
  const [x0, y0] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [x - x0, y - y0]
  for (let c = 0; c < 4; c++) {
    const a = at(x0, y0, c)
    const top = a + (at(x0 + 1, y0, c) - a) * u
    const b = at(x0, y0 + 1, c)
    const low = b + (at(x0 + 1, y0 + 1, c) - b) * u
    out[to + c] = top + (low - top) * v
  }
}

export const pairsOf = (cells: number, width: number) => Math.min((width >> 1) + 1, Math.floor(cells) - 1)

/**
 * Direction of (x, y) in turns, -0.5 to 0.5, within 2e-5: an odd polynomial of 9th order for the eighth of a turn (Abramowitz and
 * Stegun, Handbook of Mathematical Functions, 4.4.49: 1e-5 radians for the arc tangent).
 */
function turnOf(x: number, y: number): number {
  const across = Math.abs(x)
  const down = Math.abs(y)
  const a = Math.min(across, down) / Math.max(across, down, 1e-9)
  const s = a * a
  let turn = (a * (0.999866 + s * (-0.3302995 + s * (0.180141 + s * (-0.085133 + s * 0.0208351))))) / (2 * Math.PI)
  if (down > across) turn = 0.25 - turn
  if (x < 0) turn = 0.5 - turn
  return y < 0 ? -turn : turn
}
