import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { rodWidths } from '#core/shapes/kinds/rod.ts'
import type { App } from '../support/application.ts'
import { makeClip, rodAt } from '../support/clips.ts'
import { demoMedia } from '../support/places.ts'
import { EditorPage, expect, test } from './fixtures.ts'

interface KeyRecord {
  frame: number
  points: number[]
  followed: number | null
}
const keysOf = async (editor: EditorPage) =>
  (await editor.records())
    .filter((r) => r.type === 'key')
    .sort((a, b) => Number(a.frame) - Number(b.frame)) as unknown as KeyRecord[]
const kept = (editor: EditorPage) => expect(editor.keeping).toHaveText('All changes kept')
const mask = join(demoMedia, 'heron-mask.mp4')
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
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, mask)
  const [x, y] = middleOf('right eye', 0)
  await page.keyboard.press('b')
  await editor.click(x, y)
  await editor.click(x + 40, y + 26)
  await kept(editor)
  await editor.go(0)
  await page.keyboard.press('Shift+C')
  await expect(page.getByTestId('followed')).toContainText('frames', { timeout: 60_000 })
  await kept(editor)
  const keys = await keysOf(editor)
  expect(keys[0]).toMatchObject({ frame: 0, followed: null })
  expect(keys.length).toBeGreaterThan(36)
  for (const key of keys.slice(1, 36)) {
    const [tx, ty] = middleOf('right eye', key.frame)
    expect(Math.hypot(key.points[0]! - tx, key.points[1]! - ty), `frame ${key.frame}`).toBeLessThan(3)
    expect(key.followed).toBeGreaterThan(0.5)
  }
})

test('all parts of a member are followed at one press, say how far they are, are stopped together and undone together', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, mask)
  for (const eye of ['right eye', 'left eye']) {
    const [x, y] = middleOf(eye, 0)
    await editor.go(0)
    await page.keyboard.press('b')
    await editor.click(x, y)
    await editor.click(x + 40, y + 26)
    await kept(editor)
  }
  const ofParts = async () => {
    const keys = await keysOf(editor)
    const parts = (await editor.records())
      .filter((one) => one.type === 'part')
      .sort((a, b) => Number(a.order) - Number(b.order))
    return parts.map(({ id }) => keys.filter((key) => (key as unknown as { part: string }).part === id).length)
  }
  expect(await ofParts()).toEqual([1, 1])
  await editor.go(0)
  const panel = page.getByRole('region', { name: 'Follow' })

  await test.step('stopped in the middle of the first, what was found until then stays and the second does not begin', async () => {
    await page.keyboard.press('Shift+G')
    await expect(editor.hint).toContainText('1 of 2', { timeout: 60_000 })
    await expect(panel).toContainText('part 1 of 2')
    await expect(panel.getByRole('progressbar')).toHaveAttribute('aria-valuenow', /^([1-9]|[1-4]\d)$/)
    await page.keyboard.press('Escape')
    await expect(page.getByText(/1 of 2 parts followed, \d+ frames/)).toBeVisible({ timeout: 30_000 })
    await kept(editor)
    const [first, second] = await ofParts()
    expect(first).toBeLessThan(60)
    expect(second).toBe(1)
    await expect(editor.frame).toHaveValue('0')
  })
  await test.step('the button in the panel does it too; where nothing is left to follow it is said why', async () => {
    await panel.getByRole('button', { name: 'all 2 parts' }).click()
    await expect(editor.hint).toContainText('2 of 2', { timeout: 60_000 })
    await expect(editor.hint).not.toContainText('of 2', { timeout: 120_000 })
    await expect(page.getByText(/2 of 2 parts followed, \d+ frames/)).toBeVisible()
    await kept(editor)
    const [first, second] = await ofParts()
    expect(Math.min(first!, second!)).toBeGreaterThan(36)
    await page.keyboard.press('Control+z')
    await kept(editor)
    // One press was one step, of both.
    expect(Math.max(...(await ofParts()))).toBeLessThan(60)
    await page.keyboard.press('End')
    await page.keyboard.press('Shift+G')
    await expect(page.getByText(/can be followed that way from here/)).toBeVisible()
  })
})

const swing = join(demoMedia, 'jetty-swing.mp4')
const swung = JSON.parse(readFileSync(swing.replace('mp4', 'truth.json'), 'utf8')) as { rods: { points: number[][] }[] }
const poleAt = (frame: number) => swung.rods[0]!.points[frame] as [number, number, number, number]
/** Farther end of a key from the truth, in px. */
const poleOff = ({ frame, points }: KeyRecord) => {
  const [hx, hy, tx, ty] = poleAt(frame)
  return Math.max(Math.hypot(points[0]! - hx, points[1]! - hy), Math.hypot(points[2]! - tx, points[3]! - ty))
}

/** A new project with the swing, its pole set by two clicks on the first frame. */
async function poleSet(page: Page, demo: App) {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, swing)
  await page.keyboard.press('r')
  const [hx, hy, tx, ty] = poleAt(0)
  await editor.click(hx, hy)
  await editor.click(tx, ty)
  await kept(editor)
  await editor.go(0)
  return { editor, panel: page.getByRole('region', { name: 'Follow' }) }
}

test('a pole is followed through its swing from one key, marks where it is unsure or stops there, and a correction is followed on both sides', async ({
  page,
  demo,
}) => {
  const { editor, panel } = await poleSet(page, demo)
  const atUnsure = async (choice: string) => {
    await panel.getByRole('button', { name: /^Unsure: then/ }).click()
    await page.getByRole('option', { name: choice }).click()
  }
  await panel.getByRole('button', { name: /motion, cover/ }).click()
  await test.step('where it is to stop at a doubt, it does: where the pole passes behind the head', async () => {
    await atUnsure('stop there')
    await panel.getByRole('button', { name: /^follow/ }).click()
    await expect(page.getByText(/frames followed\. Stopped at frame \d+: it is not sure any more/)).toBeVisible({
      timeout: 120_000,
    })
    const at = Number(await editor.frame.inputValue())
    expect(at).toBeGreaterThan(25)
    expect((await keysOf(editor)).at(-1)!.frame).toBe(at - 1)
    await page.keyboard.press('Control+z')
    await kept(editor)
    expect(await keysOf(editor)).toHaveLength(1)
  })
  await atUnsure('mark it and go on')
  await editor.go(0)
  await panel.getByRole('button', { name: /^follow/ }).click()
  await expect(page.getByTestId('followed')).toContainText('95 frames', { timeout: 120_000 })
  await test.step('the playhead stands where a hand would help most, and the program says so', async () => {
    await expect(page.getByText(/A hand on frame \d+ would help most/)).toBeVisible()
    const at = Number(await editor.frame.inputValue())
    expect((await keysOf(editor)).find((key) => key.frame === at)!.followed).toBeLessThan(0.5)
  })
  await kept(editor)
  const all = await keysOf(editor)
  const off = all.map(poleOff).sort((a, b) => a - b)
  // A click is a pixel of the screen off, which the whole way keeps.
  expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(5)

  await test.step('the track can be kept as few keys; hand keys stay, and it can be taken back', async () => {
    await panel.getByRole('button', { name: 'few keys' }).click()
    await expect(page.getByText(/\d+ of 95 followed keys of shaft explain its motion within 1\.5 px/)).toBeVisible()
    await kept(editor)
    const few = await keysOf(editor)
    expect(few.length).toBeLessThan(0.5 * all.length)
    expect(few[0]).toEqual(all[0])
    for (const key of few) expect(all).toContainEqual(key)
    await page.keyboard.press('Control+z')
    await kept(editor)
    expect(await keysOf(editor)).toEqual(all)
  })

  await test.step('a corrected frame is a hand key; only the span up to the next hand key changes', async () => {
    await editor.go(40)
    await page.keyboard.press('Enter')
    await editor.go(60)
    const heel = (await keysOf(editor)).find((key) => key.frame === 60)!.points
    await editor.drag([heel[0]!, heel[1]!], [heel[0]! + 6, heel[1]!])
    await kept(editor)
    const before = await keysOf(editor)
    expect(before.filter((key) => key.followed === null).map((key) => key.frame)).toEqual([0, 40, 60])
    await editor.go(60)
    await page.keyboard.press('Shift+Z')
    const at50 = before.find((key) => key.frame === 50)
    await expect
      .poll(async () => (await keysOf(editor)).find((key) => key.frame === 50), { timeout: 120_000 })
      .not.toEqual(at50)
    const after = await keysOf(editor)
    for (const frame of [0, 10, 39, 40, 60])
      expect(after.find((key) => key.frame === frame)).toEqual(before.find((key) => key.frame === frame))
  })

  await test.step('one undo takes the whole run back', async () => {
    await page.keyboard.press('Control+z')
    await kept(editor)
    expect((await keysOf(editor)).filter((key) => key.frame > 60)).toEqual(all.filter((key) => key.frame > 60))
  })
})

test('a run over a pole shows how far it is to its very end, and can be stopped while its path is made exact', async ({
  page,
  demo,
}) => {
  const { editor, panel } = await poleSet(page, demo)
  const bar = panel.getByRole('progressbar')
  // The page itself looks at every picture it draws: a bar that is asked for now and then may be gone in between.
  const shows = (from: number) => {
    const shares = Array.from({ length: 100 - from }, (_, i) => `[aria-valuenow="${from + i}"]`)
    return panel.locator(`[role=progressbar]:is(${shares.join()})`).waitFor({ timeout: 60_000 })
  }
  await panel.getByRole('button', { name: /^follow/ }).click()
  // Nothing is found yet: what stands behind is being read.
  await shows(1)
  await shows(20)
  // The second way through: every frame was found once.
  await shows(61)
  await page.keyboard.press('Escape')
  await expect(bar).toBeHidden()
  await expect(page.getByTestId('followed')).toContainText('95 frames')
  expect(await editor.frame.inputValue()).toBe('0')
  await kept(editor)
  const found = (await keysOf(editor)).filter((key) => poleOff(key) < 60)
  expect(found.length).toBeGreaterThan(80)
})

test('a rod that comes nearer grows as it is followed; its width is corrected by hand on one frame, and made one for all again', async ({
  page,
  app,
  folder,
}) => {
  const [clip, frames] = [join(folder, 'nearer.mp4'), 36]
  const widthAt = (frame: number) => 8 + frame / 5
  await makeClip(clip, { frames, widthAt })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await page.keyboard.press('r')
  const [hx, hy, tx, ty] = rodAt(0, { frames })
  await editor.click(hx, hy)
  await editor.click(tx, ty)
  await editor.go(0)
  // Its usual width is the right one on the first frame.
  const width = (end: string) => page.getByRole('textbox', { name: `Width at ${end}` })
  await expect(width('tip')).toHaveValue('8.0')
  await page.keyboard.press('Shift+C')
  await expect(page.getByTestId('followed')).toContainText('35 frames', { timeout: 60_000 })
  await kept(editor)
  const keys = await keysOf(editor)
  expect(keys).toHaveLength(frames)
  for (const { frame, points } of keys) {
    const { heel, tip } = rodWidths(points, {})
    for (const own of [heel, tip]) expect(Math.abs(own / widthAt(frame) - 1), `frame ${frame}`).toBeLessThan(0.25)
  }

  // The tip's side is drawn out by hand: on this frame alone.
  await editor.go(12)
  await page.keyboard.press('w')
  const [, , x, y, , , sx, sy] = keys[12]!.points as [number, number, number, number, number, number, number, number]
  await editor.click(x, y)
  await editor.drag([sx, sy], [x + 2 * (sx - x), y + 2 * (sy - y)])
  await kept(editor)
  const after = await keysOf(editor)
  const tips = [11, 12, 13].map((f) => rodWidths(after[f]!.points, {}).tip / rodWidths(keys[f]!.points, {}).tip)
  expect(tips).toEqual([expect.closeTo(1, 6), expect.closeTo(2, 0), expect.closeTo(1, 6)])
  expect(after[12]!.followed).toBeNull()

  await page.getByRole('button', { name: 'Its width is' }).click()
  await page.getByRole('option', { name: 'the same' }).click()
  await kept(editor)
  expect((await keysOf(editor)).every(({ points }) => points.length === 4)).toBe(true)
  await expect(width('heel')).toHaveValue(/^1[123]\.\d$/)
  await page.keyboard.press('Control+z')
  await kept(editor)
  expect(await keysOf(editor)).toEqual(after)
})

test('what can not be followed says so in a sentence and changes nothing; a point is set, followed one frame on, and carries', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, mask)
  await page.keyboard.press("'")
  const [x, y] = middleOf('right eye', 12)
  await editor.go(12)
  await editor.click(x, y)
  await kept(editor)

  await test.step('forwards from before the only key', async () => {
    await editor.go(3)
    await page.keyboard.press('Shift+C')
    await expect(page.getByText('There is no key of point at frame 3 or before it')).toBeVisible()
    expect(await keysOf(editor)).toHaveLength(1)
  })
  await test.step('a range that was not chosen', async () => {
    const panel = page.getByRole('region', { name: 'Follow' })
    await panel.getByRole('button', { name: /^Over/ }).click()
    await page.getByRole('option', { name: 'the chosen range' }).click()
    await panel.getByRole('button', { name: /^follow/ }).click()
    await expect(page.getByText('No range is chosen')).toBeVisible()
    expect(await keysOf(editor)).toHaveLength(1)
  })
  await test.step('one frame on, and the playhead goes along', async () => {
    await editor.go(12)
    await page.keyboard.press('Shift+V')
    await expect(editor.frame).toHaveValue('13')
    await expect(editor.cell).toContainText('Followed')
    await kept(editor)
    const [first, second, ...more] = await keysOf(editor)
    expect(more).toEqual([])
    const [before, after] = [middleOf('right eye', 12), middleOf('right eye', 13)]
    const moved = [second!.points[0]! - first!.points[0]!, second!.points[1]! - first!.points[1]!]
    expect(Math.hypot(moved[0]! - (after[0] - before[0]), moved[1]! - (after[1] - before[1]))).toBeLessThan(1)
  })
  await test.step('accepted it is a hand key, which no run touches', async () => {
    await page.keyboard.press('Enter')
    await kept(editor)
    const hand = (await keysOf(editor)).map((key) => key.followed)
    expect(hand).toEqual([null, null])
  })
})
