import { expect, it } from 'vitest'
import { isRefusal, Refusal } from './refusal.ts'

it('is still known after it came from a worker, where only its name and text are left', () => {
  const refused = new Refusal('The clip was closed.')
  // What Comlink makes of a thrown error on the other side.
  const arrived = Object.assign(new Error(refused.message), { name: refused.name, stack: refused.stack })
  expect([refused, arrived].map(isRefusal)).toEqual([true, true])
  expect([new TypeError('x is undefined'), 'text', null].map(isRefusal)).toEqual([false, false, false])
})
