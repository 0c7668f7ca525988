import { readFileSync } from 'node:fs'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { makeClip } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { add, drop, made, onset, rate, rms, samplesOf } from '../support/sounds.ts'
import { EditorPage, expect, test } from './fixtures.ts'

test('a swing is traced; a swish, a hum and a file of one’s own ride on it, are heard, and stand where they belong in every file', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'swing.mp4')
  await makeClip(clip, { width: 640, height: 360, frames: 48 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  // At rest until frame 20, round until 28, at rest again: it is fastest at 24.
  const heel: [number, number] = [320, 300]
  const tips: [number, [number, number]][] = [
    [0, [120, 200]],
    [20, [122, 200]],
    [28, [520, 200]],
    [47, [518, 200]],
  ]
  for (const [frame, tip] of tips) {
    await editor.go(frame)
    await editor.click(...heel)
    await expect(editor.hint).toContainText('Click the tip')
    await editor.click(...tip)
  }
  await expect(editor.keys).toContainText('4')

  await editor.step('Sound')
  await expect(page.getByText('Nothing is heard in this shot yet.')).toBeVisible()
  const swish = page.getByRole('article', { name: 'Swish card' })
  await test.step('a voice finds its moments', async () => {
    await add(page, /^Swish/)
    await expect(swish).toContainText('at every swing of')
    await expect(swish.getByTestId('moments')).toHaveText('(1)')
    await expect(page.getByTestId('loudness')).not.toHaveText('–')
  })
  await test.step('another one is driven by the motion', async () => {
    await add(page, /^Hum/)
    await page.getByRole('button', { name: 'Drive Level by motion' }).click()
    await expect(page.getByRole('article', { name: 'Hum card' })).toContainText('level driven by speed')
  })
  await test.step('a file is dropped onto the playhead', async () => {
    await editor.go(8)
    const click = Float32Array.from({ length: 4410 }, (_, i) => (i < 30 ? 0.9 : 0))
    const bytes = ffmpeg(
      [
        '-f',
        'f32le',
        '-ar',
        '44100',
        '-ac',
        '1',
        '-i',
        'pipe:0',
        '-c:a',
        'pcm_s16le',
        '-f',
        'wav',
        join(folder, 'knock.wav'),
      ],
      new Uint8Array(click.buffer),
    )
    expect(bytes.length).toBe(0)
    await drop(page, 'knock.wav', readFileSync(join(folder, 'knock.wav')))
    const card = page.getByRole('article', { name: 'knock.wav card' })
    await expect(card).toContainText('at frames 8')
  })
  await test.step('it is heard while it plays, and the picture goes with it', async () => {
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    const mix = page.getByRole('region', { name: 'All together' })
    await expect(mix.getByText(/^-\d+\.\d dB$/).first()).toBeVisible()
    const before = await editor.frame.inputValue()
    await expect.poll(() => editor.frame.inputValue()).not.toBe(before)
    await page.getByRole('button', { name: 'Pause' }).click()
    await expect(mix.getByText(/^-\d+\.\d dB$/)).toHaveCount(0)
    // Without a loop it ends with the shot.
    await page.getByRole('button', { name: 'Loop' }).click()
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible()
    await expect(editor.frame).toHaveValue('47')
    await page.getByRole('button', { name: 'Loop' }).click()
  })
  await test.step('what a hand did to a moment stays', async () => {
    await page.reload()
    await expect(swish.getByTestId('moments')).toHaveText('(1)')
    const sheet = page.getByTestId('sheet')
    const box = (await sheet.boundingBox())!
    // The sheet as it is: names are 170 px wide, the last frame lies 24 px from the rim.
    const x = (frame: number) => box.x + 178 + (frame * (box.width - 194)) / 47
    const y = box.y + 26 + 29
    // A press takes the bead: it says at which frame it lies.
    await page.mouse.click(x(23.3), y)
    const chosen = page.getByRole('heading', { name: /^Moment at frame 2[345]/ })
    await expect(chosen).toBeVisible()
    await page.mouse.move(x(23.3), y)
    await page.mouse.down()
    await page.mouse.move(x(30), y, { steps: 4 })
    await page.mouse.up()
    await expect(page.getByRole('heading', { name: 'Moment at frame 30' })).toBeVisible()
    await page.getByRole('button', { name: 'as the motion has it' }).click()
    await expect(page.getByRole('heading', { name: 'Moment at frame 30' })).toHaveCount(0)
  })

  await editor.step('Output')
  for (const file of ['MP4 video, H.264', 'WebM', 'WAV, all', 'WAV, every']) {
    await page.getByRole('radio', { name: file.startsWith('WAV') ? /^Sound/ : /^Finished shot/ }).click()
    await page.getByRole('radio', { name: new RegExp(`^${file}`) }).click()
    await page.getByRole('button', { name: /^(Render|Add to the queue)/ }).click()
  }
  await test.step('every lane is as long as the shot and has its sound where it belongs', async () => {
    const lanes = unzipSync(readFileSync(await made(page, folder, 'swing lanes.zip')))
    const lane = (name: string) => samplesOf(Object.entries(lanes).find(([path]) => path.includes(name))![1])
    for (const file of Object.values(lanes)) expect(samplesOf(file).length).toBe(2 * rate)
    expect(Math.abs(onset(lane('knock')) - 8 / 24)).toBeLessThan(0.001)
    const air = lane('Swish')
    const windows = Array.from({ length: 46 }, (_, f) => rms(air, f / 24, (f + 2) / 24))
    expect(Math.abs(windows.indexOf(Math.max(...windows)) + 1 - 24)).toBeLessThanOrEqual(2)
    const voice = lane('Hum')
    expect(rms(voice, 23 / 24, 25 / 24)).toBeGreaterThan(8 * rms(voice, 0.3, 0.6))
  })
  await test.step('the knock stands within a millisecond in the mix, in MP4 and in WebM', async () => {
    for (const name of ['swing.wav', 'swing.mp4', 'swing.webm'])
      expect(Math.abs(onset(samplesOf(await made(page, folder, name))) - 8 / 24)).toBeLessThan(0.001)
  })
})

test('what can not be heard says why, and playing goes on', async ({ page, app, folder }) => {
  const clip = join(folder, 'still.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 24, sound: true })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.step('Sound')
  // The clip's own sound is there by itself, and can be lowered and muted.
  const own = page.getByRole('article', { name: 'still.mp4 card' })
  await expect(own).toContainText('The sound of')
  await expect(page.getByTestId('loudness')).not.toHaveText('–')
  await test.step('files that are none', async () => {
    await drop(page, 'nothing.wav', Buffer.alloc(0))
    await expect(page.getByText(/nothing\.wav: .*empty/)).toBeVisible()
    await drop(page, 'text.mp3', Buffer.from('this is no sound at all, '.repeat(200)))
    await expect(page.getByText(/text\.mp3: /)).toBeVisible()
  })
  await test.step('a voice that rides on nobody stands where the playhead is', async () => {
    await add(page, /^Swish/)
    await expect(page.getByRole('article', { name: 'Swish card' })).toContainText('at frames 0')
  })
  await test.step('a file that is gone from the disk', async () => {
    const knock = join(folder, 'gone.wav')
    await writeFile(knock, ffmpeg(['-f', 'lavfi', '-i', 'sine=440:duration=0.5', '-f', 'wav', '-']))
    await drop(page, 'gone.wav', readFileSync(knock))
    const card = page.getByRole('article', { name: 'gone.wav card' })
    await expect(card).toContainText('at frames 0')
    const media = (await editor.records()).find((one) => one.type === 'media' && one.name === 'gone.wav')!
    const address = `**/api/footage/${String(media.hash)}`
    await page.route(address, (route) => route.fulfill({ status: 404, body: '' }))
    await page.reload()
    await expect(card.getByRole('status')).toContainText('can not be read')
    await page.unroute(address)
    await page.reload()
    await expect(card.getByRole('status')).toHaveCount(0)
  })
  await test.step('all of it muted is silence, and a file of it is refused in a sentence', async () => {
    for (const name of ['still.mp4', 'Swish', 'gone.wav']) {
      const card = page.getByRole('article', { name: `${name} card` })
      await card.getByRole('button', { name: /^More for/ }).click()
      await page.getByRole('menuitem', { name: 'Mute' }).click()
    }
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect.poll(() => editor.frame.inputValue()).not.toBe('0')
    await page.getByRole('button', { name: 'Pause' }).click()
    await editor.step('Output')
    await page.getByRole('radio', { name: /^Sound/ }).click()
    await page.getByRole('radio', { name: /^WAV, all/ }).click()
    await page.getByRole('button', { name: /^Render/ }).click()
    await expect(page.getByRole('alert')).toContainText('Nothing is heard in it')
  })
})
