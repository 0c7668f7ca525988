import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test as base } from '@playwright/test'
import { App } from '../support/application.ts'

/** `app` runs on an empty database; `demo` on the seeded one. Every page complains about errors in its console. */
export const test = base.extend<{ folder: string; app: App; demo: App }>({
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
  demo: async ({ folder }, use) => {
    const app = new App(join(folder, 'demo'))
    app.seed()
    await app.start()
    await use(app)
    await app.stop()
  },
  page: async ({ page }, use) => {
    const errors: string[] = []
    page.on('pageerror', (error) => errors.push(error.message))
    await use(page)
    expect(errors).toEqual([])
  },
})
export { expect }
export { EditorPage } from '../support/editorPage.ts'
