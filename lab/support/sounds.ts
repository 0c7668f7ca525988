import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { ffmpeg } from './ffmpeg.ts'

export const rate = 48_000
/** Samples of the left channel at 48 kHz, as another program decodes the file. */
export function samplesOf(file: string | Uint8Array): Float32Array {
  const [name, input] = typeof file === 'string' ? [file] : ['pipe:0', file]
  const raw = ffmpeg(
    [
      '-i',
      name,
      '-map',
      '0:a',
      '-af',
      'aformat=channel_layouts=stereo,pan=mono|c0=c0',
      '-ar',
      String(rate),
      '-f',
      'f32le',
      '-',
    ],
    input,
  )
  return new Float32Array(new Uint8Array(raw).buffer)
}
/** Root mean square between two seconds. */
export const rms = (samples: Float32Array, from: number, to: number) => {
  const some = samples.subarray(Math.round(from * rate), Math.round(to * rate))
  return Math.sqrt(some.reduce((sum, v) => sum + v * v, 0) / some.length)
}
/** Second at which it first rises over half of its highest. */
export const onset = (samples: Float32Array) => {
  const most = samples.reduce((top, v) => Math.max(top, Math.abs(v)), 0)
  return samples.findIndex((v) => Math.abs(v) > most / 2) / rate
}

/** The finished file of this name, taken from the Output step into a folder. */
export async function made(page: Page, folder: string, name: string): Promise<string> {
  const item = page.getByRole('listitem', { name, exact: true })
  const link = item.getByRole('link', { name: 'Download' })
  await link.waitFor({ timeout: 120_000 })
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()])
  const path = join(folder, name)
  await download.saveAs(path)
  return path
}

/** Lets a file fall onto the page, as from a folder. */
export async function drop(page: Page, name: string, bytes: Buffer): Promise<void> {
  const data = await page.evaluateHandle(
    ([text, called]) => {
      const transfer = new DataTransfer()
      const raw = Uint8Array.from(atob(text!), (c) => c.charCodeAt(0))
      transfer.items.add(new File([raw], called!, { type: 'audio/wav' }))
      return transfer
    },
    [bytes.toString('base64'), name],
  )
  for (const event of ['dragenter', 'dragover', 'drop']) await page.dispatchEvent('main', event, { dataTransfer: data })
}

export async function add(page: Page, name: string | RegExp): Promise<void> {
  await page.getByRole('button', { name: 'Add a sound' }).first().click()
  await page.getByRole('dialog').getByRole('button', { name }).click()
}
