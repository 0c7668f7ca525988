import type { Page } from '@playwright/test'
import { made } from './sounds.ts'

/** The step Output as a practitioner uses it. */
export class OutputPage {
  private readonly page: Page
  private readonly folder: string

  /** `folder`: where finished files are saved to. */
  constructor(page: Page, folder: string) {
    this.page = page
    this.folder = folder
  }

  get facts() {
    return this.page.getByRole('region', { name: 'What to make' })
  }
  get queue() {
    return this.page.getByRole('region', { name: 'Queue' }).getByRole('listitem')
  }

  /** What goes out, or as which file. */
  async choose(name: RegExp): Promise<void> {
    await this.page.getByRole('radio', { name }).click()
  }
  /** One of a list that opens. */
  async pick(label: RegExp, option: string): Promise<void> {
    await this.page.getByRole('button', { name: label }).click()
    await this.page.getByRole('option', { name: option, exact: true }).click()
  }
  /** The first or last frame, or the only one. */
  async frame(name: 'From' | 'To' | 'Frame', frame: number): Promise<void> {
    await this.page.getByRole('textbox', { name, exact: true }).fill(String(frame))
    await this.page.getByRole('textbox', { name, exact: true }).press('Enter')
  }
  async call(pattern: string): Promise<void> {
    await this.page.getByRole('textbox', { name: 'Name', exact: true }).fill(pattern)
    await this.page.getByRole('textbox', { name: 'Name', exact: true }).press('Tab')
  }
  async render(): Promise<void> {
    await this.page.getByRole('button', { name: /^(Render|Add to the queue)/ }).click()
  }
  /** The finished file of this name, where it was saved to. */
  made(name: string): Promise<string> {
    return made(this.page, this.folder, name)
  }
}
