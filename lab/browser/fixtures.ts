import { cp, mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test as base } from '@playwright/test'
import { App } from '../support/application.ts'

/**
 * `app` runs on an empty database; `demo` on the seeded one. No page may come upon anything unforeseen, unless `foreseen`
 * says so: a pattern of what the test brings about itself.
 */
export const test = base.extend<{ folder: string; app: App; demo: App; foreseen: RegExp | null }, { seeded: string }>({
  // Seeding looks into every clip: once is enough, every test has its own copy.
  seeded: [
    // eslint-disable-next-line no-empty-pattern -- Playwright reads the fixtures' names from this pattern.
    async ({}, use) => {
      const data = await mkdtemp(join(tmpdir(), 'wisp-demo-'))
      new App(data).seed()
      await use(data)
      await rm(data, { recursive: true, force: true })
    },
    { scope: 'worker' },
  ],
  foreseen: [null, { option: true }],
  // eslint-disable-next-line no-empty-pattern -- Playwright reads the fixtures' names from this pattern.
  folder: async ({}, use) => {
    const folder = await mkdtemp(join(tmpdir(), 'wisp-e2e-'))
    await use(folder)
    await rm(folder, { recursive: true, force: true })
  },
  app: async ({ folder }, use) => {
    const app = new App(join(folder, 'data'))
    await app.start()
    await use(app)
    await app.stop()
  },
  demo: async ({ folder, seeded }, use) => {
    const app = new App(join(folder, 'demo'))
    await cp(seeded, app.data, { recursive: true })
    await app.start()
    await use(app)
    await app.stop()
  },
  page: async ({ page, foreseen }, use) => {
    const errors: string[] = []
    page.on('pageerror', (error) => errors.push(error.message))
    page.on('console', (line) => line.text().startsWith('Could not ') && errors.push(line.text()))
    await use(page)
    expect(errors.filter((error) => !foreseen?.test(error))).toEqual([])
  },
})
export { expect }
export { EditorPage } from '../support/editorPage.ts'
