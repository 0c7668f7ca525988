interface Unit {
  unit: string
  neutral?: number
}

const factorOf = ({ unit }: Unit): number => (unit === '%' ? 100 : 1)
/** Shares are written by how much they are more or less than neutral; numbers with a unit of their own as they are. */
const zeroOf = ({ unit, neutral = 0 }: Unit): number => (unit === '%' ? neutral : 0)

/** A value as it is written before its unit, not rounded. */
export const writtenOf = (p: Unit, value: number): number => (value - zeroOf(p)) * factorOf(p)
/** The value of what was written. */
export const valueOf = (p: Unit, written: number): number => written / factorOf(p) + zeroOf(p)
