import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { makeClip } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { add, drop, made, onset, samplesOf } from '../support/sounds.ts'
import { EditorPage, expect, test } from './fixtures.ts'

/** Files as they come, and how ffmpeg makes them. */
const forms: [name: string, options: string[]][] = [
  ['eight.wav', ['-c:a', 'pcm_u8']],
  ['deep.wav', ['-c:a', 'pcm_s24le', '-ar', '96000']],
  ['float.wav', ['-c:a', 'pcm_f32le']],
  ['song.mp3', ['-c:a', 'libmp3lame', '-b:a', '192k']],
  ['phone.m4a', ['-c:a', 'aac', '-b:a', '192k']],
  ['old.ogg', ['-c:a', 'libvorbis']],
  ['new.opus', ['-c:a', 'libopus', '-ar', '48000']],
  ['room.flac', ['-c:a', 'flac', '-ac', '6']],
]

test('files of every form are heard when their own decoder hears them', async ({ page, app, folder }) => {
  const clip = join(folder, 'still.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 48 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.step('Sound')
  // A short tone after a third of a second of silence, as a recording would have it.
  const tone = ['-f', 'lavfi', '-i', 'aevalsrc=0.7*sin(2*PI*2000*t)*between(t\\,0.3333\\,0.36):d=1.2:s=44100']
  for (const [name, options] of forms) {
    ffmpeg([...tone, ...options, join(folder, name)])
    await drop(page, name, readFileSync(join(folder, name)))
    await expect(page.getByRole('article', { name: `${name} card` })).toContainText('at frames 0')
  }
  await editor.step('Output')
  await page.getByRole('radio', { name: /^Sound/ }).click()
  await page.getByRole('radio', { name: /^WAV, every/ }).click()
  await page.getByRole('button', { name: /^Render/ }).click()
  const lanes = unzipSync(readFileSync(await made(page, folder, 'still lanes.zip')))
  for (const [name] of forms) {
    const [, lane] = Object.entries(lanes).find(([path]) => path.includes(name.replace(/\..*/, '')))!
    const [ours, theirs] = [onset(samplesOf(lane)), onset(samplesOf(join(folder, name)))]
    expect.soft(Math.abs(ours - theirs), name).toBeLessThan(0.001)
  }
})

test('a file that is damaged in its middle falls silent and says so; the others go on', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'still.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 48 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  await editor.step('Sound')
  await add(page, /^Hum/)
  const song = join(folder, 'song.m4a')
  ffmpeg(['-f', 'lavfi', '-i', 'sine=440:d=30', '-c:a', 'aac', '-b:a', '128k', '-movflags', '+faststart', song])
  const bytes = readFileSync(song)
  // Behind its tables: the sound itself, from a tenth of it on.
  const data = bytes.indexOf('mdat') + 4
  for (let i = data + Math.floor((bytes.length - data) / 10); i < bytes.length; i++) bytes[i] = (i * 7919) & 255
  await drop(page, 'song.m4a', bytes)
  const card = page.getByRole('article', { name: 'song.m4a card' })
  await expect(card.getByRole('status')).toContainText('damaged')
  await page.getByRole('button', { name: 'Play', exact: true }).click()
  const mix = page.getByRole('region', { name: 'All together' })
  await expect(mix.getByText(/^-\d+\.\d dB$/).first()).toBeVisible()
  await expect.poll(() => editor.frame.inputValue()).not.toBe('0')
  await page.getByRole('button', { name: 'Pause' }).click()
})

test('without a sound device, and before a click, the picture plays on and the reason is said', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'still.mp4')
  await makeClip(clip, { width: 320, height: 180, frames: 24, sound: true })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, clip)
  const plays = async () => {
    await page.getByRole('button', { name: 'Play', exact: true }).click()
    await expect.poll(() => editor.frame.inputValue()).not.toBe('0')
    await page.getByRole('button', { name: 'Pause' }).click()
    await page.keyboard.press('Home')
  }
  // What a browser does that has no device, or lets nothing sound yet.
  await page.evaluate(() => {
    const real = AudioContext
    Object.assign(window, {
      AudioContext: class {
        constructor() {
          throw new DOMException('No device.', 'NotSupportedError')
        }
      },
      deviceAgain: () => Object.assign(window, { AudioContext: real }),
    })
  })
  await plays()
  const speaker = (says: string) => page.getByRole('button', { name: says })
  await expect(speaker('No sound device can be opened')).toBeVisible()
  await expect(page.getByText('Playing goes on without sound').first()).toBeVisible()
  await page.evaluate(() => (window as unknown as { deviceAgain(): void }).deviceAgain())
  await page.evaluate(() => {
    const { resume } = AudioContext.prototype
    Object.defineProperty(AudioContext.prototype, 'state', { configurable: true, get: () => 'suspended' })
    AudioContext.prototype.resume = () => new Promise(() => {})
    Object.assign(window, {
      clicked() {
        delete (AudioContext.prototype as unknown as { state?: string }).state
        AudioContext.prototype.resume = resume
      },
    })
  })
  await plays()
  await expect(speaker('before a click')).toBeVisible()
  await page.evaluate(() => (window as unknown as { clicked(): void }).clicked())
  await plays()
  await expect(speaker('Sound while playing')).toBeVisible()
})
