import { EditorPage, expect, test } from './fixtures.ts'

test('neighbouring frames stand below the picture, about what is chosen, and lead there', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await editor.go(40)
  const stage = page.getByTestId('stage')
  const tall = (await stage.boundingBox())!.height
  await page.keyboard.press('Shift+N')
  const strip = page.getByRole('group', { name: 'Neighbouring frames' })
  const frames = strip.getByRole('button')
  await expect(strip.locator('[aria-current=true]')).toHaveAccessibleName(/^Frame 40/)
  // An odd number, the playhead in the middle, each with its picture and the shape.
  const names = await frames.evaluateAll((all) =>
    all.map((one) => Number(/\d+/.exec(one.getAttribute('aria-label')!)![0])),
  )
  expect(names.length % 2).toBe(1)
  expect(names).toEqual(names.map((_, i) => 40 - (names.length - 1) / 2 + i))
  for (const frame of names) await expect(strip.locator(`canvas[data-frame="${frame}"]`)).toHaveCount(1)
  await expect(strip.locator('svg path').first()).toHaveAttribute('d', /^M/)
  // The picture gives its room and has it back.
  expect((await stage.boundingBox())!.height).toBeLessThan(tall - 90)
  await strip.getByRole('button', { name: /^Frame 41/ }).click()
  await expect(editor.frame).toHaveValue('41')
  await expect(strip.locator('[aria-current=true]')).toHaveAccessibleName(/^Frame 41/)
  // At the end of the shot nothing stands where no frame is.
  await page.keyboard.press('Home')
  await expect(strip.getByRole('button').first()).toHaveAccessibleName(/^Frame 0\b/)
  await page.keyboard.press('Shift+N')
  await expect(strip).toHaveCount(0)
})

test('the picture stands in a window of its own, in step, and keys pressed there are those of the bench', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  const open = async () => {
    await page.getByRole('button', { name: 'How the view is shown' }).click()
    const [window] = await Promise.all([
      page.waitForEvent('popup'),
      page.getByRole('button', { name: /^Open in a second window/ }).click(),
    ])
    await page.keyboard.press('Escape')
    return window
  }
  const second = await open()
  const picture = second.locator('canvas')
  await expect(picture).toHaveAttribute('data-frame', '0')
  await editor.go(12)
  await expect(picture).toHaveAttribute('data-frame', '12')
  /** Colours along a row, of the picture as it is. */
  const row = () =>
    picture.evaluate((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, height >> 1, width, 1)
      return [width, height, ...data.filter((_, i) => i % 64 === 0)]
    })
  const own = () =>
    editor.canvas.evaluate((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, height >> 1, width, 1)
      return [width, height, ...data.filter((_, i) => i % 64 === 0)]
    })
  expect(await row()).toEqual(await own())
  await second.keyboard.press('d')
  await expect(editor.frame).toHaveValue('13')
  await expect(picture).toHaveAttribute('data-frame', '13')
  // It goes along to the next step, and shows what that shows.
  await editor.step('Effects')
  await editor.shows(13)
  await expect.poll(row).toEqual(await own())
  // Closed there it is gone here, too; and it does not outlive the project.
  await second.close()
  const third = await open()
  await page.getByRole('link', { name: 'To the shelf' }).click()
  await expect.poll(() => third.isClosed()).toBe(true)
})

test('every action is reached by the keyboard, and Tab goes through everything that stands there', async ({
  page,
  demo,
}) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  await test.step('by its name', async () => {
    // Every action has a key, and stands on the sheet of keys.
    await page.keyboard.press('?')
    const keys = page.getByRole('dialog', { name: 'Keys' }).getByRole('button', { name: /^Key for: / })
    await keys.first().waitFor()
    const all = await keys.evaluateAll((list) =>
      list.map((one) => ({
        does: one.getAttribute('aria-label')!.slice('Key for: '.length),
        key: one.textContent.trim(),
      })),
    )
    expect(all.length).toBeGreaterThan(70)
    expect(all.filter(({ key }) => key === 'none')).toEqual([])
    await page.keyboard.press('Escape')
    await page.keyboard.press('Shift+Enter')
    const field = page.getByRole('combobox', { name: 'What shall be done' })
    const missing: string[] = []
    for (const { does } of all) {
      // Nudges go by the arrows, what is held by its own key; the list does not offer itself.
      if (/^Nudge|while held$|^Do something by its name$/.test(does)) continue
      await field.fill(does)
      if ((await page.getByRole('option').filter({ hasText: does }).count()) === 0) missing.push(does)
    }
    expect(missing).toEqual([])
    await page.keyboard.press('Escape')
    await expect(field).toBeHidden()
  })
  for (const step of ['Trace', 'Effects'] as const)
    await test.step(`with Tab in ${step}`, async () => {
      await editor.step(step)
      await editor.shows(0)
      if (step === 'Effects') await editor.card('Blade').click({ position: { x: 6, y: 6 } })
      // What can be reached is everything that can be pressed and seen and is not one of several under one stop.
      const wanted = await page.evaluate(() => {
        const all = [...document.querySelectorAll<HTMLElement>('a[href], button, input, [tabindex]')]
        const there = all.filter(
          (one) =>
            one.tabIndex >= 0 &&
            !(one as HTMLButtonElement).disabled &&
            !one.closest('[inert]') &&
            one.checkVisibility({ visibilityProperty: true }),
        )
        there.forEach((one, i) => (one.dataset.stop = String(i)))
        ;(document.activeElement as HTMLElement | null)?.blur()
        return there.map((one) => one.getAttribute('aria-label') ?? one.textContent.trim().slice(0, 40))
      })
      expect(wanted.length).toBeGreaterThan(40)
      const reached = new Set<string>()
      let unseen = ''
      // What comes in meanwhile, as the key plan does, makes the way around longer.
      for (let i = 0; i < 2 * wanted.length && reached.size < wanted.length; i++) {
        await page.keyboard.press('Tab')
        const at = await page.evaluate(() => {
          const one = document.activeElement as HTMLElement
          const { outlineStyle, outlineWidth, boxShadow } = getComputedStyle(one)
          // A line between two panels is coloured itself.
          const after = getComputedStyle(one, '::after').backgroundColor
          const coloured = one.role === 'separator' && after !== 'rgba(0, 0, 0, 0)'
          const seen = coloured || (outlineStyle !== 'none' && outlineWidth !== '0px') || boxShadow !== 'none'
          return { stop: one.dataset.stop ?? '', seen, name: one.getAttribute('aria-label') ?? one.tagName }
        })
        if (at.stop) reached.add(at.stop)
        if (at.stop && !at.seen) unseen ||= at.name
      }
      expect(wanted.filter((_, i) => !reached.has(String(i)))).toEqual([])
      expect(unseen, 'has the focus and does not show it').toBe('')
    })
})

test('zoomed to 200 per cent, and in small and large windows, nothing is cut off', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Trace')
  /** What stands outside of the window, or is cut off where it can not be scrolled to. */
  const outside = () =>
    page.evaluate(() => {
      const { clientWidth, clientHeight, scrollWidth, scrollHeight } = document.documentElement
      const found = [...document.querySelectorAll<HTMLElement>('header a, header button, [role=toolbar] button, nav a')]
        .filter((one) => one.checkVisibility({ visibilityProperty: true }) && !one.classList.contains('sr-only'))
        .filter((one) => {
          const { left, right, top, bottom, width } = one.getBoundingClientRect()
          return width > 1 && (left < -1 || right > clientWidth + 1 || top < -1 || bottom > clientHeight + 1)
        })
        .map((one) => one.getAttribute('aria-label') ?? one.textContent.trim())
      return scrollWidth > clientWidth || scrollHeight > clientHeight ? ['the page itself', ...found] : found
    })
  // 1280x800 at 200 per cent has 640x400 CSS pixels.
  for (const [width, height] of [
    [640, 400],
    [1024, 700],
    [1920, 1080],
    [3840, 2160],
  ] as const) {
    await page.setViewportSize({ width, height })
    for (const step of ['Footage', 'Trace', 'Effects', 'Sound', 'Output'] as const) {
      await editor.step(step)
      expect(await outside(), `${step} at ${width} by ${height}`).toEqual([])
    }
  }
  await test.step('the bench works at 200 per cent: the sides lie over the picture, one at a time', async () => {
    await page.setViewportSize({ width: 640, height: 400 })
    await editor.step('Trace')
    const box = (await page.getByTestId('stage').boundingBox())!
    expect(box.width).toBeGreaterThan(600)
    expect(box.height).toBeGreaterThan(150)
    await page.getByRole('button', { name: 'Cast', exact: true }).click()
    await editor.choosePart()
    await page.getByRole('button', { name: 'Settings of the part' }).click()
    await expect(page.getByRole('complementary', { name: 'Settings of the part' })).toBeVisible()
    await expect(page.getByRole('complementary', { name: 'Cast' })).toHaveCount(0)
    await page.getByRole('button', { name: 'Settings of the part' }).click()
    await page.getByRole('button', { name: 'Step on' }).click()
    await expect(editor.frame).toHaveValue('1')
  })
})

test.describe('by touch', () => {
  test.use({ hasTouch: true })
  test('one finger traces, two move the picture; a pen that is pressed paints wider', async ({ page, demo }) => {
    const editor = new EditorPage(page)
    await editor.openDemo(demo, 'Trace')
    const devices = await page.context().newCDPSession(page)
    type Finger = { x: number; y: number; id: number }
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', touchPoints: Finger[]) =>
      devices.send('Input.dispatchTouchEvent', { type, touchPoints })
    const keys = async () => (await editor.records()).filter((one) => one.type === 'key').length
    const before = await keys()
    const zoom = () => page.getByRole('button', { name: /^Zoom \d+ %/ }).innerText()
    const box = (await page.getByTestId('stage').boundingBox())!
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
    await test.step('two fingers', async () => {
      const was = parseInt(await zoom())
      await touch('touchStart', [{ x: x - 60, y, id: 0 }])
      await touch('touchStart', [
        { x: x - 60, y, id: 0 },
        { x: x + 60, y, id: 1 },
      ])
      await touch('touchMove', [
        { x: x - 120, y, id: 0 },
        { x: x + 120, y, id: 1 },
      ])
      await touch('touchEnd', [])
      await expect.poll(async () => parseInt(await zoom())).toBeGreaterThan(1.8 * was)
      // The first finger began nothing.
      expect(await keys()).toBe(before)
      await page.keyboard.press('f')
    })
    await test.step('one finger', async () => {
      const tip = async () =>
        (await editor.records()).find((one) => one.type === 'key' && one.part === 'ferry-pole-shaft')!
      const { points } = (await tip()) as unknown as { points: number[] }
      const at = await editor.at(points[2]!, points[3]!)
      await touch('touchStart', [{ ...at, id: 0 }])
      await touch('touchMove', [{ x: at.x + 15, y: at.y, id: 0 }])
      await touch('touchMove', [{ x: at.x + 30, y: at.y, id: 0 }])
      await touch('touchEnd', [])
      await expect(editor.keeping).toHaveText('All changes kept')
      const moved = ((await tip()) as unknown as { points: number[] }).points
      expect(moved[2]! - points[2]!).toBeGreaterThan(20)
      expect(moved[0]).toBe(points[0])
    })
    await test.step('a pen', async () => {
      await page.keyboard.press('/')
      const size = async () =>
        (await editor.records()).filter((one) => one.type === 'stroke') as unknown as { size: number }[]
      const pen = async (force: number, up: number) => {
        const send = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', dx: number) =>
          devices.send('Input.dispatchMouseEvent', {
            ...{ type, x: x + dx, y: y + up, force, pointerType: 'pen' as const },
            ...{ button: 'left' as const, buttons: type === 'mouseReleased' ? 0 : 1, clickCount: 1 },
          })
        await send('mousePressed', 0)
        await send('mouseMoved', 20)
        await send('mouseMoved', 40)
        await send('mouseReleased', 40)
      }
      await pen(0.25, -40)
      await expect.poll(async () => (await size()).length).toBe(1)
      await pen(1, 40)
      await expect.poll(async () => (await size()).length).toBe(2)
      const [light, hard] = (await size()).map((one) => one.size)
      expect(hard).toBeGreaterThan(3 * light!)
    })
  })
})

test('settings stand by what is wanted of them; a group that is folded stays so', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects')
  await editor.card('Blade').click({ position: { x: 6, y: 6 } })
  const settings = page.getByRole('complementary', { name: 'Settings: Effects' })
  const moves = settings.getByRole('region', { name: 'How it moves' })
  await expect(moves.getByLabel('Smear', { exact: true })).toBeVisible()
  // By the keyboard, walked to with Tab: folded, opened, folded.
  await page.keyboard.press('Tab')
  for (let i = 0; i < 3; i++) await moves.getByRole('button', { name: 'How it moves' }).press('Enter')
  await expect(moves.getByLabel('Smear', { exact: true })).toHaveCount(0)
  await page.reload()
  await editor.shows(0)
  await editor.card('Blade').click({ position: { x: 6, y: 6 } })
  await expect(moves.getByRole('button', { name: 'How it moves' })).toHaveAttribute('aria-expanded', 'false')
  await expect(settings.getByLabel('Core width', { exact: true })).toBeVisible()
  // Enter takes the best answer of what is sought.
  await page.getByRole('button', { name: 'Add an effect' }).first().click()
  await page.getByRole('searchbox', { name: 'Search effects' }).fill('glitch')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('article', { name: 'Signal tear card' })).toBeVisible()
})

test('how much memory pictures take is seen and chosen, at once and for the next time', async ({ page, demo }) => {
  const editor = new EditorPage(page)
  await editor.openDemo(demo, 'Effects')
  const open = () => page.getByRole('button', { name: 'How the view is shown' }).click()
  await open()
  const held = page.getByTestId('memory')
  const megabytes = async () => Number(/([\d.]+) MB/.exec(await held.innerText())?.[1])
  // Decoded and finished, a shot of 96 frames takes some hundreds.
  await expect.poll(megabytes, { timeout: 90_000 }).toBeGreaterThan(190)
  const field = page.getByRole('textbox', { name: 'Pictures take' })
  await field.fill('256')
  await field.press('Enter')
  // What was drawn in is let go, too: a tenth of it is for who follows.
  await expect.poll(megabytes, { timeout: 30_000 }).toBeLessThan(0.9 * 256)
  await page.keyboard.press('Escape')
  await editor.go(70)
  await editor.shows(70)
  await page.reload()
  await editor.shows(0)
  await open()
  await expect(field).toHaveValue('256')
})
