import { computed, type ComputedRef } from 'vue'

/**
 * A list read from the records that stays the same array while the same things are in it: what reads it is not computed and
 * drawn anew with every change of anything.
 */
export const stableList = <T>(read: () => T[]): ComputedRef<T[]> =>
  computed((before) => {
    const now = read()
    return before?.length === now.length && now.every((one, i) => one === before[i]) ? before : now
  })
