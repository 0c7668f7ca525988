import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { demoMedia } from '../support/places.ts'
import { EditorPage, expect, test } from './fixtures.ts'

interface KeyRecord {
  frame: number
  points: number[]
  tween: string
}
const keysOf = async (editor: EditorPage, part: string) =>
  (await editor.records())
    .filter((r) => r.type === 'key' && r.part === part)
    .sort((a, b) => Number(a.frame) - Number(b.frame)) as unknown as KeyRecord[]
const kept = (editor: EditorPage) => expect(editor.keeping).toHaveText('All changes kept')
const partNamed = async (editor: EditorPage, name: string) =>
  (await editor.records()).find((r) => r.type === 'part' && r.name === name) as
    { id: string; role: string; hidden: boolean; order: number; ride: object | null } | undefined
/** Middle of a frame's column on the sheet, and of the nth lane below the motion lane. */
async function dragBetween(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  await page.mouse.move(...from)
  await page.mouse.down()
  await page.mouse.move((from[0] + to[0]) / 2, (from[1] + to[1]) / 2)
  await page.mouse.move(...to)
  await page.mouse.up()
}
const nodes = (key: KeyRecord) => key.points.length / 8
const bounds = (points: number[]) => {
  const own = points.filter((_, i) => i % 8 < 2)
  const [xs, ys] = [own.filter((_, i) => i % 2 === 0), own.filter((_, i) => i % 2 === 1)]
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].map(Math.round)
}

test('an outline: drawn, refused with two points, its points inserted, deleted and converted on all keys, seen as a matte', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await page.getByRole('button', { name: 'head oval' }).click()
  await page.keyboard.press('k')
  await editor.click(560, 330)
  await editor.click(650, 330)
  await editor.click(560, 331)
  await expect(page.getByText('An outline needs at least 3 points to close; this one has two.')).toBeVisible()
  await editor.drag([660, 520], [655, 560])
  await editor.click(545, 520)
  await editor.click(561, 332)
  await kept(editor)
  const part = (await partNamed(editor, 'outline'))!
  expect(nodes((await keysOf(editor, part.id))[0]!)).toBe(4)
  await test.step('the tool stays in hand, and a point is still corrected with it', async () => {
    await expect(page.getByRole('button', { name: /^Outline:/ })).toHaveAttribute('aria-pressed', 'true')
    await editor.drag([545, 520], [540, 524])
    await kept(editor)
    const [key, another] = await keysOf(editor, part.id)
    expect(another).toBeUndefined()
    expect(nodes(key!)).toBe(4)
    expect(bounds(key!.points)[0]).toBe(540)
    await page.keyboard.press('w')
  })

  await test.step('a second key; what changes the number of points changes both', async () => {
    await editor.go(10)
    await editor.frame.blur()
    await page.keyboard.press('ArrowRight')
    await kept(editor)
    const edge = await editor.at(606, 330)
    await page.mouse.dblclick(edge.x, edge.y)
    await kept(editor)
    expect((await keysOf(editor, part.id)).map(nodes)).toEqual([5, 5])
    await page.keyboard.press('.')
    await kept(editor)
    await page.keyboard.press('Delete')
    await kept(editor)
    expect((await keysOf(editor, part.id)).map(nodes)).toEqual([4, 4])
    await page.keyboard.press('Control+z')
    await kept(editor)
    expect((await keysOf(editor, part.id)).map(nodes)).toEqual([5, 5])
  })

  await test.step('it keeps three points at least', async () => {
    await page.keyboard.press('Control+a')
    await expect(editor.hint).toContainText('5 points chosen')
    await page.keyboard.press('Delete')
    await expect(page.getByText('An outline keeps at least 3 points')).toBeVisible()
  })

  await test.step('matte in black and white, cut-out, and a part that cuts', async () => {
    await page.keyboard.press('Escape')
    await page.keyboard.press('7')
    await expect(editor.canvas).toHaveAttribute('data-layer', 'matte')
    await editor.shows(10)
    expect(await editor.pixel(600, 450)).toEqual([255, 255, 255])
    expect(await editor.pixel(300, 200)).toEqual([0, 0, 0])
    await page.getByRole('button', { name: 'matte, riding, ends' }).click()
    await page.getByRole('button', { name: 'In the matte: adds to it' }).click()
    await page.getByRole('option', { name: 'cuts from it' }).click()
    await editor.shows(10)
    expect(await editor.pixel(600, 450)).toEqual([0, 0, 0])
    await kept(editor)
    expect((await partNamed(editor, 'outline'))!.role).toBe('cut')
    await page.keyboard.press('8')
    await editor.shows(10)
    const board = await editor.pixel(300, 200)
    expect(board[0]).toBe(board[1])
    expect([62, 92]).toContain(board[0])
  })

  await test.step('a quick stroke around something becomes an outline of few points', async () => {
    await page.keyboard.press('4')
    await page.keyboard.press('6')
    await page.keyboard.press('k')
    const round = Array.from({ length: 60 }, (_, i) => {
      const a = (i / 60) * 2 * Math.PI
      return [1000 + 90 * Math.cos(a), 300 + 60 * Math.sin(a)] as const
    })
    const places = await Promise.all(round.map((place) => editor.at(...place)))
    await page.mouse.move(places[0]!.x, places[0]!.y)
    await page.mouse.down()
    for (const { x, y } of places) await page.mouse.move(x, y)
    await page.mouse.up()
    await kept(editor)
    const [stroke] = await keysOf(editor, (await partNamed(editor, 'outline 2'))!.id)
    expect(nodes(stroke!)).toBeLessThanOrEqual(9)
    bounds(stroke!.points).forEach((v, i) => expect(Math.abs(v - [910, 240, 1090, 360][i]!)).toBeLessThan(14))
  })
})

test('points are chosen by box, moved, turned and grown in their frame, mirrored, copied and pasted; locked ones stay', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Heron mask')
  await page.getByRole('button', { name: 'mask outline' }).click()
  await page.keyboard.press('w')
  const part = (await partNamed(editor, 'mask'))!
  const keyAt = async (frame: number) => (await keysOf(editor, part.id)).find((key) => key.frame === frame)!
  const before = await keyAt(0)
  const [left, top, , bottom] = bounds(before.points) as [number, number, number, number]

  await editor.drag([left - 60, (top + bottom) / 2], [left + 110, bottom + 20])
  await expect(editor.hint).toContainText('points chosen')
  await page.keyboard.press('Shift+ArrowLeft')
  await kept(editor)
  const nudged = await keyAt(0)
  const moved = nudged.points.flatMap((v, i) => (i % 8 === 0 ? [Math.round(v - before.points[i]!)] : []))
  expect(moved.filter((v) => v === -10).length).toBeGreaterThan(1)
  expect(moved.filter((v) => v === 0).length).toBeGreaterThan(3)

  await test.step('the frame grows and turns everything about its pivot', async () => {
    await page.keyboard.press('3')
    await page.keyboard.press('c')
    await expect(page.getByTestId('selection-frame')).toBeVisible()
    const [l, t, r, b] = bounds((await keyAt(0)).points) as [number, number, number, number]
    // The frame stands 14 px of the screen off the points.
    const room = 14_000 / ((await editor.at(1000, 0)).x - (await editor.at(0, 0)).x)
    await editor.drag([r + room, (t + b) / 2], [r + room - 40, (t + b) / 2])
    await kept(editor)
    const [l2, , r2] = bounds((await keyAt(0)).points) as [number, number, number, number]
    // Grown about its middle: both sides come in alike, a little less than the grip, which lies farther out.
    expect(r2 - r).toBeLessThan(-30)
    expect(r2 - r).toBeGreaterThan(-41)
    expect(l2 - l + (r2 - r)).toBeCloseTo(0, -1)
    await page.getByRole('button', { name: 'Frame’s sides: stretch' }).click()
    await page.getByRole('option', { name: 'bend' }).click()
    await editor.drag([(l2 + r2) / 2, t - room], [(l2 + r2) / 2, t - room - 30])
    await kept(editor)
    expect(bounds((await keyAt(0)).points)[1]! - t).toBeCloseTo(-30, -1)
    await page.keyboard.press('Escape')
    await expect(page.getByTestId('selection-frame')).toHaveCount(0)
  })

  await test.step('mirrored twice is as before', async () => {
    const one = await keyAt(0)
    await page.keyboard.press('y')
    await page.keyboard.press('y')
    await kept(editor)
    ;(await keyAt(0)).points.forEach((v, i) => expect(v).toBeCloseTo(one.points[i]!, 1))
  })

  await test.step('a shape goes to another frame; one with other points says why not', async () => {
    await page.keyboard.press('Control+c')
    const shape = await keyAt(0)
    await editor.go(7)
    await editor.frame.blur()
    await page.keyboard.press('Control+v')
    await kept(editor)
    expect((await keyAt(7)).points).toEqual(shape.points)
    await page.keyboard.press('i')
    await kept(editor)
    expect(await keyAt(7)).toBeUndefined()
    await page.getByRole('button', { name: 'left eye outline' }).click()
    await page.keyboard.press('Control+v')
    await expect(page.getByText(/The copied shape has 12 points and the keys of left eye have 6 points/)).toBeVisible()
  })

  await test.step('locked stays where it is', async () => {
    await page.getByRole('button', { name: 'left eye outline' }).hover()
    await page.getByRole('button', { name: 'Lock left eye' }).click()
    await page.keyboard.press('ArrowLeft')
    await expect(page.getByText('left eye is locked; unlock it in the cast to change it.')).toBeVisible()
  })
})

test('edits over time: all keys at once, fading, a range moved, stretched, thinned out and eased', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Two poles')
  const pole = 'keeper-pole-pole'
  await page.getByRole('button', { name: 'pole rod' }).click()
  const before = await keysOf(editor, pole)

  await test.step('a nudge on all keys shifts the whole track', async () => {
    await page.getByRole('button', { name: 'Edits count on: this frame' }).click()
    await page.getByRole('option', { name: 'all keys' }).click()
    await editor.frame.blur()
    await page.keyboard.press('Shift+ArrowDown')
    await kept(editor)
    const after = await keysOf(editor, pole)
    expect(after.length).toBe(before.length)
    after.forEach((key, i) => {
      expect(key.points[1]! - before[i]!.points[1]!).toBeCloseTo(10, 2)
      expect(key.points[0]!).toBeCloseTo(before[i]!.points[0]!, 2)
    })
    await page.keyboard.press('Control+z')
  })

  await test.step('a fading edit leaves what is farther off alone', async () => {
    await page.keyboard.press(';')
    await page.keyboard.press(';')
    await expect(page.getByRole('button', { name: 'Edits count on: fading out' })).toBeVisible()
    await editor.go(36)
    await editor.frame.blur()
    await page.keyboard.press('Shift+ArrowDown')
    await kept(editor)
    const after = await keysOf(editor, pole)
    const shift = (frame: number) => {
      const [a, b] = [before, after].map((list) => list.find((key) => key.frame === frame)?.points[1])
      return a === undefined || b === undefined ? null : b - a
    }
    for (const key of before) if (Math.abs(key.frame - 36) > 6) expect(shift(key.frame)).toBeCloseTo(0, 2)
    expect(after.some((key) => key.frame === 36)).toBe(true)
    await page.keyboard.press('Control+z')
    await page.keyboard.press(';')
    await expect(page.getByRole('button', { name: 'Edits count on: this frame' })).toBeVisible()
  })

  const sheet = await editor.sheetPlaces(72)
  const sweep = (from: number, to: number) => editor.sweep(72, 0, from, to)
  const panel = page.getByRole('region', { name: 'Chosen range' })

  await test.step('a range is swept, moved by one of its beads, and keys that lay there give way', async () => {
    await sweep(30, 45)
    await expect(panel.getByRole('textbox', { name: 'Range from frame' })).toHaveValue('30')
    await expect(panel.getByRole('textbox', { name: 'Range to frame' })).toHaveValue('45')
    const inside = before.filter((key) => key.frame >= 30 && key.frame <= 45)
    const first = inside[0]!.frame
    await dragBetween(page, [sheet.x(first), sheet.y(0)], [sheet.x(first + 2), sheet.y(0)])
    await kept(editor)
    const after = await keysOf(editor, pole)
    for (const key of inside) expect(after.find((one) => one.frame === key.frame + 2)?.points).toEqual(key.points)
    expect(new Set(after.map((key) => key.frame)).size).toBe(after.length)
    await page.keyboard.press('Control+z')
    await kept(editor)
    expect(await keysOf(editor, pole)).toEqual(before)
  })

  await test.step('its end is drawn out: the keys spread', async () => {
    await sweep(30, 40)
    const inside = before.filter((key) => key.frame >= 30 && key.frame <= 40)
    const half = (sheet.x(1) - sheet.x(0)) / 2
    await dragBetween(page, [sheet.x(40) + half, sheet.y(0)], [sheet.x(50), sheet.y(0)])
    await kept(editor)
    const after = await keysOf(editor, pole)
    for (const key of inside)
      expect(after.some((one) => one.frame === 30 + (key.frame - 30) * 2 && one.points[0] === key.points[0])).toBe(true)
    await page.keyboard.press('Control+z')
    await kept(editor)
  })

  await test.step('spans get a style of their own; keys that are not needed go; the rest is removed', async () => {
    await sweep(0, 71)
    await panel.getByRole('button', { name: 'Spans: as the part' }).click()
    await page.getByRole('option', { name: 'eased' }).click()
    await kept(editor)
    expect((await keysOf(editor, pole)).every((key) => key.tween === 'eased')).toBe(true)
    await page.keyboard.press('Control+z')
    await panel.getByRole('textbox', { name: 'Within' }).fill('12')
    await panel.getByRole('textbox', { name: 'Within' }).press('Enter')
    await panel.getByRole('button', { name: 'Thin out' }).click()
    await expect(page.getByText(/\d+ of \d+ keys were not needed/)).toBeVisible()
    await kept(editor)
    const thinner = await keysOf(editor, pole)
    expect(thinner.length).toBeLessThan(before.length)
    expect([thinner[0]!.frame, thinner.at(-1)!.frame]).toEqual([0, 71])
    await panel.getByRole('button', { name: 'Remove keys' }).click()
    await kept(editor)
    expect(await keysOf(editor, pole)).toEqual([])
    await page.getByRole('button', { name: /^Undo: Remove \d+ keys/ }).click()
    await kept(editor)
    expect((await keysOf(editor, pole)).length).toBe(thinner.length)
  })
})

test('the key plan leads from frame to frame, the checks find what slipped, and charts lead back', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await page.getByRole('button', { name: 'shaft rod' }).click()
  const plan = page.getByRole('region', { name: 'Key plan' })
  await expect(plan).toContainText('Next worth keying: frame 95, the last frame', { timeout: 30_000 })
  await expect(plan.getByTitle('Pictures that were read for the plan')).toHaveCount(0, { timeout: 60_000 })
  await editor.frame.blur()
  await page.keyboard.press('p')
  await expect(editor.frame).toHaveValue('95')
  const count = Number(await editor.keys.innerText())
  await editor.click(700, 430)
  await editor.click(1110, 520)
  await expect(editor.keys).toHaveText(String(count + 1))
  // Now there is an in-between over the whole swing, and it is far off somewhere in it.
  await expect(plan).toContainText(/frame (49|5\d|6\d|7\d|8\d|9[0-4]), /)
  const left = Number(/\d+/.exec(await page.getByTestId('plan-left').innerText())![0])
  await page.keyboard.press('p')
  await expect(editor.frame).not.toHaveValue('95')
  const first = Number(await editor.frame.inputValue())
  expect(first).toBeGreaterThan(48)

  await test.step('looked at and left alone, it is not proposed again; the playhead can go by the plan', async () => {
    await page.keyboard.press('p')
    await expect(editor.frame).not.toHaveValue(String(first))
    const second = Number(await editor.frame.inputValue())
    await expect
      .poll(async () => Number(/\d+/.exec(await page.getByTestId('plan-left').innerText())![0]))
      .toBeLessThan(left)
    await page.getByRole('button', { name: /^Frames that the playhead goes on/ }).click()
    await page.getByRole('option', { name: 'by key plan' }).click()
    await editor.frame.blur()
    await page.keyboard.press('Enter')
    await expect(editor.keys).toHaveText(String(count + 2))
    await expect.poll(async () => Number(await editor.frame.inputValue())).not.toBe(second)
  })

  await test.step('a frame that slipped is found, one click away, and gone when it is mended', async () => {
    await editor.openDemo(demo, 'Trace', 'Two poles')
    const list = page.getByRole('region', { name: 'Worth a look' })
    await page.getByRole('button', { name: 'pole rod' }).click()
    for (const frame of [38, 39, 41, 42]) {
      await editor.go(frame)
      await editor.frame.blur()
      await page.keyboard.press('Enter')
    }
    await editor.go(40)
    await editor.frame.blur()
    await page.keyboard.press('1')
    for (let i = 0; i < 6; i++) await page.keyboard.press('Shift+ArrowUp')
    await editor.go(0)
    const finding = list.getByRole('button', { name: /^40 pole jumps \d+ px/ })
    await finding.click({ timeout: 20_000 })
    await expect(editor.frame).toHaveValue('40')
    await editor.frame.blur()
    await page.keyboard.press('Delete')
    await expect(finding).toHaveCount(0)
  })

  await test.step('charts show what moves, and a click goes to its frame', async () => {
    await page.getByRole('link', { name: 'charts' }).click()
    const chart = page.getByTestId('chart-speed')
    await expect(chart).toBeVisible()
    const box = (await chart.boundingBox())!
    await page.waitForTimeout(500)
    await page.mouse.click(box.x + box.width * 0.6, box.y + box.height / 2)
    await expect(editor.frame).toBeVisible()
    const frame = Number(await editor.frame.inputValue())
    expect(frame).toBeGreaterThan(36)
    expect(frame).toBeLessThan(48)
  })
})

test('where a part has left the picture it can be marked away at once', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, join(demoMedia, 'jetty-swing.mp4'))
  await page.keyboard.press('r')
  await editor.click(300, 690)
  await editor.click(500, 690)
  await editor.go(0)
  await editor.frame.blur()
  for (const end of ['1', '2']) {
    await page.keyboard.press(end)
    for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowDown')
  }
  for (let i = 0; i < 3; i++) {
    await editor.go(i + 1)
    await editor.frame.blur()
    await page.keyboard.press('Enter')
  }
  await kept(editor)
  const list = page.getByRole('region', { name: 'Worth a look' })
  await expect(list.getByRole('button', { name: /^0–3 shaft is out of the picture/ })).toBeVisible({ timeout: 20_000 })
  await list.getByRole('button', { name: 'Mark shaft away on 0–3' }).click()
  await expect(list.getByText('is out of the picture')).toHaveCount(0)
  await kept(editor)
  const aways = (await editor.records()).filter((one) => one.type === 'away')
  expect(aways).toMatchObject([{ from: 0, to: 3 }])
})

test('ways of looking while tracing: difference, frame before, loupe, held still, brightness', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Two poles')
  await editor.go(22)
  await editor.frame.blur()
  await page.keyboard.press('0')
  await expect(editor.canvas).toHaveAttribute('data-layer', 'difference')
  await editor.shows(22)
  const key = (await keysOf(editor, 'keeper-pole-pole')).find((one) => one.frame >= 20)!
  const still = await editor.pixel(30, 30)
  expect(Math.max(...still)).toBeLessThan(90)
  await page.keyboard.press('6')
  await page.keyboard.down('x')
  await editor.shows(21)
  await expect(editor.frame).toHaveValue('22')
  await page.keyboard.up('x')
  await editor.shows(22)
  // Any other frame can be named for it.
  await page.keyboard.press('Shift+B')
  await editor.go(30)
  await editor.frame.blur()
  await page.keyboard.down('x')
  await editor.shows(22)
  await page.keyboard.up('x')
  await editor.shows(30)
  await editor.go(22)
  await editor.frame.blur()
  await page.keyboard.press('Shift+B')
  await expect(page.getByText('shows the frame before.')).toBeVisible()

  await page.keyboard.press('z')
  const over = await editor.at(640, 300)
  await page.mouse.move(over.x, over.y)
  await expect(page.getByTestId('loupe')).toBeVisible()
  await page.keyboard.press('z')

  // Held still, the heel stays on its place of the screen while the picture moves under it.
  await page.getByRole('button', { name: 'pole rod' }).click()
  await editor.go(key.frame)
  await editor.frame.blur()
  const transform = () => editor.canvas.evaluate((canvas) => (canvas as HTMLElement).style.transform)
  const before = await transform()
  await page.keyboard.press('h')
  for (let i = 0; i < 8; i++) await page.keyboard.press('d')
  await editor.shows(key.frame + 8)
  expect(await transform()).toContain('rotate')
  await page.keyboard.press('h')
  expect(await transform()).toBe(before)

  await page.keyboard.press('=')
  expect(await editor.canvas.evaluate((canvas) => (canvas as HTMLElement).style.filter)).toBe(
    'brightness(1.25) contrast(1)',
  )
  await page.keyboard.press('-')
})

test('keys are given away, kept over a reload and reset; undo says where it begins', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await page.keyboard.press('Shift+?')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('button', { name: 'Key for: Step on', exact: true }).click()
  await page.keyboard.press('Escape')
  await dialog.getByRole('button', { name: 'Key for: Step on', exact: true }).click()
  await page.keyboard.press('e')
  await expect(dialog).toContainText('"Next key" had that key and has none now.')
  await page.reload()
  await editor.shows(0)
  await page.keyboard.press('e')
  await expect(editor.frame).toHaveValue('1')
  await page.keyboard.press('d')
  await expect(editor.frame).toHaveValue('1')
  await expect(page.getByRole('button', { name: 'Nothing to undo' })).toBeDisabled()
  await page.keyboard.press('Shift+?')
  await dialog.getByRole('button', { name: 'Reset all' }).click()
  await dialog.getByRole('button', { name: 'Close', exact: true }).click()
  await page.keyboard.press('d')
  await expect(editor.frame).toHaveValue('2')
})

test('parts ride, hide, stand alone, are copied, moved in the list and marked; circles are refused', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const cast = page.getByRole('region', { name: 'Cast' })
  const setting = async (label: string, option: string) => {
    await page.getByRole('button', { name: new RegExp(`^${label}: `) }).click()
    await page.getByRole('option', { name: option, exact: true }).click()
  }
  await cast.getByRole('button', { name: 'brim oval' }).click()
  await page.getByRole('button', { name: 'matte, riding, ends' }).click()
  const before = (await keysOf(editor, 'keeper-brim')).at(-1)!
  await setting('Rides on', 'head')
  await kept(editor)
  expect((await partNamed(editor, 'brim'))!.ride).toMatchObject({ on: 'keeper-head' })
  // Its keys are kept relative to the head now, and it lies where it lay.
  const after = (await keysOf(editor, 'keeper-brim')).at(-1)!
  expect(after.points).not.toEqual(before.points)
  await cast.getByRole('button', { name: 'head oval' }).click()
  await page.getByRole('button', { name: /^Rides on: / }).click()
  await expect(page.getByRole('option', { name: 'brim', exact: true })).toHaveCount(0)
  await page.keyboard.press('Escape')

  await test.step('what carries it takes it along', async () => {
    await cast.getByRole('button', { name: 'head oval' }).click()
    await editor.frame.blur()
    const own = await keysOf(editor, 'keeper-brim')
    for (let i = 0; i < 4; i++) await page.keyboard.press('Shift+ArrowRight')
    await kept(editor)
    expect(await keysOf(editor, 'keeper-brim')).toEqual(own)
  })

  await test.step('hidden, alone, duplicated, moved in the list', async () => {
    await cast.getByRole('button', { name: 'crown oval' }).hover()
    await cast.getByRole('button', { name: 'Hide crown' }).click()
    await kept(editor)
    expect((await partNamed(editor, 'crown'))!.hidden).toBe(true)
    await cast.getByRole('button', { name: 'head oval' }).hover()
    await cast.getByRole('button', { name: 'More for head' }).click()
    await page.getByRole('menuitem', { name: 'Duplicate with keys' }).click()
    await kept(editor)
    const copy = (await partNamed(editor, 'head 2'))!
    expect((await keysOf(editor, copy.id)).length).toBe((await keysOf(editor, 'keeper-head')).length)
    await page.keyboard.press('Shift+S')
    await expect(cast.getByRole('button', { name: 'show all' })).toBeVisible()
    await cast.getByRole('button', { name: 'show all' }).click()
    const [a, b] = await Promise.all(
      ['head 2 oval', 'brim oval'].map(async (name) => (await cast.getByRole('button', { name }).boundingBox())!),
    )
    await page.mouse.move(a!.x + 30, a!.y + 12)
    await page.mouse.down()
    await page.mouse.move(b!.x + 30, b!.y + 14, { steps: 16 })
    // The rows slide for 120 ms; moved on before they rest, the hand would be over the other row once more.
    await page.waitForTimeout(400)
    await page.mouse.up()
    await kept(editor)
    expect((await partNamed(editor, 'head 2'))!.order).toBeGreaterThan((await partNamed(editor, 'brim'))!.order)
  })

  await test.step('a mark with a note', async () => {
    await editor.go(12)
    await editor.frame.blur()
    await page.keyboard.press('m')
    await page.getByLabel('Note on this frame').fill('lifts here')
    await page.getByLabel('Note on this frame').press('Enter')
    await kept(editor)
    expect((await editor.records()).find((r) => r.type === 'mark')).toMatchObject({ frame: 12, note: 'lifts here' })
  })
})

test('a pin by four clicks, a template with its parts, and a shape that can not be thrown far away', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Heron mask')
  await page.keyboard.press('j')
  for (const [x, y] of [
    [900, 500],
    [1100, 520],
    [1090, 640],
    [890, 610],
  ] as const)
    await editor.click(x, y)
  await kept(editor)
  const pin = (await partNamed(editor, 'pin'))!
  expect((await keysOf(editor, pin.id))[0]!.points).toHaveLength(8)

  const cast = page.getByRole('region', { name: 'Cast' })
  await cast.getByRole('button', { name: 'Add to the cast' }).click()
  await page.getByRole('menuitem', { name: 'Hand with fingers' }).click()
  await kept(editor)
  const hand = (await editor.records()).find((r) => r.type === 'member' && r.name === 'Hand')!
  expect((await editor.records()).filter((r) => r.type === 'part' && r.member === hand.id)).toHaveLength(6)
  await expect(editor.hint).toContainText('for palm')
  await expect(page.getByRole('region', { name: 'Worth a look' })).toContainText('palm was never keyed')

  // Far zoomed out, a drag across the stage is a throw of thousands of pixels: it is refused with a sentence.
  await cast.getByRole('button', { name: 'pin pin' }).click()
  await page.keyboard.press('w')
  for (let i = 0; i < 30; i++) await page.mouse.wheel(0, 240)
  const stage = (await page.getByTestId('stage').boundingBox())!
  await page.mouse.move(stage.x + stage.width / 2, stage.y + stage.height / 2)
  for (let i = 0; i < 30; i++) await page.mouse.wheel(0, 240)
  const before = await keysOf(editor, pin.id)
  const [a, b] = [await editor.at(1000, 570), { x: stage.x + stage.width + 900, y: stage.y + 20 }]
  await page.keyboard.press('Control+a')
  await dragBetween(page, [a.x, a.y], [b.x, b.y])
  await expect(page.getByText('That would put the shape far outside the picture; nothing was moved.')).toBeVisible()
  await kept(editor)
  expect(await keysOf(editor, pin.id)).toEqual(before)
})
