import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { decode } from 'fast-png'
import { demoMedia } from '../support/places.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { OutputPage } from '../support/outputPage.ts'
import { EditorPage, expect, test } from './fixtures.ts'

const [width, height] = [1280, 720]
/** Mean difference of two pictures in levels. */
const apart = (a: Uint8Array, b: Uint8Array) => a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length

test('mattes and cut-outs of some frames go out, and lie where they were over what another program lays them on', async ({
  page,
  demo,
  folder,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Output', 'Leap')
  const output = new OutputPage(page, folder)
  await output.choose(/^Cut-out/)
  await output.choose(/^PNG pictures in a zip/)
  await output.pick(/^Of whom/, 'Keeper')
  await output.frame('From', 30)
  await output.frame('To', 32)
  await expect(output.facts).toContainText('3 frames')
  await output.render()
  await output.choose(/^Matte/)
  await output.choose(/^PNG pictures in a zip/)
  await output.render()
  await output.choose(/^MP4 video, H.264/)
  await output.render()
  await output.choose(/^Plate alone/)
  await output.choose(/^PNG pictures in a zip/)
  await output.render()
  await output.choose(/^Cut-out/)
  await output.choose(/^PNG picture of one frame/)
  await output.frame('Frame', 31)
  await output.render()

  const zipped = async (name: string) => Object.values(unzipSync(readFileSync(await output.made(name))))
  const cut = await zipped('Leap Keeper cut out frames 30 to 32.zip')
  const mattes = await zipped('Leap Keeper matte frames 30 to 32.zip')
  const plates = await zipped('Leap plate frames 30 to 32.zip')
  expect([cut.length, mattes.length, plates.length]).toEqual([3, 3, 3])
  const png = (bytes: Uint8Array) => decode(bytes)
  await test.step('the alpha is the matte, in grey', () => {
    for (const [i, bytes] of cut.entries()) {
      const [one, matte] = [png(bytes), png(mattes[i]!)]
      expect([one.width, one.height, one.channels, matte.channels]).toEqual([width, height, 4, 1])
      const alpha = (one.data as Uint8Array).filter((_, k) => k % 4 === 3)
      expect(Buffer.compare(alpha, matte.data as Uint8Array)).toBe(0)
      // Somebody is there, and not everywhere.
      const share = alpha.reduce((sum, v) => sum + v, 0) / 255 / alpha.length
      expect(share).toBeGreaterThan(0.01)
      expect(share).toBeLessThan(0.5)
    }
  })
  await test.step('laid over its own plate by ffmpeg it is not seen, over another it is mixed by its alpha', () => {
    const file = (name: string, bytes: Uint8Array) => {
      const path = join(folder, name)
      ffmpeg(['-y', '-i', 'pipe:0', path], bytes)
      return path
    }
    const [figure, plate] = [file('figure.png', cut[1]!), file('plate.png', plates[1]!)]
    const laid = (under: string[]) =>
      new Uint8Array(
        ffmpeg([
          ...[...under, '-i', figure, '-filter_complex', '[0][1]overlay=format=gbrp', '-frames:v', '1'],
          ...['-pix_fmt', 'rgb24', '-f', 'rawvideo', '-'],
        ]),
      )
    const raw = new Uint8Array(ffmpeg(['-i', plate, '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-']))
    expect(apart(laid(['-i', plate]), raw)).toBeLessThan(0.1)
    const alpha = png(mattes[1]!).data as Uint8Array
    const wanted = raw.map((v, k) => Math.round((v * alpha[Math.floor(k / 3)]!) / 255))
    const black = ['-f', 'lavfi', '-i', `color=black:s=${width}x${height},format=gbrp`]
    expect(apart(laid(black), wanted)).toBeLessThan(0.5)
  })
  await test.step('the matte as a video has the same levels', async () => {
    const path = await output.made('Leap Keeper matte frames 30 to 32.mp4')
    const video = new Uint8Array(ffmpeg(['-i', path, '-pix_fmt', 'gray', '-f', 'rawvideo', '-']))
    expect(video.length).toBe(3 * width * height)
    for (const [i, bytes] of mattes.entries())
      expect(
        apart(video.subarray(i * width * height, (i + 1) * width * height), png(bytes).data as Uint8Array),
      ).toBeLessThan(1)
  })
  await test.step('one frame is the same as in the sequence, and the plate is the clip', async () => {
    const still = readFileSync(await output.made('Leap Keeper cut out frame 31.png'))
    expect(Buffer.compare(png(still).data as Uint8Array, png(cut[1]!).data as Uint8Array)).toBe(0)
    const clip = join(demoMedia, 'leap.mp4')
    const theirs = new Uint8Array(
      ffmpeg([
        '-i',
        clip,
        '-vf',
        "select='eq(n,31)',scale=in_color_matrix=bt709",
        '-frames:v',
        '1',
        '-pix_fmt',
        'rgb24',
        '-f',
        'rawvideo',
        '-',
      ]),
    )
    const { data, channels } = png(plates[1]!)
    expect(
      apart(
        (data as Uint8Array).filter((_, k) => channels === 3 || k % 4 < 3),
        theirs,
      ),
    ).toBeLessThan(2)
  })

  await test.step('shapes as SVG are drawn by the browser where the matte is, and its animation shows the same', async () => {
    await output.choose(/^Shapes$/)
    await output.choose(/^SVG drawings/)
    await output.render()
    await output.choose(/^SVG animation/)
    await output.render()
    const drawings = (await zipped('Leap Keeper shapes frames 30 to 32.zip')).map((bytes) =>
      Buffer.from(bytes).toString(),
    )
    const animation = readFileSync(await output.made('Leap Keeper shapes frames 30 to 32.svg'), 'utf8')
    expect(drawings).toHaveLength(3)
    const shown = await page.evaluate(
      ([moving, singles]) => {
        const stand = (text: string) => {
          const host = document.createElement('div')
          host.append(new DOMParser().parseFromString(text, 'image/svg+xml').documentElement)
          document.body.append(host)
          return host.querySelector('svg')!
        }
        const boxes = (svg: SVGSVGElement) =>
          [...svg.querySelectorAll('path')].map((path) => {
            const { x, y, width, height } = path.getBBox()
            return [x, y, width, height].map((v) => Math.round(v * 10) / 10)
          })
        const animated = stand(moving)
        animated.pauseAnimations()
        return singles.map((text, i) => {
          animated.setCurrentTime((i + 0.5) / 24)
          return { moving: boxes(animated), single: boxes(stand(text)) }
        })
      },
      [animation, drawings] as const,
    )
    for (const { moving, single } of shown) expect(moving).toEqual(single)
    expect(shown[0]).not.toEqual(shown[2])
    // Where it lies: the box around the matte is that of the shapes, but for their feather.
    const matte = png(mattes[0]!).data as Uint8Array
    const rows = Array.from({ length: height }, (_, y) =>
      matte.subarray(y * width, (y + 1) * width).some((v) => v > 127),
    )
    const top = Math.min(...shown[0]!.single.map(([, y]) => y!))
    const bottom = Math.max(...shown[0]!.single.map(([, y, , tall]) => y! + tall!))
    expect(Math.abs(rows.indexOf(true) - Math.max(0, top))).toBeLessThan(8)
    expect(Math.abs(rows.lastIndexOf(true) - Math.min(height, bottom))).toBeLessThan(8)
  })

  await test.step('shapes out as SVG, in again, go out equal', async () => {
    const [name, all] = ['Leap Keeper shapes frames 30 to 32.zip', /d="(M[^"]+)"/g]
    const paths = (drawing: string) => [...drawing.matchAll(all)].map(([, d]) => d)
    const one = Buffer.from((await zipped(name))[1]!)
    await editor.step('Trace')
    await page.getByTestId('drawing').setInputFiles({ name: 'back.svg', mimeType: 'image/svg+xml', buffer: one })
    await expect(page.getByText(/^back: \d+ shapes? came in\.$/)).toBeVisible()
    await editor.step('Output')
    await output.choose(/^Shapes$/)
    await output.choose(/^SVG drawings/)
    await output.pick(/^Of whom/, 'back')
    await output.frame('From', 31)
    await output.frame('To', 31)
    await output.render()
    const [again] = await zipped('Leap back shapes frame 31.zip')
    const before = paths(one.toString())
    expect(before.length).toBeGreaterThan(1)
    expect(paths(Buffer.from(again!).toString())).toEqual(before)
  })
})
