import { expect, it } from 'vitest'
import { wishesFrom } from './followWishes.ts'

it('does not stop at the first doubt any more, where that was as usual', () => {
  expect(wishesFrom('{"unsureDoes":"stop"}').atUnsure).toBe('mark')
})

it('reads wishes under the names they had before, and fills in what they lack', () => {
  const earlier = wishesFrom('{"model":"perspective","letGo":3,"leaveOut":"others"}')
  expect(earlier).toMatchObject({ model: 'homography', edgeFreedom: 3, leaveOut: 'others', atUnsure: 'mark' })
  expect(earlier.unsure).toBeGreaterThan(0)
  expect(earlier).not.toHaveProperty('letGo')
  const now = wishesFrom(JSON.stringify({ ...earlier, model: 'rigid', edgeFreedom: 5, unsure: 0.5 }))
  expect(now).toEqual({ ...earlier, model: 'rigid', edgeFreedom: 5, unsure: 0.5 })
})
