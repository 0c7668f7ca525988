import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Bench, expect, test } from './app.ts'

interface KeyRecord {
  frame: number
  points: number[]
  followed: number | null
}
const keysOf = async (bench: Bench) =>
  (await bench.records())
    .filter((r) => r.type === 'key')
    .sort((a, b) => Number(a.frame) - Number(b.frame)) as unknown as KeyRecord[]
const kept = (bench: Bench) => expect(bench.keeping).toHaveText('All changes kept')
const mask = join(import.meta.dirname, '../demo/media/heron-mask.mp4')
const truth = JSON.parse(readFileSync(mask.replace('mp4', 'truth.json'), 'utf8')) as {
  outlines: { name: string; points: number[][] }[]
}
/** Middle of an outline of the truth: the mean of its nodes. */
const middleOf = (name: string, frame: number) => {
  const points = truth.outlines.find((one) => one.name === name)!.points[frame]!
  const mean = (at: number) => {
    const own = points.filter((_, i) => i % 6 === at)
    return own.reduce((a, b) => a + b) / own.length
  }
  return [mean(0), mean(1)] as [number, number]
}

test('an oval placed on an eye by hand is followed on, and the frames that were found are as sure as they say', async ({
  page,
  demo,
}) => {
  const bench = new Bench(page)
  await bench.newProjectWith(demo, mask)
  const [x, y] = middleOf('right eye', 0)
  await page.keyboard.press('b')
  await bench.click(x, y)
  await bench.click(x + 40, y + 26)
  await kept(bench)
  await bench.go(0)
  await page.keyboard.press('Shift+C')
  await expect(page.getByTestId('followed')).toContainText('frames', { timeout: 60_000 })
  await kept(bench)
  const keys = await keysOf(bench)
  expect(keys[0]).toMatchObject({ frame: 0, followed: null })
  expect(keys.length).toBeGreaterThan(36)
  for (const key of keys.slice(1, 36)) {
    const [tx, ty] = middleOf('right eye', key.frame)
    expect(Math.hypot(key.points[0]! - tx, key.points[1]! - ty), `frame ${key.frame}`).toBeLessThan(3)
    expect(key.followed).toBeGreaterThan(0.5)
  }
})
