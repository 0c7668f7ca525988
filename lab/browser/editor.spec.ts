import { EditorPage, expect, test } from './fixtures.ts'

test('the rhythm of tracing: ghost, accept, drag, nudge, undo, and never an edit without a key', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const keysOf = async () =>
    (await editor.records()).filter((r) => r.type === 'key' && r.part === 'ferry-pole-shaft') as unknown as {
      frame: number
      points: number[]
    }[]
  const keyAt = async (frame: number) => (await keysOf()).find((one) => one.frame === frame)?.points
  const kept = () => expect(editor.keeping).toHaveText('All changes kept')
  const before = Number(await editor.keys.innerText())
  // A frame with two more in-betweens after it, and another one farther on.
  const keyed = (await keysOf()).map((one) => one.frame).sort((x, y) => x - y)
  const roomy = keyed.flatMap((frame, i) => (keyed[i + 1]! - frame > 4 ? [frame + 1] : []))
  const [free, later] = [roomy.find((frame) => frame > 5)!, roomy.at(-1)!]
  const nextKey = (frame: number) => keyed.find((one) => one > frame)!

  await test.step('the ghost waits past the last key; Enter accepts it and steps on', async () => {
    await editor.go(49)
    await editor.frame.blur()
    await expect(editor.cell).toHaveText('Not traced')
    await expect(editor.hint).toContainText('Ghost follows the motion')
    await page.keyboard.press('Enter')
    await expect(editor.frame).toHaveValue('50')
    await expect(editor.keys).toHaveText(String(before + 1))
    await kept()
    // The swing goes on: the accepted shape is not the last key again, and keeps its length.
    const [last, accepted] = [(await keyAt(48))!, (await keyAt(49))!]
    expect(Math.hypot(accepted[2]! - last[2]!, accepted[3]! - last[3]!)).toBeGreaterThan(1)
    const length = (p: number[]) => Math.hypot(p[2]! - p[0]!, p[3]! - p[1]!)
    expect(length(accepted)).toBeCloseTo(length(last), -1)
  })

  await test.step('dragging an end of an in-between makes it a key, the whole rod too', async () => {
    await editor.go(free)
    await expect(editor.cell).toHaveText('In-between')
    const { points: a } = (await keysOf()).findLast((one) => one.frame < free)!
    await editor.drag([a[0]!, a[1]!], [a[0]! + 30, a[1]! + 20])
    await expect(editor.cell).toHaveText('Key')
    await kept()
    const first = (await keyAt(free))!
    await editor.drag(
      [(first[0]! + first[2]!) / 2, (first[1]! + first[3]!) / 2],
      [(first[0]! + first[2]!) / 2 - 40, (first[1]! + first[3]!) / 2],
    )
    await kept()
    const second = (await keyAt(free))!
    expect(second[0]! - first[0]!).toBeCloseTo(-40, 0)
    expect(second[2]! - first[2]!).toBeCloseTo(-40, 0)
    expect(second[1]!).toBeCloseTo(first[1]!, 0)
  })

  await test.step('nudges move the chosen end by 1, 10 and 0.1 pixels', async () => {
    const first = (await keyAt(free))!
    await page.keyboard.press('2')
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Shift+ArrowDown')
    await page.keyboard.press('Alt+ArrowLeft')
    await kept()
    const second = (await keyAt(free))!
    expect(second.map((v, i) => Math.round((v - first[i]!) * 10) / 10)).toEqual([0, 0, 0.9, 10])
    // Another way is another step.
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
    await kept()
    expect(await keyAt(free)).toEqual(first)
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+Shift+z')
    await kept()
    expect(await keyAt(free)).toEqual(second)
    for (let i = 0; i < 10; i++) await page.keyboard.press('ArrowUp')
    await kept()
    await page.keyboard.press('Control+z')
    await kept()
    expect(await keyAt(free)).toEqual(second)
  })

  await test.step('keys jump, go, move on the sheet and come back', async () => {
    await page.keyboard.press('e')
    await expect(editor.frame).toHaveValue(String(nextKey(free)))
    await page.keyboard.press('q')
    await expect(editor.frame).toHaveValue(String(free))
    const count = Number(await editor.keys.innerText())
    await page.keyboard.press('Delete')
    await expect(editor.keys).toHaveText(String(count - 1))
    await expect(editor.cell).toHaveText('In-between')
    await page.getByRole('button', { name: /^Undo: Remove the key/ }).click()
    await expect(editor.keys).toHaveText(String(count))

    // Frame n lies at a known place of the sheet: 0 at 178 px, 95 at the width less 24 and 8.
    const sheet = (await page.getByTestId('sheet').boundingBox())!
    const xOf = (frame: number) => sheet.x + 178 + (frame * (sheet.width - 194)) / 95
    await page.mouse.move(xOf(free), sheet.y + 74)
    await page.mouse.down()
    await page.mouse.move(xOf(free + 1), sheet.y + 74)
    await page.mouse.move(xOf(free + 2), sheet.y + 74)
    await page.mouse.up()
    await expect(editor.frame).toHaveValue(String(free + 2))
    await kept()
    expect(await keyAt(free)).toBeUndefined()
    expect(await keyAt(free + 2)).toBeDefined()
    // Scrubbing on the ruler.
    await page.mouse.click(xOf(60), sheet.y + 12)
    await expect(editor.frame).toHaveValue('60')
  })

  await test.step('away takes the part off a frame, and it comes back', async () => {
    await editor.go(later)
    await editor.frame.blur()
    await page.keyboard.press('o')
    await expect(editor.cell).toHaveText('Away')
    await page.keyboard.press('o')
    await expect(editor.cell).toHaveText(/Key|In-between/)
    await page.getByRole('button', { name: `Away from ${later} to ${nextKey(later) - 1}` }).click()
    await expect(editor.cell).toHaveText('Away')
    await expect(editor.hint).toContainText('Away on this frame')
    await page.keyboard.press('Enter')
    await expect(editor.frame).toHaveValue(String(later + 1))
    await expect(editor.cell).toHaveText('Away')
    await page.keyboard.press('a')
    await expect(editor.cell).toHaveText('Key')
  })

  await test.step('settings of the part: typed with arithmetic, straight in-betweens, reach', async () => {
    await page.getByLabel('Reach', { exact: true }).fill('20+3*10')
    await page.getByLabel('Reach', { exact: true }).press('Enter')
    await page.getByRole('button', { name: 'In-between: arc' }).click()
    await page.getByRole('option', { name: 'straight' }).click()
    await kept()
    const part = (await editor.records()).find((record) => record.id === 'ferry-pole-shaft')!
    expect(part).toMatchObject({ tween: 'straight', settings: { reach: 50 } })
  })
})

test('ways of looking: result, peek while held, zoom to crisp pixels at the pointer, fit, quiet', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace', 'Two poles')
  await editor.go(30)
  await editor.frame.blur()
  await page.getByRole('button', { name: 'Result', exact: true }).click()
  await editor.shows(30)
  await expect(editor.canvas).toHaveAttribute('data-layer', 'result')
  const rod = (await editor.records()).filter((r) => r.type === 'key' && r.part === 'keeper-pole-pole') as unknown as {
    frame: number
    points: number[]
  }[]
  const key = rod.find((one) => one.frame >= 20 && one.frame < 60)!
  await editor.go(key.frame)
  await editor.frame.blur()
  const [x, y] = [(key.points[0]! + key.points[2]!) / 2, (key.points[1]! + key.points[3]!) / 2]
  expect(Math.min(...(await editor.pixel(x, y)))).toBeGreaterThan(240)
  await page.keyboard.down('v')
  await expect(editor.canvas).toHaveAttribute('data-layer', 'plate')
  await editor.shows(key.frame)
  expect(Math.min(...(await editor.pixel(x, y)))).toBeLessThan(200)
  await page.keyboard.up('v')
  await expect(editor.canvas).toHaveAttribute('data-layer', 'result')

  // The light follows under the hand, before anything is let go.
  const grip = await editor.at(key.points[2]!, key.points[3]!)
  const target = [key.points[0]! - 120, key.points[1]! - 260] as const
  const there = await editor.at(...target)
  // Near the hand, where the long way from the neighbouring keys smears it least.
  const along = [key.points[0]! - 0.2 * 120, key.points[1]! - 0.2 * 260] as const
  expect(Math.min(...(await editor.pixel(...along)))).toBeLessThan(200)
  await page.mouse.move(grip.x, grip.y)
  await page.mouse.down()
  await page.mouse.move((grip.x + there.x) / 2, (grip.y + there.y) / 2)
  await page.mouse.move(there.x, there.y)
  await expect.poll(async () => Math.min(...(await editor.pixel(...along)))).toBeGreaterThan(220)
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect.poll(async () => Math.min(...(await editor.pixel(...along)))).toBeLessThan(200)
  await expect(page.getByRole('button', { name: /^Nothing to undo/ })).toBeDisabled()

  // The pointer stands on whole pixels of the screen: the place of the plate under it must stay there.
  const [px, py] = [Math.round((await editor.at(x, y)).x), Math.round((await editor.at(x, y)).y)]
  const corner = await editor.at(0, 0)
  const k = (await editor.at(1, 0)).x - corner.x
  await page.mouse.move(px, py)
  for (let i = 0; i < 14; i++) await page.mouse.wheel(0, -240)
  await expect(page.getByRole('button', { name: /Zoom \d{4} %/ })).toBeVisible()
  const after = await editor.at((px - corner.x) / k, (py - corner.y) / k)
  expect(Math.hypot(after.x - px, after.y - py)).toBeLessThan(1)
  expect(await editor.canvas.evaluate((canvas) => getComputedStyle(canvas).imageRendering)).toBe('pixelated')
  await page.keyboard.press('f')
  await expect(page.getByRole('button', { name: /Zoom \d\d %/ })).toBeVisible()

  await page.keyboard.press('u')
  await expect(page.getByRole('navigation')).toHaveCount(0)
  await page.keyboard.press('u')
  await expect(page.getByRole('navigation')).toBeVisible()
  await page.keyboard.press('Shift+?')
  await expect(page.getByRole('dialog')).toContainText('Accept as a key and step on')
  await page.keyboard.press('Escape')
})

test('a loop plays at the true rate from ready frames', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects', 'Two poles')
  await expect(page.getByRole('progressbar', { name: 'Frames ready' })).toHaveAttribute('aria-valuenow', '100', {
    timeout: 90_000,
  })
  await page.evaluate(() => {
    const seen: [number, string][] = []
    Object.assign(window, { seen })
    const canvas = document.querySelector('[data-testid=stage] > canvas')!
    new MutationObserver(() => seen.push([performance.now(), canvas.getAttribute('data-frame')!])).observe(canvas, {
      attributeFilter: ['data-frame'],
    })
  })
  await page.keyboard.press('Space')
  await page.waitForFunction(() => {
    const { seen } = window as unknown as { seen: [number, string][] }
    return seen.filter(([, frame], i) => i > 0 && Number(frame) < Number(seen[i - 1]![1])).length >= 2
  })
  await page.keyboard.press('Space')
  const seen = await page.evaluate(() => (window as unknown as { seen: [number, string][] }).seen)
  // A busy machine may skip frames and show them late, but never plays slower or faster: of all pairs of moments more
  // than a second apart, the median rate (Theil and Sen's slope) is that of the clip.
  let round = 0
  const played = seen.map(([at, frame], i) => {
    if (i > 0 && Number(frame) < Number(seen[i - 1]![1])) round++
    return { at: at / 1000, frames: Number(frame) + 72 * round }
  })
  expect(played.length).toBeGreaterThan(40)
  const rates = played.flatMap((one, i) =>
    played
      .slice(i + 1)
      .filter((other) => other.at - one.at > 1)
      .map((other) => (other.frames - one.frames) / (other.at - one.at)),
  )
  rates.sort((x, y) => x - y)
  const rate = rates[Math.floor(rates.length / 2)]!
  expect(rate).toBeGreaterThan(23.3)
  expect(rate).toBeLessThan(24.7)
})
