import { join } from 'node:path'
import { flatten, isNear } from '#core/geometry/path.ts'
import { coverAt, type PackedRaster, rasterFrom } from '#core/pixels/buffers/raster.ts'
import { outline } from '#core/shapes/kinds/outline.ts'
import { handPlaces, makeHand } from '../support/drawnHand.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage, expect, test } from './fixtures.ts'

/**
 * A photograph of Eileen Collins by NASA, in the public domain; it comes with scikit-image and Debian's python3-skimage as
 * `astronaut`, 512 x 512. Corners of her eyes as they are read off the enlarged photograph by hand, to a pixel or two.
 */
const photograph = join(import.meta.dirname, 'photographs/astronaut.jpg')
const corners = { 'right eye': [193.5, 101.2, 212.8, 103.2], 'left eye': [258.5, 103.5, 237, 104] } as const
const enlarged = 720 / 512
/** The camera drifts over the photograph: the corner of what it sees on a frame, in enlarged pixels. */
const cornerAt = (frame: number): [number, number] => [20 + 2 * frame, 10 + frame]
const frames = 17
/** A place of the photograph on a frame. */
const onFrame = (x: number, y: number, frame: number): [number, number] => {
  const [left, top] = cornerAt(frame)
  return [x * enlarged - left, y * enlarged - top]
}

function makeDrift(file: string): void {
  const filter = `scale=720:720:flags=lanczos,crop=640:640:x='20+2*n':y='10+n',format=yuv420p`
  ffmpeg([
    ...['-loop', '1', '-r', '24', '-i', photograph, '-frames:v', String(frames)],
    ...['-vf', filter, '-c:v', 'libx264', '-crf', '16', '-g', '12', file],
  ])
}

interface Kept {
  id: string
  type: string
  name: string
  kind: string
  part: string
  member: string
  frame: number
  points: number[]
  followed: number | null
  matte: PackedRaster | null
}

test('people and faces of a photograph are found on this machine, and a click casts them, here or through the shot', async ({
  page,
  app,
  folder,
}) => {
  test.setTimeout(240_000)
  const clip = join(folder, 'drift.mp4')
  makeDrift(clip)
  const editor = new EditorPage(page)
  const asked: string[] = []
  page.on('request', (request) => asked.push(request.url()))
  await editor.newProjectWith(app, clip)
  const records = async () => (await editor.records()) as unknown as Kept[]
  const keysOf = async (name: string) => {
    const all = await records()
    const part = all.find((record) => record.type === 'part' && record.name === name)!
    return all.filter((record) => record.type === 'key' && record.part === part.id).sort((a, b) => a.frame - b.frame)
  }
  const looked = () =>
    expect(page.getByRole('button', { name: 'look on this frame' })).toBeVisible({ timeout: 120_000 })

  await page.getByRole('button', { name: 'Suggestions' }).click()
  await expect(page.getByText('no picture leaves it')).toBeVisible()
  expect(asked.filter((url) => url.includes('detectors'))).toEqual([])
  await page.getByRole('button', { name: 'look on this frame' }).click()
  await looked()
  const face = page.getByRole('button', { name: /^Cast Face/ })
  const person = page.getByRole('button', { name: /^Cast Performer/ })
  await expect(face).toHaveCount(1)
  await expect(person).toHaveCount(1)
  // No hand is in this picture, and none is made up.
  await expect(page.getByRole('button', { name: /^Cast Hand/ })).toHaveCount(0)
  // Everything came from here.
  expect(asked.filter((url) => !url.startsWith(app.address) && !/^(blob|data):/.test(url))).toEqual([])

  await face.click({ position: { x: 4, y: 4 } })
  await expect(editor.keeping).toHaveText('All changes kept')
  for (const [name, [ox, oy, ix, iy]] of Object.entries(corners)) {
    const [key] = await keysOf(name)
    expect(key).toMatchObject({ frame: 0, followed: null })
    // The outer corner comes first, the inner one is the fifth of eight points.
    const found = [key!.points[0]!, key!.points[1]!, key!.points[32]!, key!.points[33]!]
    const known = [...onFrame(ox, oy, 0), ...onFrame(ix, iy, 0)]
    const off = [0, 2].map((i) => Math.hypot(found[i]! - known[i]!, found[i + 1]! - known[i + 1]!))
    for (const distance of off) expect(distance, `${name} ${off.join()}`).toBeLessThan(6)
  }
  await page.keyboard.press('Control+z')

  // The whole shot: looked at three times a second, thinned to what a hand can edit.
  await page.getByRole('button', { name: 'frame or whole shot' }).click()
  await page.getByRole('checkbox', { name: 'a click takes the whole shot' }).check()
  await page.getByRole('checkbox', { name: 'hands' }).uncheck()
  await page.getByRole('button', { name: 'look on this frame' }).click()
  await test.step('stopped while it looks, it looks no further; looked at again, all is found', async () => {
    await page.getByRole('button', { name: 'stop', exact: true }).click()
    await looked()
    // People come first: faces were not sought any more.
    await expect(person).toHaveCount(1)
    await expect(face).toHaveCount(0)
    await page.getByRole('button', { name: 'look on this frame' }).click()
  })
  await looked()
  await face.click({ position: { x: 4, y: 4 } })
  await looked()
  await expect(editor.keeping).toHaveText('All changes kept')
  const keys = await keysOf('left eye')
  expect(keys.map((key) => key.frame)).toEqual(expect.arrayContaining([0, 16]))
  expect(keys.length).toBeLessThanOrEqual(3)
  for (const key of keys) {
    const known = onFrame(corners['left eye'][0], corners['left eye'][1], key.frame)
    expect(Math.hypot(key.points[0]! - known[0], key.points[1]! - known[1]), `frame ${key.frame}`).toBeLessThan(6)
    expect(key.followed).toBeGreaterThan(0.8)
  }

  // A person becomes a painted matte, found anew on some frames and carried over the rest.
  await person.click({ position: { x: 4, y: 60 } })
  const made = async () => (await records()).filter(({ matte }) => matte).length
  await expect.poll(made, { timeout: 120_000 }).toBe(frames)
  const mattes = await keysOf('matte')
  // A hand has pointed at the one of this frame only; those that the detector saw elsewhere are as sure as it agrees.
  expect(mattes.filter(({ followed }) => followed === null).map(({ frame }) => frame)).toEqual([0])
  const covers = ({ matte }: Kept, [x, y]: [number, number]) => coverAt(rasterFrom(matte!), x, y) > 0.5
  for (const key of mattes) {
    // Forehead, chin, chest and sleeve; the flag, the wall and the shuttle.
    for (const place of [
      [225, 80],
      [225, 170],
      [180, 330],
      [110, 400],
    ] as const)
      expect(covers(key, onFrame(place[0], place[1], key.frame)), `${place.join()} on ${key.frame}`).toBe(true)
    for (const place of [
      [60, 120],
      [330, 60],
      [445, 200],
    ] as const)
      expect(covers(key, onFrame(place[0], place[1], key.frame)), `${place.join()} on ${key.frame}`).toBe(false)
  }
})

test('a hand becomes an outline around its fingers; what is less sure than asked for is not offered', async ({
  page,
  app,
  folder,
}) => {
  test.setTimeout(120_000)
  const clip = join(folder, 'hand.mp4')
  makeHand(clip)
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await page.getByRole('button', { name: 'Suggestions' }).click()
  for (const what of ['people', 'faces']) await page.getByRole('checkbox', { name: what }).uncheck()
  const sure = page.getByLabel('Sure from').last()
  await sure.fill('99')
  await sure.press('Enter')
  await page.getByRole('button', { name: 'look on this frame' }).click()
  await expect(page.getByText('1 found, none as sure as that.')).toBeVisible({ timeout: 60_000 })
  await sure.fill('20')
  await sure.press('Enter')
  await page.getByRole('button', { name: /^Cast Hand/ }).click({ position: { x: 4, y: 4 } })
  await expect(editor.cell).toHaveText('Key')
  await expect(editor.keeping).toHaveText('All changes kept')
  const records = (await editor.records()) as unknown as Kept[]
  expect(records.find((record) => record.type === 'member')).toMatchObject({ kind: 'hand', name: 'Hand' })
  const [key] = records.filter((record) => record.type === 'key')
  const edge = flatten(outline.path(key!.points, {}), 0.2)
  const inside = ([x, y]: [number, number]) => isNear(edge, x, y, 0)
  // The middle joints of all five fingers lie within, the gaps between them beside it.
  for (const joint of [2, 6, 10, 14, 18]) expect(inside(handPlaces[joint]!), `place ${joint}`).toBe(true)
  for (const gap of [
    [290, 200],
    [358, 200],
    [425, 240],
  ] as [number, number][])
    expect(inside(gap), gap.join()).toBe(false)
})

test('two persons in one picture are both found, and each is cast as a performer of its own', async ({
  page,
  app,
  folder,
}) => {
  test.setTimeout(240_000)
  const clip = join(folder, 'two.mp4')
  const side = (name: string, flip: string) => `[0:v]scale=480:480:flags=lanczos${flip},crop=420:480:30:0[${name}]`
  const beside = `${side('a', '')};${side('b', ',hflip')};[a][b]hstack,format=yuv420p`
  ffmpeg([
    ...['-loop', '1', '-r', '24', '-i', photograph, '-frames:v', '6'],
    ...['-filter_complex', beside, '-c:v', 'libx264', '-crf', '16', clip],
  ])
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await page.getByRole('button', { name: 'Suggestions' }).click()
  await page.getByRole('button', { name: 'look on this frame' }).click()
  const person = page.getByRole('button', { name: /^Cast Performer/ })
  await expect(person).toHaveCount(2, { timeout: 120_000 })
  await person.first().click()
  await expect(person).toHaveCount(1, { timeout: 60_000 })
  await person.click()
  await expect(person).toHaveCount(0, { timeout: 60_000 })
  const mattes = ((await editor.records()) as unknown as Kept[]).flatMap(({ matte }) =>
    matte ? [rasterFrom(matte)] : [],
  )
  expect(mattes).toHaveLength(2)
  // One stands on either side of the middle, and nothing of it on the other.
  const sides = mattes.map(({ x, width }) => [x, x + width] as const).sort((a, b) => a[0] - b[0])
  expect(sides[0]![1]).toBeLessThan(460)
  expect(sides[1]![0]).toBeGreaterThan(380)
})

test('who is too small in the whole picture is found in a box that is drawn, and the eyes lie on the eyes', async ({
  page,
  app,
  folder,
}) => {
  test.setTimeout(120_000)
  const clip = join(folder, 'small.mp4')
  const [left, top, scale] = [700, 300, 0.5]
  ffmpeg([
    ...['-f', 'lavfi', '-i', 'color=c=0x506050:s=1280x720:r=24', '-loop', '1', '-i', photograph],
    ...['-filter_complex', `[1]scale=256:256:flags=lanczos[a];[0][a]overlay=${left}:${top},format=yuv420p`],
    ...['-frames:v', '2', '-c:v', 'libx264', '-crf', '14', clip],
  ])
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await page.getByRole('button', { name: 'Suggestions' }).click()
  for (const what of ['people', 'hands']) await page.getByRole('checkbox', { name: what }).uncheck()
  await page.getByRole('button', { name: 'look on this frame' }).click()
  await expect(page.getByText('draw a box around them')).toBeVisible({ timeout: 60_000 })
  const box = page.getByRole('button', { name: 'look in a box' })
  const layer = page.getByTestId('draw-box')
  await box.click()
  await page.keyboard.press('Escape')
  await expect(layer).toHaveCount(0)
  await box.click()
  await editor.drag([left + 64, top + 5], [left + 166, top + 115])
  await page.getByRole('button', { name: /^Cast Face/ }).click({ position: { x: 3, y: 3 }, timeout: 60_000 })
  await expect(editor.keeping).toHaveText('All changes kept')
  const all = (await editor.records()) as unknown as Kept[]
  for (const [name, [ox, oy, ix, iy]] of Object.entries(corners)) {
    const part = all.find((record) => record.type === 'part' && record.name === name)!
    const { points } = all.find((record) => record.type === 'key' && record.part === part.id)!
    const off = (i: number, x: number, y: number) =>
      Math.hypot(points[i]! - left - scale * x, points[i + 1]! - top - scale * y)
    expect(off(0, ox, oy), `${name}, outside`).toBeLessThan(2.5)
    expect(off(32, ix, iy), `${name}, inside`).toBeLessThan(2.5)
  }
  await page.getByRole('button', { name: 'leave the box' }).click()
  await expect(box).toBeVisible()
})
