import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { unzipSync } from 'fflate'
import { makeClip, probe, rodAt } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { OutputPage } from '../support/outputPage.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const options = { width: 640, height: 360, frames: 48 }
const keyed = [0, 8, 16, 24, 32, 40, 47]

test('a frame is held, a piece runs slower and another backwards; what is traced goes along, and comes out so', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'swing.mp4')
  await makeClip(clip, options)
  const grey = (file: string) => ffmpeg(['-i', file, '-pix_fmt', 'gray', '-f', 'rawvideo', '-'])
  // A video of the shot gets the name of the clip.
  const filmed = grey(clip)
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  for (const frame of keyed) {
    const [hx, hy, tx, ty] = rodAt(frame, options)
    await editor.go(frame)
    await editor.click(hx, hy)
    await expect(editor.hint).toContainText('Click the tip')
    await editor.click(tx, ty)
  }
  await expect(editor.keys).toContainText('7')
  // From where the shot is cut, or from the first card.
  await editor.step('Footage')
  await page.getByRole('button', { name: 'More for swing' }).click()
  await page.getByRole('menuitem', { name: 'Hold, slower, backwards…' }).click()
  const card = page.getByRole('article', { name: 'Time card' })
  await expect(card).toHaveText('Time runs as it was filmed')
  await expect(page.getByRole('region', { name: 'Time of the shot' })).toBeVisible()
  await card.getByRole('button').click()
  const panel = page.getByRole('region', { name: 'Time of the shot' })
  const set = async (label: string, value: number) => {
    const field = panel.getByRole('textbox', { name: label })
    await field.fill(String(value))
    await field.press('Enter')
  }
  const choose = async (label: RegExp, option: string) => {
    await panel.getByRole('button', { name: label }).click()
    await panel.getByRole('option', { name: option }).click()
  }

  await test.step('frame 12 stands for eight frames more', async () => {
    await editor.go(12)
    await set('For', 8)
    await panel.getByRole('button', { name: 'Hold it 8 frames longer' }).click()
    await expect(page.getByText('of 56', { exact: true })).toBeVisible()
    await expect(card).toHaveText(/of 56 frames\s+13–20 held/)
    // The card says it before the picture shows it.
    await editor.go(20)
  })
  await test.step('what was frames 16 to 23 runs at half speed', async () => {
    await set('From frame', 24)
    await set('To frame', 31)
    await set('Speed', 50)
    await choose(/^Between/, 'both blended')
    await expect(page.getByTestId('time-becomes')).toHaveText(/8\s+frames become\s+16/)
    await panel.getByRole('button', { name: 'Run them so' }).click()
    await expect(page.getByText('of 64', { exact: true })).toBeVisible()
  })
  await test.step('and what was frames 30 to 47 backwards', async () => {
    await set('From frame', 46)
    await set('To frame', 63)
    await set('Speed', 100)
    await choose(/^Way/, 'backwards')
    await panel.getByRole('button', { name: 'Run them so' }).click()
    await expect(card).toHaveText(/13–20 held, 24–39\s+at 50 %, blended, 46–63\s+backwards/)
  })

  /** Frame of the clip that every frame shows now. */
  const shown = Array.from({ length: 64 }, (_, frame) => {
    if (frame <= 12) return frame
    if (frame <= 20) return 12
    if (frame < 24) return frame - 8
    if (frame < 40) return 16 + (frame - 24) / 2
    return frame < 46 ? frame - 16 : 47 - (frame - 46)
  })
  await test.step('keys of hands lie on the frames that show theirs', async () => {
    await expect(editor.keeping).toHaveText('All changes kept')
    const keys = (await editor.records()).filter((one) => one.type === 'key' && one.followed === null)
    const places = keys.map((key) => ({ frame: Number(key.frame), points: key.points as number[] }))
    expect(places.map(({ frame }) => shown[frame]).sort((a, b) => a! - b!)).toEqual(keyed)
    for (const { frame, points } of places)
      for (const [i, v] of rodAt(shown[frame]!, options).entries()) expect(Math.abs(points[i]! - v)).toBeLessThan(1.5)
  })

  await editor.step('Output')
  const output = new OutputPage(page, folder)
  await output.choose(/^MP4 video, H.264/)
  await output.render()
  await output.choose(/^Plate alone/)
  await output.choose(/^PNG pictures in a zip/)
  await output.render()
  await output.choose(/^ProRes/)
  await output.render()
  await test.step('a file of it shows the same frames', async () => {
    const pictures = Object.values(unzipSync(readFileSync(await output.made('swing plate.zip'))))
    expect(pictures).toHaveLength(64)
    const pixels = pictures.map((bytes) => decode(bytes).data as Uint8Array)
    const apart = (one: number, other: number) => {
      let sum = 0
      for (let i = 0; i < pixels[one]!.length; i += 5) sum += Math.abs(pixels[one]![i]! - pixels[other]![i]!)
      return (5 * sum) / pixels[one]!.length
    }
    for (let frame = 13; frame <= 20; frame++) expect(apart(12, frame)).toBe(0)
    expect(apart(12, 21)).toBeGreaterThan(0.2)
    // Between two frames lies what is as far from the one as from the other.
    const [before, after] = [apart(26, 27), apart(27, 28)]
    expect(Math.abs(before - after)).toBeLessThan(0.1 * before)
    expect(apart(26, 28)).toBeGreaterThan(1.6 * before)
  })
  await test.step('and so do videos, made here and by the server', async () => {
    expect(probe(await output.made('swing.mp4')).video).toMatchObject({ nb_read_frames: '64', avg_frame_rate: '24/1' })
    const film = grey(await output.made('swing plate.mov'))
    const size = options.width * options.height
    expect(film.length).toBe(64 * size)
    /** The frame of the clip that a frame of the file is most like. */
    const likest = (frame: number) => {
      const apart = Array.from({ length: options.frames }, (_, of) => {
        let sum = 0
        for (let i = 0; i < size; i++) sum += Math.abs(film[frame * size + i]! - filmed[of * size + i]!)
        return sum
      })
      return apart.indexOf(Math.min(...apart))
    }
    for (const frame of [5, 12, 16, 20, 21, 26, 38, 45, 46, 52, 63])
      expect(likest(frame), `frame ${frame}`).toBe(shown[frame])
  })

  await test.step('it can be let run as it was filmed again', async () => {
    await editor.step('Effects')
    await card.getByRole('button').click()
    await set('From frame', 0)
    await set('To frame', 63)
    await panel.getByRole('button', { name: 'As filmed', exact: true }).click()
    await expect(page.getByText('of 64', { exact: true })).toBeHidden()
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z')
    await expect(card).toHaveText('Time runs as it was filmed')
    await expect(page.getByText('of 48', { exact: true })).toBeVisible()
  })
})
