import { say } from '../say.ts'
import { moved, type Similarity } from '../geometry/similarity.ts'
import { limits } from '../records/limits.ts'
import { Refusal } from '../refusal.ts'

/** A part as it is when a track comes onto it. */
export interface TrackTarget {
  /** Numbers that a shape of its kind has; undefined where every part has its own count. */
  numbers: readonly number[] | undefined
  /** Its shape where the track begins; null where it has none. */
  shape: readonly number[] | null
}

/** A key as a table gives it. */
export interface TableKey {
  frame: number
  points: number[]
}

const names = {
  frame: /^(frame|f|time|t)$/i,
  x: /^x$/i,
  y: /^y$/i,
  rotation: /^(rotation|angle|r)$/i,
  scale: /^(scale|s)$/i,
}

/**
 * The keys of a table: a row a frame, counted from 0; after it either x and y, then perhaps rotation (degrees, clockwise on
 * screen) and scale (1 as it was), or x and y of every point of the shape. A first row of words names the columns. The first of
 * these is taken onto a shape of several points as its motion: where it is on the table's first frame it stays. Throws a Refusal
 * that names the row where something can not be read. `length`: frames of the shot.
 */
export function keysOfTable(rows: readonly (readonly string[])[], target: TrackTarget, length: number): TableKey[] {
  const filled = rows.filter((row) => row.some((cell) => cell.trim() !== ''))
  const header = filled[0]?.some((cell) => cell.trim() !== '' && Number.isNaN(numberOf(cell))) ? filled[0] : null
  const body = filled.slice(header ? 1 : 0)
  if (body.length === 0) throw new Refusal(say`There is no row of numbers in this table: a frame, then x and y.`)
  if (body.length > limits.diffRecords)
    throw new Refusal(say`The table has ${body.length} rows; at most ${limits.diffRecords} fit.`)
  const width = body[0]!.length
  const order = orderOf(header, width)
  const read = body.map((given, i) => {
    const row = given.length === width ? order.map((from) => given[from]!) : given
    const values = row.map(numberOf)
    const at = i + (header ? 2 : 1)
    if (row.length !== width)
      throw new Refusal(say`Row ${at} has ${row.length} columns, the first one ${width}. ${commas}`)
    const wrong = values.findIndex((v) => !Number.isFinite(v) || Math.abs(v) > limits.coordinate)
    if (wrong >= 0) throw new Refusal(say`“${row[wrong] ?? ''}” in row ${at} is no number that fits. ${commas}`)
    if (!Number.isInteger(values[0]))
      throw new Refusal(say`Row ${at} begins with ${values[0]!}, which is no whole frame.`)
    return values
  })
  const column = columnsOf(header && order.map((from) => header[from] ?? ''), width)
  const keys = (column.motion ? byMotion(read, column, target) : byPoints(read, target)).filter(
    ({ frame }) => frame >= 0 && frame < length,
  )
  if (keys.length === 0) throw new Refusal(say`No row of the table lies within the ${length} frames of this shot.`)
  // Of two rows for a frame the later one holds.
  return [...new Map(keys.map((key) => [key.frame, key])).values()].sort((a, b) => a.frame - b.frame)
}
/** Where the columns stand that come first: frame, x and y, wherever the names say; the others keep their order. */
function orderOf(header: readonly string[] | null, width: number): number[] {
  const all = Array.from({ length: width }, (_, i) => i)
  const first = [names.frame, names.x, names.y].map((name) => header?.findIndex((cell) => name.test(cell.trim())) ?? -1)
  return first.includes(-1) ? all : [...first, ...all.filter((i) => !first.includes(i))]
}
const commas = say`Write decimals with a point, and a comma between columns.`

/** A number, with a point or, where columns are not parted by commas, a comma before its decimals. */
const numberOf = (cell: string): number => {
  const text = cell.trim().replace(/^(-?\d+),(\d+)$/, '$1.$2')
  return text === '' ? NaN : Number(text)
}

interface Columns {
  /** Whether the columns are a motion, and not points. */
  motion: boolean
  rotation: number
  scale: number
}
function columnsOf(header: readonly string[] | null, width: number): Columns {
  if (width < 3) throw new Refusal(say`A track has at least three columns: frame, x and y.`)
  const at = (name: RegExp) => header?.findIndex((cell) => name.test(cell.trim())) ?? -1
  const named = at(names.rotation) >= 0 || at(names.scale) >= 0
  if (width === 3) return { motion: true, rotation: -1, scale: -1 }
  if (named) return { motion: true, rotation: at(names.rotation), scale: at(names.scale) }
  // Without names an even number of columns is a frame with x, y and a rotation.
  return width === 4 ? { motion: true, rotation: 3, scale: -1 } : { motion: false, rotation: -1, scale: -1 }
}

function byMotion(
  rows: readonly number[][],
  { rotation, scale }: Columns,
  { numbers, shape }: TrackTarget,
): TableKey[] {
  if (numbers?.includes(2)) return rows.map(([frame, x, y]) => ({ frame: frame!, points: [x!, y!] }))
  if (!shape) throw new Refusal(say`Set the shape on a frame first: the track then moves it.`)
  const of = (row: readonly number[], column: number, otherwise: number) => (column >= 0 ? row[column]! : otherwise)
  const first = rows[0]!
  return rows.map((row) => {
    const turn = ((of(row, rotation, 0) - of(first, rotation, 0)) * Math.PI) / 180
    const grown = of(row, scale, 1) / (of(first, scale, 1) || 1)
    const [ar, ai] = [grown * Math.cos(turn), grown * Math.sin(turn)]
    // About the tracked place: it goes from where it was at first to where it is.
    const [x0, y0] = [first[1]!, first[2]!]
    const motion: Similarity = { ar, ai, br: row[1]! - (ar * x0 - ai * y0), bi: row[2]! - (ai * x0 + ar * y0) }
    return { frame: row[0]!, points: moved(motion, shape) }
  })
}

function byPoints(rows: readonly number[][], { numbers, shape }: TrackTarget): TableKey[] {
  const count = rows[0]!.length - 1
  const wanted = shape ? [shape.length] : numbers
  if (count % 2 > 0 || (wanted && !wanted.includes(count)))
    throw new Refusal(
      say`The table has ${count / 2} points a row; this part has ${wanted?.map((n) => n / 2).join(say` or `) ?? say`whole ones`}.`,
    )
  return rows.map(([frame, ...points]) => ({ frame: frame!, points }))
}
