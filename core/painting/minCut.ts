/*
 * The cheapest division of a grid into two sides: minimum cut by Boykov and Kolmogorov, "An Experimental Comparison of
 * Min-Cut/Max-Flow Algorithms for Energy Minimization in Vision" (PAMI 2004). Two trees grow from both terminals until
 * they touch, the path between them is filled, and what lost its parent looks for a new one.
 */

/** What a grid's division costs. All arrays hold width x height numbers of 0 or more. */
export interface CutCosts {
  width: number
  height: number
  /** Cost of a pixel on the far side, and on the near side. */
  far: Float32Array
  near: Float32Array
  /** Cost of parting a pixel from the one to its right, below it, below right and below left; those off the grid are ignored. */
  right: Float32Array
  down: Float32Array
  downRight: Float32Array
  downLeft: Float32Array
}

const free = 0
const nearTree = 1
const farTree = 2
/** Parents: a direction 0..7, the terminal itself, or none. A direction's opposite differs in the lowest bit. */
const terminal = 8
const orphan = 9

/** 1 for each pixel on the near side, 0 on the far side; at equal cost pixels that nothing holds are far. */
export function minimumCut(costs: CutCosts): Uint8Array {
  const { width, height } = costs
  // A rim of one pixel that nothing leads to: every neighbour can be looked at without a test.
  const row = width + 2
  const n = row * (height + 2)
  const steps = Int32Array.of(1, -1, row, -row, row + 1, -row - 1, row - 1, -row + 1)
  /** What can still flow from a pixel to its neighbour in each direction. */
  const room = Array.from({ length: 8 }, () => new Float32Array(n))
  /** What can still flow from the near terminal to a pixel, or below 0 from it to the far one. */
  const held = new Float32Array(n)
  fill(costs, row, room, held)

  const tree = new Uint8Array(n)
  const parent = new Uint8Array(n).fill(orphan)
  const stamp = new Int32Array(n)
  const distance = new Int32Array(n)
  /** Queue of pixels whose neighbours are still to be looked at: the next one, itself at the end, -1 outside of it. */
  const next = new Int32Array(n).fill(-1)
  let first = -1
  let last = -1
  let time = 0
  const activate = (i: number) => {
    if (next[i]! >= 0) return
    if (last >= 0) next[last] = i
    else first = i
    last = i
    next[i] = i
  }
  for (let i = 0; i < n; i++)
    if (held[i] !== 0) {
      tree[i] = held[i]! > 0 ? nearTree : farTree
      parent[i] = terminal
      distance[i] = 1
      activate(i)
    }
  const orphans: number[] = []

  for (let current = -1; ;) {
    let i = current
    if (i < 0 || tree[i] === free) {
      // The one looked at last stays in turn as long as it finds paths.
      do {
        if (first < 0) return sides(costs, row, tree)
        i = first
        first = next[i] === i ? -1 : next[i]!
        if (first < 0) last = -1
        next[i] = -1
      } while (tree[i] === free)
    }
    current = -1
    const [from, to, direction] = grow(i)
    if (from < 0) continue
    time++
    augment(from, to, direction)
    while (orphans.length) adopt(orphans.pop()!)
    current = i
  }

  /** Looks around a pixel: takes free neighbours into its tree; the step from near to far where the trees touch. */
  function grow(i: number): [from: number, to: number, direction: number] {
    const own = tree[i]!
    for (let d = 0; d < 8; d++) {
      const j = i + steps[d]!
      if ((own === nearTree ? room[d]![i]! : room[d ^ 1]![j]!) <= 0) continue
      if (tree[j] === free) {
        tree[j] = own
        parent[j] = d ^ 1
        stamp[j] = stamp[i]!
        distance[j] = distance[i]! + 1
        activate(j)
      } else if (tree[j] !== own) return own === nearTree ? [i, j, d] : [j, i, d ^ 1]
      else if (stamp[j]! <= stamp[i]! && distance[j]! > distance[i]!) {
        parent[j] = d ^ 1
        stamp[j] = stamp[i]!
        distance[j] = distance[i]! + 1
      }
    }
    return [-1, -1, 0]
  }

  function augment(from: number, to: number, direction: number): void {
    let least = room[direction]![from]!
    let i = from
    for (; parent[i] !== terminal; i += steps[parent[i]!]!) {
      const d = parent[i]!
      least = Math.min(least, room[d ^ 1]![i + steps[d]!]!)
    }
    least = Math.min(least, held[i]!)
    for (i = to; parent[i] !== terminal; i += steps[parent[i]!]!) least = Math.min(least, room[parent[i]!]![i]!)
    least = Math.min(least, -held[i]!)

    room[direction]![from]! -= least
    room[direction ^ 1]![to]! += least
    for (i = from; parent[i] !== terminal;) {
      const d = parent[i]!
      const up = i + steps[d]!
      room[d]![i]! += least
      if ((room[d ^ 1]![up]! -= least) === 0) orphans.push(i)
      i = up
    }
    if ((held[i]! -= least) === 0) orphans.push(i)
    for (i = to; parent[i] !== terminal;) {
      const d = parent[i]!
      const up = i + steps[d]!
      room[d ^ 1]![up]! += least
      if ((room[d]![i]! -= least) === 0) orphans.push(i)
      i = up
    }
    if ((held[i]! += least) === 0) orphans.push(i)
  }

  function adopt(i: number): void {
    const own = tree[i]!
    let best = -1
    let nearest = Infinity
    parent[i] = orphan
    for (let d = 0; d < 8; d++) {
      const j = i + steps[d]!
      if (tree[j] !== own || (own === nearTree ? room[d ^ 1]![j]! : room[d]![i]!) <= 0) continue
      const far = originDistance(j)
      if (far < nearest) {
        nearest = far
        best = d
      }
    }
    if (best >= 0) {
      parent[i] = best
      stamp[i] = time
      distance[i] = nearest + 1
      return
    }
    for (let d = 0; d < 8; d++) {
      const j = i + steps[d]!
      if (tree[j] !== own) continue
      if ((own === nearTree ? room[d ^ 1]![j]! : room[d]![i]!) > 0) activate(j)
      if (parent[j]! < terminal && j + steps[parent[j]!]! === i && !isOrphan(j)) {
        parent[j] = orphan
        orphans.push(j)
      }
    }
    tree[i] = free
  }

  /** Steps from a pixel to its terminal, Infinity where the way ends at an orphan. What was walked is remembered. */
  function originDistance(start: number): number {
    let walked = 0
    let i = start
    for (;;) {
      if (stamp[i] === time) {
        walked += distance[i]!
        break
      }
      const p = parent[i]!
      if (p === orphan || isOrphan(i)) return Infinity
      walked++
      if (p === terminal) {
        stamp[i] = time
        distance[i] = 1
        break
      }
      i += steps[p]!
    }
    let d = walked
    for (i = start; stamp[i] !== time; i += steps[parent[i]!]!) {
      stamp[i] = time
      distance[i] = d--
    }
    return walked
  }

  /** Whether a pixel hangs on an edge, or a terminal, that is full: it waits among the orphans. */
  function isOrphan(i: number): boolean {
    const p = parent[i]!
    if (p === terminal) return held[i] === 0
    const up = i + steps[p]!
    return (tree[i] === nearTree ? room[p ^ 1]![up]! : room[p]![i]!) <= 0
  }
}

function fill(costs: CutCosts, row: number, room: Float32Array[], held: Float32Array): void {
  const { width, height } = costs
  const edges = [
    { cost: costs.right, dx: 1, dy: 0, d: 0 },
    { cost: costs.down, dx: 0, dy: 1, d: 2 },
    { cost: costs.downRight, dx: 1, dy: 1, d: 4 },
    { cost: costs.downLeft, dx: -1, dy: 1, d: 6 },
  ]
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      const i = (y + 1) * row + x + 1
      held[i] = costs.far[at]! - costs.near[at]!
      for (const { cost, dx, dy, d } of edges) {
        if (x + dx < 0 || x + dx >= width || y + dy >= height) continue
        room[d]![i] = cost[at]!
        room[d + 1]![i + dy * row + dx] = cost[at]!
      }
    }
}

function sides({ width, height }: CutCosts, row: number, tree: Uint8Array): Uint8Array {
  const out = new Uint8Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) out[y * width + x] = tree[(y + 1) * row + x + 1] === nearTree ? 1 : 0
  return out
}
