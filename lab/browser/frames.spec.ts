import { join } from 'node:path'
import { makeClip, turnByTag } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const [width, height, frames] = [320, 180, 60]
/** Patches with known codes: Y, Cb, Cr in limited-range BT.709, and what the equations of BT.709 make of them. */
const patches = [
  [81, 90, 240],
  [32, 240, 118],
  [180, 110, 140],
  [60, 128, 128],
  [120, 160, 100],
  [200, 118, 132],
] as const
const exact = ([y, cb, cr]: readonly [number, number, number]) => {
  const [l, u, v] = [(y - 16) / 219, (cb - 128) / 224, (cr - 128) / 224]
  return [l + 1.5748 * v, l - 0.187324 * u - 0.468124 * v, l + 1.8556 * u].map((c) =>
    Math.min(255, Math.max(0, c * 255)),
  )
}

/** Every frame tells its number in eight black or white blocks at the top; below lie the patches. */
function numbered(): Buffer {
  const size = width * height * 1.5
  const out = Buffer.alloc(size * frames, 128)
  for (let f = 0; f < frames; f++) {
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const block = Math.floor(x / 40)
        const patch = patches[Math.min(patches.length - 1, Math.floor(x / 54))]!
        out[f * size + y * width + x] = y < 60 ? ((f >> block) & 1 ? 235 : 16) : patch[0]
        if (y >= 60 && y % 2 === 0 && x % 2 === 0) {
          const at = f * size + width * height + (y / 2) * (width / 2) + x / 2
          out[at] = patch[1]
          out[at + (width * height) / 4] = patch[2]
        }
      }
  }
  return out
}

function encodeNumbered(file: string, ...coding: string[]): void {
  const input = ['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${width}x${height}`, '-r', '24', '-i', '-']
  const tags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv']
  ffmpeg([...input, ...coding, ...tags, file], numbered())
}

/** The number that the shown picture tells. */
async function toldNumber(editor: EditorPage): Promise<number> {
  return editor.canvas.evaluate((canvas) => {
    const c = (canvas as HTMLCanvasElement).getContext('2d')!
    let n = 0
    for (let block = 0; block < 8; block++)
      if (c.getImageData(40 * block + 20, 30, 1, 1).data[0]! > 128) n |= 1 << block
    return n
  })
}

const codings: [string, string, string[], number][] = [
  ['H.264 with B-frames in MP4', 'a.mp4', ['-c:v', 'libx264', '-crf', '4', '-bf', '3', '-g', '30'], 2],
  ['H.264 in MOV', 'b.mov', ['-c:v', 'libx264', '-crf', '4', '-g', '12'], 2],
  ['VP8 in WebM', 'c.webm', ['-c:v', 'libvpx', '-b:v', '6M', '-qmin', '0', '-qmax', '4', '-g', '30'], 3],
  ['lossless VP9 in WebM', 'd.webm', ['-c:v', 'libvpx-vp9', '-lossless', '1', '-cpu-used', '8', '-g', '30'], 1],
  ['AV1 in MP4', 'e.mp4', ['-c:v', 'libaom-av1', '-cpu-used', '8', '-crf', '5', '-b:v', '0', '-g', '30'], 3],
]
for (const [name, file, coding, tolerance] of codings) {
  test(`${name}: stepping either way, jumping and scrubbing show the very frame, in its true colours`, async ({
    page,
    app,
    folder,
  }) => {
    encodeNumbered(join(folder, file), ...coding)
    const editor = new EditorPage(page)
    await editor.newProjectWith(app, join(folder, file))
    expect(await toldNumber(editor)).toBe(0)
    for (const frame of [1, 59, 30, 29, 28, 31, 5, 58]) {
      await editor.go(frame)
      expect(await toldNumber(editor)).toBe(frame)
    }
    await editor.frame.blur()
    for (const [key, frame] of [
      ['a', 57],
      ['a', 56],
      ['d', 57],
      ['Home', 0],
      ['d', 1],
      ['End', 59],
      ['a', 58],
    ] as const) {
      await page.keyboard.press(key)
      await editor.shows(frame)
      expect(await toldNumber(editor)).toBe(frame)
    }
    for (const [i, patch] of patches.entries()) {
      const colour = await editor.pixel(54 * i + 26, 120)
      exact(patch).forEach((value, c) =>
        expect(Math.abs(colour[c]! - value), `${name}, patch ${i}: ${colour} for ${exact(patch)}`).toBeLessThanOrEqual(
          tolerance,
        ),
      )
    }
  })
}

const enlarging = 'scale=2560:1440:flags=neighbor'
/** What is seen of the numbered clip enlarged, at whatever size its pictures come. */
function enlargedSeen(editor: EditorPage) {
  /** Colour at a place of the small picture that the clip was enlarged from. */
  const at = async (x: number, y: number) => {
    const size = await editor.canvas.evaluate((canvas) => (canvas as HTMLCanvasElement).width)
    return editor.pixel(Math.round((x * size) / width), Math.round((y * size) / width))
  }
  const told = async () => {
    let n = 0
    for (let block = 0; block < 8; block++) if ((await at(40 * block + 20, 30))[0] > 128) n |= 1 << block
    return n
  }
  const trueColours = async () => {
    for (const [i, patch] of patches.entries()) {
      const colour = await at(54 * i + 26, 120)
      exact(patch).forEach((value, c) => expect(Math.abs(colour[c]! - value)).toBeLessThanOrEqual(2))
    }
  }
  /** At the size of its pixels all of them are there once the hand rests. */
  const looksClosely = async () => {
    await editor.page.getByRole('button', { name: /press for actual pixels$/ }).click()
    await expect(editor.canvas).toHaveAttribute('width', '2560')
    await editor.go(31)
    await expect(editor.canvas).toHaveAttribute('width', '2560')
    expect(await told()).toBe(31)
    await trueColours()
  }
  return { told, trueColours, looksClosely }
}

test('of a clip larger than most screens the very frame comes smaller, in its true colours, and whole to who looks closely', async ({
  page,
  app,
  folder,
}) => {
  const enlarged = join(folder, 'large.mp4')
  encodeNumbered(enlarged, '-vf', enlarging, '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '4')
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, enlarged)
  const { told, trueColours, looksClosely } = enlargedSeen(editor)
  await expect(editor.canvas).toHaveAttribute('width', '1280')
  for (const frame of [0, 1, 2, 59, 30, 29]) {
    await editor.go(frame)
    expect(await told()).toBe(frame)
  }
  await trueColours()
  // Coarser where it is only watched: a quarter is as much as anybody sees of it.
  await editor.step('Effects')
  await editor.atSize('quarter size')
  await expect(editor.canvas).toHaveAttribute('width', '640')
  await editor.shows(29)
  expect(await told()).toBe(29)
  await trueColours()
  await editor.step('Trace')
  await page.getByRole('button', { name: 'How the view is shown' }).click()
  await page.getByRole('button', { name: /^Pictures at/ }).click()
  await page.getByRole('option', { name: 'full at rest' }).click()
  await page.keyboard.press('Escape')
  await looksClosely()
})

test('a large clip that is slow to read is seen through a lighter copy once that is there: the very frame, in its true colours', async ({
  page,
  app,
  folder,
}) => {
  const enlarged = join(folder, 'slow.mp4')
  // No machine reads so many of them in their time.
  const fast = ['-vf', `${enlarging},settb=1/240,setpts=N`, '-r', '240', '-bf', '3', '-g', '30']
  encodeNumbered(enlarged, ...fast, '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '4')
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, enlarged)
  const { told, trueColours, looksClosely } = enlargedSeen(editor)
  const view = page.getByRole('button', { name: 'How the view is shown' })
  const throughCopy = page.getByText('Smaller pictures come from a lighter copy of the clip')
  await view.click()
  await expect(throughCopy).toBeVisible({ timeout: 60_000 })
  await page.keyboard.press('Escape')
  // Nothing that was read from the clip itself is left.
  const reading = page.waitForRequest(/\/lighter$/)
  await page.reload()
  await reading
  await editor.shows(0)
  await view.click()
  await expect(throughCopy).toBeVisible()
  await page.keyboard.press('Escape')
  for (const frame of [59, 1, 2, 30, 29, 28, 58]) {
    await editor.go(frame)
    expect(await told()).toBe(frame)
  }
  await expect(editor.canvas).toHaveAttribute('width', '1280')
  await trueColours()
  // Who looks closely sees the clip itself.
  await looksClosely()
})

test('who leaves a shot while its lighter copy is made reads nothing of it in another, and finds it there on coming back', async ({
  page,
  app,
  folder,
}) => {
  const [enlarged, small] = [join(folder, 'long.mp4'), join(folder, 'small.mp4')]
  // Long enough to be left in the middle.
  const slow = ['-vf', `${enlarging},loop=4:60,settb=1/240,setpts=N`, '-r', '240', '-g', '30']
  encodeNumbered(enlarged, ...slow, '-c:v', 'libx264', '-preset', 'ultrafast', '-crf', '4')
  encodeNumbered(small, '-c:v', 'libx264', '-crf', '4')
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, small)
  const other = page.url()
  await editor.newProjectWith(app, enlarged)
  const first = page.url()
  const view = page.getByRole('button', { name: 'How the view is shown' })
  const [made, through] = [/^A lighter copy of this large clip is being made/, /^Smaller pictures come from a lighter/]
  await view.click()
  await expect(page.getByText(made)).toBeVisible({ timeout: 60_000 })
  await page.goto(other)
  await editor.shows(0)
  await view.click()
  await expect(page.getByText('Memory', { exact: false }).first()).toBeVisible()
  for (const sentence of [made, through]) await expect(page.getByText(sentence)).toBeHidden()
  expect(await toldNumber(editor)).toBe(0)
  await page.goto(first)
  await editor.shows(0)
  await view.click()
  await expect(page.getByText(through)).toBeVisible({ timeout: 120_000 })
})

test('a clip filmed upright stands upright, as ffmpeg turns it', async ({ page, app, folder }) => {
  const [flat, turned] = [join(folder, 'flat.mp4'), join(folder, 'turned.mp4')]
  await makeClip(flat, { width: 320, height: 180, frames: 12 })
  turnByTag(flat, turned)
  const reference = ffmpeg(['-i', turned, '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'])
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, turned)
  await expect(editor.canvas).toHaveJSProperty('width', 180)
  const picture = await editor.canvas.evaluate((canvas) => [
    ...(canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 180, 320).data,
  ])
  let sum = 0
  for (let i = 0; i < 180 * 320; i++)
    for (let c = 0; c < 3; c++) sum += Math.abs(picture[4 * i + c]! - reference[3 * i + c]!)
  // ffmpeg interpolates chroma where we take the nearest sample: edges of the rod differ, the rest does not.
  expect(sum / (180 * 320 * 3)).toBeLessThan(1.5)
})

test('a clip of varying rate keeps every frame and its own times', async ({ page, app, folder }) => {
  encodeNumbered(join(folder, 'all.mp4'), '-c:v', 'libx264', '-crf', '4')
  ffmpeg([
    '-i',
    join(folder, 'all.mp4'),
    '-vf',
    "select='mod(n,3)'",
    '-fps_mode',
    'vfr',
    '-c:v',
    'libx264',
    '-crf',
    '4',
    join(folder, 'vfr.mp4'),
  ])
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, join(folder, 'vfr.mp4'))
  for (const frame of [0, 1, 2, 20, 39]) {
    await editor.go(frame)
    expect(await toldNumber(editor)).toBe(1 + Math.floor(frame / 2) * 3 + (frame % 2))
  }
})
