import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { unzipSync } from 'fflate'
import { pixelsOfExr } from '#core/formats/exr.ts'
import { toLinear } from '#core/pixels/colour/transfer.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { demoMedia } from '../support/places.ts'
import { OutputPage } from '../support/outputPage.ts'
import { EditorPage, expect, test } from './fixtures.ts'

test('the queue is ordered by dragging, survives a reload, and a job in the middle begins anew', async ({
  page,
  demo,
  folder,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Output', 'Jetty swing')
  const output = new OutputPage(page, folder)
  const { queue } = output
  const listed = () => queue.evaluateAll((all) => all.map((one) => one.getAttribute('aria-label')))
  await output.choose(/^PNG pictures in a zip/)
  await output.render()
  await output.frame('To', 2)
  await output.choose(/^MP4 video, H.264/)
  await output.render()
  await output.choose(/^WebM/)
  await output.render()
  await test.step('the last goes before the one that waits, by the mouse and back by the keyboard', async () => {
    const [mp4, webm] = ['Jetty swing frames 0 to 2.mp4', 'Jetty swing frames 0 to 2.webm']
    await expect(queue).toHaveCount(3)
    const grip = (name: string) => page.getByRole('button', { name: `Move ${name}` })
    const [from, to] = [(await grip(webm).boundingBox())!, (await grip(mp4).boundingBox())!]
    await page.mouse.move(from.x + 10, from.y + 10)
    await page.mouse.down()
    await page.mouse.move(to.x + 10, to.y + 8, { steps: 8 })
    await page.mouse.up()
    await expect.poll(listed).toEqual(['Jetty swing.zip', webm, mp4])
    await grip(webm).focus()
    await page.keyboard.press('ArrowDown')
    await expect.poll(listed).toEqual(['Jetty swing.zip', mp4, webm])
    await page.keyboard.press('ArrowUp')
    await expect.poll(listed).toEqual(['Jetty swing.zip', webm, mp4])
  })
  await test.step('after a reload, on another step, all goes on in that order', async () => {
    // Nothing is finished before it was looked at, however long that takes.
    let look = () => {}
    const looked = new Promise<void>((done) => (look = done))
    await page.route('**/api/footage/**', (route) => looked.then(() => route.continue()))
    await page.reload()
    await editor.step('Effects')
    await editor.step('Output')
    await expect
      .poll(listed)
      .toEqual(['Jetty swing.zip', 'Jetty swing frames 0 to 2.webm', 'Jetty swing frames 0 to 2.mp4'])
    look()
    await page.getByRole('button', { name: 'Cancel Jetty swing.zip' }).click()
    const webm = await output.made('Jetty swing frames 0 to 2.webm')
    const mp4 = await output.made('Jetty swing frames 0 to 2.mp4')
    for (const file of [webm, mp4])
      expect(ffmpeg(['-i', file, '-pix_fmt', 'gray', '-f', 'rawvideo', '-']).length).toBe(3 * 1280 * 720)
    // Nothing is left, in the queue or half made.
    await expect(queue).toHaveCount(0)
    await page.reload()
    await expect(page.getByRole('listitem', { name: 'Jetty swing frames 0 to 2.mp4' })).toBeVisible()
    await expect(queue).toHaveCount(0)
    expect(
      await page.evaluate(async () => {
        const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('rendered', { create: true })
        let count = 0
        for await (const _ of folder.keys()) count++
        return count
      }),
    ).toBe(0)
  })
})

test('light and cut-outs go out with alpha as videos, with 16 bits and as OpenEXR; a preset keeps how', async ({
  page,
  demo,
  folder,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Leap')
  await editor.go(31)
  await editor.step('Output')
  const output = new OutputPage(page, folder)
  await output.choose(/^Cut-out/)
  await output.pick(/^Of whom/, 'Keeper')
  await output.frame('From', 31)
  await output.frame('To', 31)
  for (const kind of [
    /^WebM video with alpha/,
    /^PNG pictures in a zip/,
    /^PNG pictures of 16/,
    /^OpenEXR pictures in/,
  ]) {
    await output.choose(kind)
    await output.call(`[shot] ${String(kind).slice(2, 6)} ${kind.source.length}`)
    await output.render()
  }
  const file = async (kind: RegExp, ending: string) =>
    readFileSync(await output.made(`Leap ${String(kind).slice(2, 6)} ${kind.source.length}.${ending}`))
  const only = (zip: Uint8Array) => Object.values(unzipSync(zip))[0]!
  const eight = decode(only(await file(/^PNG pictures in a zip/, 'zip')))
  const sixteen = decode(only(await file(/^PNG pictures of 16/, 'zip')))
  const exr = pixelsOfExr(only(await file(/^OpenEXR pictures in/, 'zip')))
  await test.step('all of them hold the same figure', () => {
    expect([eight.depth, sixteen.depth, sixteen.channels]).toEqual([8, 16, 4])
    let [covered, apart, alphaOff, exrOff, codeOff] = [0, 0, 0, 0, 0]
    for (let i = 0; i < eight.data.length; i += 4) {
      const alpha = sixteen.data[i + 3]! / 65535
      alphaOff = Math.max(alphaOff, Math.abs(alpha * 255 - eight.data[i + 3]!))
      exrOff = Math.max(exrOff, Math.abs(exr.light![i + 3]! - alpha))
      if (eight.data[i + 3]! < 8) continue
      covered++
      for (let c = 0; c < 3; c++) {
        codeOff = Math.max(codeOff, Math.abs(sixteen.data[i + c]! / 257 - eight.data[i + c]!))
        apart += Math.abs(exr.light![i + c]! / alpha - toLinear(eight.data[i + c]! / 255))
      }
    }
    expect(alphaOff).toBeLessThan(0.51)
    expect(exrOff).toBeLessThan(0.001)
    expect(codeOff).toBeLessThan(0.51)
    expect(covered).toBeGreaterThan(5000)
    expect(apart / covered / 3).toBeLessThan(0.001)
  })
  await test.step('ffmpeg lays the video over blue as it lays the pictures', async () => {
    const video = join(folder, 'cut.webm')
    writeFileSync(video, await file(/^WebM video with alpha/, 'webm'))
    const picture = join(folder, 'cut.png')
    writeFileSync(picture, only(await file(/^PNG pictures in a zip/, 'zip')))
    const over = (input: string[]) =>
      new Uint8Array(
        ffmpeg([
          ...['-f', 'lavfi', '-i', 'color=blue:s=1280x720,format=gbrp', ...input],
          ...['-filter_complex', '[1]scale=in_color_matrix=bt709,format=gbrap[a];[0][a]overlay=format=gbrp'],
          ...['-frames:v', '1', '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-'],
        ]),
      )
    const [moving, still] = [over(['-c:v', 'libvpx-vp9', '-i', video]), over(['-i', picture])]
    expect(moving.reduce((sum, v, i) => sum + Math.abs(v - still[i]!), 0) / moving.length).toBeLessThan(1)
  })
  await test.step('a WebP that moves has every frame, clear where nobody is, in the time of the clip', async () => {
    await output.choose(/^WebP animation/)
    await output.call('[shot] moving')
    await output.frame('To', 35)
    await output.render()
    const bytes = readFileSync(await output.made('Leap moving.webp')).toString('base64')
    const seen = await page.evaluate(async (text) => {
      const data = Uint8Array.from(atob(text), (c) => c.charCodeAt(0))
      const decoder = new ImageDecoder({ data, type: 'image/webp' })
      await decoder.tracks.ready
      await decoder.completed
      const frames = []
      for (let frameIndex = 0; frameIndex < decoder.tracks.selectedTrack!.frameCount; frameIndex++) {
        const { image } = await decoder.decode({ frameIndex })
        const canvas = new OffscreenCanvas(image.displayWidth, image.displayHeight)
        const context = canvas.getContext('2d')!
        context.drawImage(image, 0, 0)
        const pixels = context.getImageData(0, 0, canvas.width, canvas.height).data
        let covered = 0
        for (let i = 3; i < pixels.length; i += 4) covered += pixels[i]! / 255
        frames.push({ width: canvas.width, ms: image.duration! / 1000, covered })
        image.close()
      }
      return frames
    }, bytes)
    expect(seen.map(({ width }) => width)).toEqual(Array(5).fill(1280))
    expect(seen.reduce((sum, { ms }) => sum + ms, 0)).toBe(Math.round((1000 * 5) / 24))
    let area = 0
    for (let i = 3; i < eight.data.length; i += 4) area += eight.data[i]! / 255
    expect(Math.abs(seen[0]!.covered / area - 1)).toBeLessThan(0.02)
    await output.choose(/^OpenEXR pictures in/)
    await output.frame('To', 31)
  })
  await test.step('a preset keeps how, is taken again and forgotten', async () => {
    await output.pick(/^Size/, 'half')
    await output.call('[shot] small [size]')
    await page.getByRole('button', { name: 'Keep this as a preset' }).click()
    await page.getByRole('textbox', { name: 'Name of the preset' }).fill('Half for the edit')
    await page.getByRole('button', { name: 'Keep', exact: true }).click()
    await output.pick(/^Preset/, 'To show around')
    await expect(output.facts).toContainText('Leap frame 31.mp4')
    await page.reload()
    await output.pick(/^Preset/, 'Half for the edit')
    await expect(output.facts).toContainText('640 × 360')
    await output.frame('To', 1)
    await output.render()
    const half = await output.made('Leap small half.zip')
    expect(pixelsOfExr(only(readFileSync(half)))).toMatchObject({ width: 640, height: 360 })
    await page.getByRole('button', { name: 'Forget the preset Half for the edit' }).click()
    await page.getByRole('button', { name: /^Preset/ }).click()
    await expect(page.getByRole('option', { name: 'Half for the edit' })).toHaveCount(0)
  })
})

test('ten files at once all arrive; a cropped cut-out that the server makes lies where it was', async ({
  page,
  demo,
  folder,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Leap')
  await editor.go(31)
  await editor.step('Output')
  const output = new OutputPage(page, folder)
  await output.choose(/^Cut-out/)
  await output.pick(/^Of whom/, 'Keeper')
  await output.choose(/^ProRes 4444/)
  await output.frame('From', 31)
  await output.frame('To', 33)
  await output.pick(/^Cropped/, 'to what is seen on any frame')
  await output.render()
  const order = async (what: RegExp, kind: RegExp, name: string) => {
    await output.choose(what)
    await output.choose(kind)
    await output.call(name)
    await output.render()
  }
  await order(/^Cut-out/, /^PNG pictures in a zip/, 'cropped')
  await order(/^Finished shot/, /^JPEG/, 'still')
  await order(/^Finished shot/, /^PNG picture of one/, 'still')
  await order(/^Finished shot/, /^MP4 video, H.264/, 'film')
  await order(/^Shapes$/, /^Lottie/, 'shapes')
  await order(/^Shapes$/, /^Shapes with their keys/, 'keys')
  await order(/^Tracks$/, /^Tracks as a table/, 'tracks')
  await order(/^Edit list$/, /^Edit list, CMX/, 'edit')
  await order(/^Edit list$/, /^OpenTimelineIO/, 'edit')
  const names = ['cropped.zip', 'still.jpg', 'still.png', 'film.mp4', 'shapes.json', 'keys.json', 'tracks.csv']
  const all = await Promise.all([...names, 'edit.edl', 'edit.otio'].map((name) => output.made(name)))
  expect(all.map((file) => readFileSync(file).length > 100)).toEqual(Array(9).fill(true))
  const video = await output.made('Leap Keeper cut out frames 31 to 33.mov')
  await expect(output.queue).toHaveCount(0)
  const [width, height] = [1280, 720]
  const rgb = (args: string[]) =>
    new Uint8Array(ffmpeg([...args, '-frames:v', '3', '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-']))
  const apart = (a: Uint8Array, b: Uint8Array) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length
  await test.step('laid over its plate where its line says it lies, it is not seen', async () => {
    const about = await page.getByRole('listitem', { name: 'Leap Keeper cut out frames 31 to 33.mov' }).innerText()
    const [, w, h, x, y] = /cropped to (\d+) × (\d+), from (\d+) right and (\d+) down/.exec(about)!.map(Number)
    expect(w! * h!).toBeLessThan((width * height) / 2)
    const plate = ['-i', join(demoMedia, 'leap.mp4')]
    const picked = "select='between(n,31,33)',setpts=N/24/TB,scale=in_color_matrix=bt709,format=gbrp"
    const laid = `[0]${picked}[p];[1]scale=in_color_matrix=bt709,format=gbrap[c];[p][c]overlay=${x}:${y}:format=gbrp`
    const mine = rgb([...plate, '-i', video, '-filter_complex', laid])
    const theirs = rgb([...plate, '-vf', picked])
    expect(mine.length).toBe(3 * 3 * width * height)
    expect(apart(mine, theirs)).toBeLessThan(0.5)
    // It is there: over black it is the figure, of the size that the pictures in the zip have.
    const [first] = Object.values(unzipSync(readFileSync(all[0]!))).map((png) => decode(png))
    expect([first!.width, first!.height]).toEqual([w, h])
    const figure = rgb([
      '-f',
      'lavfi',
      '-i',
      `color=black:s=${w}x${h},format=gbrp`,
      '-i',
      video,
      '-filter_complex',
      laid.replace(/^.*?;/, '').replace('[p]', '[0]').replace(`${x}:${y}`, '0:0'),
    ])
    const meant = Uint8Array.from({ length: 3 * w! * h! }, (_, i) => {
      const at = 4 * Math.floor(i / 3)
      return Math.round((first!.data[at + (i % 3)]! * first!.data[at + 3]!) / 255)
    })
    expect(apart(figure.subarray(0, meant.length), meant)).toBeLessThan(1)
  })
  await test.step('the JPEG is the picture, for another reader', () => {
    const [jpeg, png] = [all[1]!, all[2]!].map((file) => rgb(['-i', file]))
    expect(jpeg!.length).toBe(3 * width * height)
    expect(apart(jpeg!, png!)).toBeLessThan(2)
  })
})
