import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { coverAt, type PackedRaster, rasterFrom } from '#core/pixels/buffers/raster.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { demoMedia } from '../support/places.ts'
import { EditorPage, expect, test } from './fixtures.ts'

interface KeyRecord {
  id: string
  frame: number
  points: number[]
  followed: number | null
  matte: PackedRaster | null
}
const leap = join(demoMedia, 'leap.mp4')
const truth = JSON.parse(readFileSync(leap.replace('mp4', 'truth.json'), 'utf8')) as {
  outlines: { name: string; points: number[][] }[]
}
const middleOf = (name: string, frame: number): [number, number] => {
  const points = truth.outlines.find((one) => one.name === name)!.points[frame]!
  const mean = (at: number) => {
    const own = points.filter((_, i) => i % 6 === at)
    return own.reduce((a, b) => a + b) / own.length
  }
  return [mean(0), mean(1)]
}
/** The box around the performer on a frame, a hand's width wider. */
function around(frame: number): [number, number][] {
  const all = truth.outlines.flatMap(({ points }) => points[frame]!)
  const [xs, ys] = [all.filter((_, i) => i % 2 === 0), all.filter((_, i) => i % 2)]
  const [x0, x1] = [Math.min(...xs) - 24, Math.max(...xs) + 24]
  const [y0, y1] = [Math.min(...ys) - 24, Math.max(...ys) + 24]
  return [
    [x0, y0],
    [x1, y0],
    [x1, y1],
    [x0, y1],
    [x0, y0],
  ]
}
const body = [
  'right hand',
  'right forearm',
  'right upper arm',
  'neck',
  'hat',
  'neck',
  'torso',
  'left thigh',
  'left shin',
  'left boot',
]

async function stroke(editor: EditorPage, places: [number, number][], shift = false): Promise<void> {
  const { page } = editor
  const way = []
  for (const [x, y] of places) way.push(await editor.at(x, y))
  await page.mouse.move(way[0]!.x, way[0]!.y)
  if (shift) await page.keyboard.down('Shift')
  await page.mouse.down()
  for (const one of way.slice(1)) await page.mouse.move(one.x, one.y, { steps: 8 })
  await page.mouse.up()
  if (shift) await page.keyboard.up('Shift')
}
const kept = (editor: EditorPage) => expect(editor.keeping).toHaveText('All changes kept')
const recordsOf = async (editor: EditorPage, type: string) =>
  (await editor.records()).filter((record) => record.type === type) as unknown as KeyRecord[]
const answered = (editor: EditorPage) => expect(editor.hint).not.toContainText('Looking at', { timeout: 60_000 })
/** Pixels of the performer that a matte covers more than half. */
const covers = ({ matte }: KeyRecord, [x, y]: [number, number]) => coverAt(rasterFrom(matte!), x, y) > 0.5

test('a performer is painted with two strokes, carried, corrected, locked, and made an outline', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, leap)
  await page.keyboard.press('/')
  await expect(editor.hint).toContainText('Stroke what is wanted')

  // One stroke of what is not wanted alone says so, and nothing is made.
  await stroke(editor, around(0), true)
  await expect(page.getByText('That is not wanted. Now stroke what is.')).toBeVisible({ timeout: 60_000 })
  await kept(editor)
  expect(await recordsOf(editor, 'key')).toHaveLength(0)
  await stroke(
    editor,
    body.map((name) => middleOf(name, 0)),
  )
  await answered(editor)
  await expect(editor.cell).toHaveText('Painted')
  await kept(editor)
  const [first] = await recordsOf(editor, 'key')
  for (const name of ['head', 'torso', 'left shin']) expect(covers(first!, middleOf(name, 0)), name).toBe(true)
  expect(covers(first!, around(0)[0]!)).toBe(false)

  // A stroke and its answer are one step back, and forth.
  await page.keyboard.press('Control+z')
  await expect(editor.cell).toHaveText('No matte')
  await page.keyboard.press('Control+Shift+z')
  await expect(editor.cell).toHaveText('Painted')

  // Carried over a chosen few frames: stopped halfway it keeps what is done.
  await page.keyboard.press('Shift+C')
  await expect(editor.hint).toContainText('Carrying')
  await expect.poll(async () => Number(await editor.frame.inputValue()), { timeout: 120_000 }).toBeGreaterThan(4)
  await page.keyboard.press('Escape')
  await expect(page.getByTestId('carried')).toBeVisible({ timeout: 60_000 })
  await kept(editor)
  const keys = (await recordsOf(editor, 'key')).sort((a, b) => a.frame - b.frame)
  expect(keys.length).toBeGreaterThan(4)
  expect(keys[0]).toMatchObject({ frame: 0, followed: null, matte: first!.matte })
  for (const key of keys.slice(1)) {
    expect(covers(key, middleOf('torso', key.frame)), `frame ${key.frame}`).toBe(true)
    expect(key.followed).toBeGreaterThan(0.5)
  }

  // A correction is a painted frame of its own; the ones beside it come anew by one key.
  await editor.go(3)
  await expect(editor.cell).toContainText('Carried')
  await page.keyboard.press('/')
  await stroke(editor, [middleOf('head', 3), middleOf('torso', 3)])
  await answered(editor)
  await expect(editor.cell).toHaveText('Painted')
  await page.keyboard.press('Shift+Z')
  await expect(editor.hint).toContainText('carry anew', { timeout: 120_000 })
  await kept(editor)
  const after = (await recordsOf(editor, 'key')).sort((a, b) => a.frame - b.frame)
  expect(after.map((key) => key.frame)).toEqual(keys.map((key) => key.frame))
  expect(after[0]!.matte).toEqual(first!.matte)
  expect(after[3]!.followed).toBeNull()

  // Frames of a range that are right are kept: no run computes them anew, and how many it would is said before.
  const again = page.getByTestId('run-frames')
  await expect(again).toContainText(`, ${after.length - 2} again`)
  await editor.sweep(truth.outlines[0]!.points.length, 0, 1, 2)
  const range = page.getByRole('region', { name: 'Chosen range' })
  await expect(range).toContainText('2 keys')
  await range.getByRole('button', { name: 'Keep 2 frames as they are' }).click()
  await kept(editor)
  const held = (await recordsOf(editor, 'key')).sort((a, b) => a.frame - b.frame)
  expect(held.slice(0, 5).map(({ followed }) => followed === null)).toEqual([true, true, true, true, false])
  expect(held.map(({ matte }) => matte)).toEqual(after.map(({ matte }) => matte))
  await editor.go(3)
  await expect(again).toContainText(`, ${after.length - 4} again`)
  await page.keyboard.press('Control+z')
  await kept(editor)
  await page.getByRole('button', { name: 'Leave the range' }).click()

  // Locked it stays as it is, whatever the hand does.
  await page.getByRole('button', { name: 'lock', exact: true }).click()
  await stroke(editor, [middleOf('head', 3), middleOf('torso', 3)])
  await expect(page.getByText('is locked; unlock it')).toBeVisible()
  await kept(editor)
  expect((await recordsOf(editor, 'stroke')).filter((one) => one.frame === 3)).toHaveLength(1)
  await page.getByRole('button', { name: 'unlock', exact: true }).click()

  // An outline of few points with keys where the matte is.
  await page.getByRole('button', { name: 'make an outline of it' }).click()
  await expect(page.getByRole('button', { name: /matte outline/ }).first()).toBeVisible({ timeout: 30_000 })
  await kept(editor)
  const parts = (await editor.records()).filter((record) => record.type === 'part')
  const outline = parts.find((part) => part.kind === 'outline')!
  const nodes = (await editor.records()).filter((record) => record.type === 'key' && record.part === outline.id)
  expect(nodes).toHaveLength(after.length)
  expect(new Set(nodes.map((key) => (key.points as number[]).length)).size).toBe(1)
  expect((nodes[0]!.points as number[]).length / 8).toBeLessThan(70)
})

test('who paints is led from the first stroke to a matte in a file', async ({ page, app, folder }) => {
  const editor = new EditorPage(page)
  const clip = join(folder, 'jump.mp4')
  ffmpeg(['-i', leap, '-frames:v', '10', '-an', clip])
  await page.goto(app.address)
  await page.getByTestId('clip-picker').setInputFiles(clip)
  const guide = page.getByTestId('guide')
  await editor.shows(0)
  await expect(guide).toBeVisible()
  await page.keyboard.press('/')
  await stroke(
    editor,
    body.map((name) => middleOf(name, 0)),
  )
  await answered(editor)
  await expect(guide).toContainText('let it be carried')
  await page.keyboard.press('Shift+C')
  await guide.getByRole('button', { name: 'Render the matte' }).click({ timeout: 60_000 })
  await expect(page.getByRole('radio', { name: /^matte/i })).toBeChecked()
  const made = page.getByRole('region', { name: 'What was made' }).getByRole('listitem')
  await expect(made).toContainText(/jump.*Performer.*matte/, { timeout: 60_000 })
  await expect(guide).toContainText('That is the whole way')

  // Once more, by who needs no guide: asked for beside the brush.
  await guide.getByRole('button', { name: 'Done' }).click()
  await editor.step('Trace')
  await page.getByRole('button', { name: 'render the matte' }).click()
  await expect(made).toHaveCount(2, { timeout: 60_000 })
})

test('an effect lies within a painted matte, and away from it nothing changes', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.newProjectWith(demo, leap)
  await page.keyboard.press('/')
  await stroke(
    editor,
    body.map((name) => middleOf(name, 0)),
  )
  await answered(editor)
  await stroke(editor, around(0), true)
  await answered(editor)
  await expect(editor.cell).toHaveText('Painted')
  const [inside, outside] = [middleOf('torso', 0), [60, 60] as [number, number]]
  /** Colour at a place of the plate, at whatever size the picture is worked at. */
  const at = async ([x, y]: [number, number]) => {
    const share = (await editor.canvas.evaluate((canvas) => (canvas as HTMLCanvasElement).width)) / 1280
    return editor.pixel(Math.floor(x * share), Math.floor(y * share))
  }
  await page.keyboard.press('7')
  await expect(editor.canvas).toHaveAttribute('data-layer', 'matte')
  await expect.poll(() => at(inside)).toEqual([255, 255, 255])
  expect(await at(outside)).toEqual([0, 0, 0])
  await editor.step('Effects')
  await editor.addCard('Fill', 'fill')
  const card = page.getByRole('article', { name: 'Fill card' })
  await card.getByRole('button', { name: 'Where it works' }).click()
  await card.getByRole('checkbox', { name: 'Performer' }).check()
  await page.keyboard.press('Escape')
  await page.keyboard.press('4')
  await expect(editor.canvas).toHaveAttribute('data-layer', 'plate')
  const plate = [await at(inside), await at(outside)]
  await page.keyboard.press('9')
  await expect(editor.canvas).toHaveAttribute('data-layer', 'result')
  const far = (a: number[], b: number[]) => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)))
  await expect.poll(async () => far(await at(inside), plate[0]!), { timeout: 20_000 }).toBeGreaterThan(20)
  await expect.poll(async () => far(await at(outside), plate[1]!)).toBe(0)
})
