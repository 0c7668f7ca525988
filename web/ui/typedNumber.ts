import { toast } from 'vue-sonner'
import { say } from '#core/say.ts'
import { arithmetic } from './arithmetic.ts'

/** The number that was typed for something; where it can not be read a sentence says so, and what was there stays. */
export function typedNumber(typed: string, label: string): number | null {
  const value = arithmetic(typed)
  if (value === null && typed.trim())
    toast.error(
      say`${label} takes a number, as in 12 or 3*8; “${typed.trim().slice(0, 40)}” is none. It stays as it was.`,
    )
  return value
}
