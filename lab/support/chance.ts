/** Numbers as if by chance, the same in every run of a seed: Park and Miller, CACM 31 (1988). */
export class Chance {
  private state: number
  constructor(seed: number) {
    this.state = (seed % 2147483646) + 1
  }
  /** A whole number from 0 to below `n`. */
  below(n: number): number {
    this.state = (this.state * 48271) % 2147483647
    return this.state % n
  }
  /** A number from `low` to below `high`. */
  between(low: number, high: number): number {
    this.state = (this.state * 48271) % 2147483647
    return low + ((high - low) * this.state) / 2147483647
  }
  one<T>(list: readonly T[]): T {
    return list[this.below(list.length)]!
  }
  /** True in this share of the cases. */
  happens(share: number): boolean {
    return this.between(0, 1) < share
  }
  bytes(n: number): Buffer {
    return Buffer.from(Array.from({ length: n }, () => this.below(256)))
  }
}
