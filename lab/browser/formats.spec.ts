import { statSync, truncateSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { shown } from '#core/pixels/colour/hdr.ts'
import { makeClip, probe, rodAt } from '../support/clips.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { forms, makeForm, patches, strip } from '../support/formats.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const size = { width: 960, height: 540, frames: 48 }
/** As a phone films it: HEVC, 10 bit, HLG in BT.2020. */
const phone = [
  ...['-c:v', 'libx265', '-preset', 'ultrafast', '-crf', '16', '-pix_fmt', 'yuv420p10le', '-tag:v', 'hvc1'],
  ...['-x265-params', 'log-level=error', '-colorspace', 'bt2020nc', '-color_primaries', 'bt2020'],
  ...['-color_trc', 'arib-std-b67'],
]
const converting = (page: Page) => page.getByRole('progressbar', { name: /^Converting/ })
const bringIn = async (page: Page, address: string, file: string) => {
  await page.goto(address)
  await page.getByRole('button', { name: 'New project', exact: true }).click()
  await page.getByTestId('picker').setInputFiles(file)
}

test('a phone’s clip in HEVC and HLG is dropped, converted while the page is loaded anew, traced and rendered; the file as it came in is let go', async ({
  page,
  app,
  folder,
}) => {
  const clip = join(folder, 'IMG_0412.mov')
  await makeClip(clip, { ...size, sound: true, coding: phone })
  const editor = new EditorPage(page)
  await test.step('it is dropped, and says what becomes of it', async () => {
    await bringIn(page, app.address, clip)
    await expect(page.getByText('It holds more light than a usual screen shows')).toBeVisible()
    // Both ways are seen before one is chosen, and they are not the same.
    const pictures = page.getByRole('radio').locator('img')
    await expect(pictures).toHaveCount(2)
    const brightness = () =>
      pictures.evaluateAll((all) =>
        (all as HTMLImageElement[]).map((one) => {
          const { naturalWidth: width, naturalHeight: height } = one
          if (!width) return 0
          const context = new OffscreenCanvas(width, height).getContext('2d')!
          context.drawImage(one, 0, 0)
          return context.getImageData(0, 0, width, height).data.reduce((a, b) => a + b, 0) / (4 * width * height)
        }),
      )
    await expect.poll(async () => Math.min(...(await brightness())), { timeout: 30_000 }).toBeGreaterThan(64)
    const [kept, cut] = await brightness()
    expect(cut! - kept!).toBeGreaterThan(3)
    await page.getByRole('radio', { name: /white as usual/ }).click()
    await page.getByRole('radio', { name: /all of its light/ }).click()
    await page.getByRole('button', { name: 'Bring it in' }).click()
    await expect(converting(page)).toBeVisible()
    await expect(page.getByText('HEVC, 10 bit, HLG, being converted')).toBeVisible()
    await page.reload()
    const row = page.getByRole('row', { name: /IMG_0412\.mov/ })
    await expect(row).toContainText('H.264, was HEVC', { timeout: 60_000 })
    await expect(row).toContainText('960 × 540')
    await expect(row).toContainText('48')
    await expect(row).toContainText('AAC')
    await expect(converting(page)).toHaveCount(0)
    // Once, however often the page is loaded.
    await page.reload()
    await expect(page.getByRole('row', { name: /IMG_0412\.mov/ })).toHaveCount(1)
    await expect(page.getByRole('main').getByRole('link', { name: 'Trace' })).toHaveCount(1)
  })

  await test.step('what came in can be let go of', async () => {
    await page.getByRole('button', { name: /^Let IMG_0412\.mov as it came in go/ }).click()
    await expect(page.getByRole('row', { name: /IMG_0412\.mov/ })).not.toContainText('was HEVC')
  })

  await test.step('it is traced', async () => {
    await page.getByRole('main').getByRole('link', { name: 'Trace' }).click()
    await editor.shows(0)
    await page.keyboard.press('r')
    const [hx, hy, tx, ty] = rodAt(0, size)
    await editor.click(hx, hy)
    await editor.click(tx, ty)
    await editor.shows(1)
    await expect(editor.keeping).toHaveText('All changes kept')
    expect((await editor.records()).filter(({ type }) => type === 'key')).toHaveLength(1)
  })

  await test.step('and rendered', async () => {
    await editor.step('Output')
    // Of a project without effects its mattes are offered.
    await expect(page.getByRole('radio', { name: /^Matte/ })).toBeChecked()
    await page.getByRole('radio', { name: /^Finished shot/ }).click()
    await page.getByRole('button', { name: /^Render/ }).click()
    const made = page.getByRole('region', { name: 'What was made' })
    await expect(made.getByRole('listitem')).toHaveCount(1, { timeout: 120_000 })
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      made.getByRole('link', { name: 'Download' }).click(),
    ])
    const file = join(folder, 'made.mp4')
    await download.saveAs(file)
    const { video, sound } = probe(file)
    expect(video).toMatchObject({ width: 960, height: 540, nb_read_frames: '48', color_space: 'bt709' })
    expect(sound).toMatchObject({ codec_name: 'aac' })
  })
})

test('bright light of HLG is shown as was chosen, by the standards, and ten bits of BT.709 as they are', async ({
  page,
  app,
  folder,
}) => {
  const editor = new EditorPage(page)
  for (const [name, bright] of [
    ['HEVC, 10 bit, HLG', 'kept'],
    ['HEVC, 10 bit, HLG', 'cut'],
    ['H.264, 10 bit', null],
  ] as const) {
    const form = forms.find((one) => one.name === name)!
    const file = join(folder, `clip.${form.ending}`)
    makeForm(form, file)
    await bringIn(page, app.address, file)
    if (bright) {
      if (bright === 'cut') await page.getByRole('radio', { name: /white as usual/ }).click()
      await page.getByRole('button', { name: 'Bring it in' }).click()
    }
    await page.getByRole('main').getByRole('link', { name: 'Trace' }).click()
    await editor.shows(0)
    for (const [i, codes] of patches.entries()) {
      const ratios = codes.map((v) => v / 255) as [number, number, number]
      const wanted = bright ? shown(ratios, 'hlg', bright).map((v) => 255 * v) : codes
      const seen = await editor.pixel(Math.round(((i + 0.5) * strip.width) / patches.length), 140)
      seen.forEach((v, k) => {
        // Where a colour is cut off at the edge of BT.709, the table that maps it has no value at that very place.
        const most = bright && (wanted[k]! < 1 || wanted[k]! > 254) ? 12 : 4
        expect(Math.abs(v - wanted[k]!), `${name}, ${bright}, patch ${i}`).toBeLessThan(most)
      })
    }
  }
})

test('a conversion is ended while it runs and can be begun again; what can not be converted says why', async ({
  page,
  app,
  folder,
}) => {
  const long = join(folder, 'long.avi')
  const noise = ['-f', 'lavfi', '-i', 'testsrc2=s=960x540:r=30:d=40,noise=alls=20:allf=t']
  ffmpeg([...noise, '-c:v', 'mpeg4', '-q:v', '4', long])
  await bringIn(page, app.address, long)
  await expect(page.getByText('MPEG-4 Part 2, being converted')).toBeVisible()
  await expect(page.getByText(/\d+%, \d+ (s|min) left/)).toBeVisible({ timeout: 30_000 })
  // A look at it that fails is said, and the next one goes on.
  await page.route('**/conversions', (route) => route.abort(), { times: 1 })
  await expect(page.getByText(/server does not answer/)).toBeVisible()
  const share = async () => Number(await converting(page).getAttribute('aria-valuenow'))
  const before = await share()
  await expect.poll(share, { timeout: 30_000 }).toBeGreaterThan(before)
  await page.getByRole('button', { name: 'Cancel long.avi' }).click()
  await expect(converting(page)).toHaveCount(0)
  await expect(page.getByText('Drop a clip here')).toBeVisible()
  await page.getByTestId('picker').setInputFiles(long)
  await expect(converting(page)).toBeVisible()
  await page.getByRole('button', { name: 'Cancel long.avi' }).click()
  await expect(converting(page)).toHaveCount(0)

  const broken = { name: 'holiday.avi', mimeType: 'video/avi', buffer: Buffer.from('RIFF....AVI LIST'.repeat(200)) }
  await page.getByTestId('picker').setInputFiles(broken)
  await expect(page.getByRole('alert')).toContainText(/no file that Wisp Trail knows/)

  await test.step('a large file that can not come in is refused by its ends: the rest of it is never sent', async () => {
    let sent = 0
    page.on('request', (request) => {
      if (request.method() === 'POST' && new URL(request.url()).pathname === '/api/footage') sent++
    })
    const large = { name: 'evening.mov', mimeType: 'video/quicktime', buffer: Buffer.alloc(12 * 2 ** 20, 'no clip ') }
    await page.getByTestId('picker').setInputFiles(large)
    await expect(page.getByRole('listitem').filter({ hasText: 'evening.mov' })).toContainText(/no file that Wisp Trail/)
    expect(sent).toBe(0)
  })
  await test.step('one that is cut short comes in as far as it goes, and says so', async () => {
    const cut = join(folder, 'short.avi')
    ffmpeg(['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=8', '-c:v', 'mpeg4', '-q:v', '4', cut])
    truncateSync(cut, Math.floor(statSync(cut).size / 2))
    await page.getByTestId('picker').setInputFiles(cut)
    await expect(page.getByText(/short\.avi: The file ends early: of 8\.0 seconds/)).toBeVisible({ timeout: 30_000 })
    await expect(page.getByRole('row', { name: /short\.avi/ })).toContainText('ends early')
  })
})

test('what a phone has trimmed off a clip is not to be seen: its edit list is kept to', async ({
  page,
  app,
  folder,
}) => {
  const [whole, trimmed] = [join(folder, 'whole.mp4'), join(folder, 'trimmed.mp4')]
  makeForm({ name: 'whole', ending: 'mp4', coding: [...forms[0]!.coding, '-g', '25', '-bf', '0'] }, whole)
  // Nothing is coded anew: all frames are in the file, and its list says to begin at the tenth.
  ffmpeg(['-ss', '0.4', '-i', whole, '-t', '0.48', '-c', 'copy', trimmed])
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, trimmed)
  await expect(page.getByText('of 12')).toBeVisible()
  const cell = strip.width / strip.bits
  const number = async () => {
    let out = 0
    for (let bit = 0; bit < strip.bits; bit++)
      if ((await editor.pixel(Math.round((bit + 0.5) * cell), 32))[1] > 128) out |= 1 << bit
    return out
  }
  expect(await number()).toBe(10)
  await editor.go(11)
  expect(await number()).toBe(21)
})

test('a ProRes 4444 with alpha is converted and inserted: what is clear in it shows the plate', async ({
  page,
  app,
  folder,
}) => {
  const editor = new EditorPage(page)
  await makeClip(join(folder, 'plate.mp4'), { width: 320, height: 180, frames: 12 })
  const card = join(folder, 'card.mov')
  const drawn =
    'color=black@0:s=320x180:r=24:d=0.5,format=rgba,geq=r=20:g=200:b=60:a=255*lt(X\\,160),format=yuva444p10le'
  ffmpeg(['-f', 'lavfi', '-i', drawn, '-c:v', 'prores_ks', '-profile:v', '4', '-pix_fmt', 'yuva444p10le', card])
  await editor.newProjectWith(app, join(folder, 'plate.mp4'))
  await editor.step('Footage')
  await page.getByTestId('picker').setInputFiles(card)
  await expect(page.getByRole('row', { name: /card\.mov/ })).toContainText('VP9, was ProRes', { timeout: 60_000 })
  await page.getByRole('listitem', { name: 'plate' }).getByRole('link', { name: 'Trace' }).click()
  await editor.step('Effects')
  await editor.atHalf()
  await expect(editor.canvas).toHaveAttribute('width', '160')
  await editor.shows(0)
  const beside = await editor.pixel(120, 45)
  await editor.addCard('Insert', 'insert')
  const insert = page.getByRole('article', { name: 'Insert card' })
  await insert.getByRole('button', { name: 'Clip', exact: true }).click()
  await page.getByRole('option', { name: 'card.mov' }).click()
  await expect.poll(async () => (await editor.pixel(40, 45))[1], { timeout: 20_000 }).toBeGreaterThan(190)
  const [r, g, b] = await editor.pixel(40, 45)
  expect(Math.max(Math.abs(r - 20), Math.abs(g - 200), Math.abs(b - 60))).toBeLessThan(6)
  expect(await editor.pixel(120, 45)).toEqual(beside)
})

test('an animated WebP is a sequence in its time, numbered TIFFs are one, and a still is a shot as long as one likes', async ({
  page,
  app,
  folder,
}) => {
  const editor = new EditorPage(page)
  const animated = join(folder, 'spark.webp')
  makeForm(
    forms.find(({ apart }) => apart)!,
    animated,
  )
  const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', '320x192', '-i', '-', '-frames:v', '1']
  const tiffs = Array.from({ length: 6 }, (_, i) => {
    const file = join(folder, `wave_${i + 7}.tif`)
    ffmpeg([...raw, '-vf', 'format=rgb48le', file], Buffer.alloc(3 * 320 * 192, 30 * (i + 1)))
    return file
  })
  const still = join(folder, 'moon.png')
  ffmpeg([...raw, still], Buffer.alloc(3 * 320 * 192, Buffer.from([64, 96, 128])))
  await bringIn(page, app.address, animated)
  const row = (name: RegExp) => page.getByRole('row', { name })
  await expect(row(/spark\.webp/)).toContainText('1.00 s')
  await expect(page.getByLabel('Rate of spark.webp')).toHaveValue('25')
  await page.getByTestId('picker').setInputFiles(tiffs)
  await expect(row(/wave_7-12\.tif/)).toContainText('PNG, was TIFF', { timeout: 60_000 })
  await page.getByTestId('picker').setInputFiles(still)
  await page.getByRole('button', { name: 'A shot of moon.png' }).click()
  // By their names, whenever they came in.
  await expect(row(/\.(webp|tif|png)/)).toContainText(['moon.png', 'spark.webp', 'wave_7-12.tif'])

  const shot = (name: string) => page.getByRole('listitem', { name })
  const out = shot('moon').getByRole('textbox', { name: 'Out: last frame' })
  await expect(shot('moon')).toContainText('120 frames')
  await out.fill('299')
  await out.press('Enter')
  await expect(shot('moon')).toContainText('300 frames, 12.50 s')
  await out.fill('20000')
  await out.press('Enter')
  await expect(shot('moon')).toContainText('10000 frames')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(shot('moon')).toContainText('300 frames')

  await shot('moon').getByRole('link', { name: 'Trace' }).click()
  await editor.go(299)
  expect(await editor.pixel(100, 100)).toEqual([64, 96, 128])
  await page.keyboard.press('r')
  await editor.click(60, 60)
  await editor.click(200, 120)
  await expect(editor.keeping).toHaveText('All changes kept')
  expect((await editor.records()).filter(({ type }) => type === 'key')).toMatchObject([{ frame: 299 }])

  await editor.step('Footage')
  await shot('wave 7 12').getByRole('link', { name: 'Trace' }).click()
  await editor.go(4)
  // ffmpeg makes 38400 of 65535 of it.
  expect(await editor.pixel(100, 100)).toEqual([149, 149, 149])
  await editor.step('Footage')
  await shot('spark').getByRole('link', { name: 'Trace' }).click()
  for (const frame of [3, 19]) {
    await editor.go(frame)
    const bits = await Promise.all(
      Array.from({ length: strip.bits }, (_, bit) =>
        editor.pixel(Math.round(((bit + 0.5) * strip.width) / strip.bits), 32),
      ),
    )
    expect(bits.reduce((sum, [, green], bit) => sum + (green > 128 ? 2 ** bit : 0), 0)).toBe(frame)
  }
})

test('pictures of light come in as they are: what is brighter than white is there again when it is made darker', async ({
  page,
  app,
  folder,
}) => {
  const editor = new EditorPage(page)
  // IEC 61966-2-1: light of a half is a code of 188, of a quarter one of 137, of 1/16 one of 71.
  const light = "format=gbrpf32le,geq=r='if(lt(X,W/2),2,0.5)':g='1':b='0.25'"
  const files = [1, 2].map((number) => join(folder, `lamp_${number}.exr`))
  for (const file of files)
    ffmpeg([
      '-f',
      'lavfi',
      '-i',
      'color=black:s=320x192',
      '-frames:v',
      '1',
      '-vf',
      light,
      '-pix_fmt',
      'gbrpf32le',
      file,
    ])
  await bringIn(page, app.address, files[0]!)
  await expect(page.getByRole('row', { name: /lamp_1\.exr/ })).toContainText('OpenEXR')
  await page.getByRole('button', { name: 'A shot of lamp_1.exr' }).click()
  await page.getByTestId('picker').setInputFiles(files)
  await expect(page.getByRole('row', { name: /lamp_1-2\.exr/ })).toContainText('OpenEXR')
  await page.getByRole('listitem', { name: 'lamp 1', exact: true }).getByRole('link', { name: 'Trace' }).click()
  await editor.step('Effects')
  await editor.atHalf()
  await editor.shows(0)
  expect(await editor.pixel(40, 48)).toEqual([255, 255, 137])
  expect(await editor.pixel(120, 48)).toEqual([188, 255, 137])
  const grade = await editor.addCard('Grade')
  await grade.getByRole('textbox', { name: 'Exposure' }).fill('-2')
  await page.keyboard.press('Enter')
  await expect.poll(() => editor.pixel(40, 48)).toEqual([188, 137, 71])
  expect(await editor.pixel(120, 48)).toEqual([99, 137, 71])
})
