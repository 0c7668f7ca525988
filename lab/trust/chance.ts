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
  one<T>(list: readonly T[]): T {
    return list[this.below(list.length)]!
  }
  bytes(n: number): Buffer {
    return Buffer.from(Array.from({ length: n }, () => this.below(256)))
  }
}
