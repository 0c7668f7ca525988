import type { Page } from '@playwright/test'
import { EditorPage } from '../support/editorPage.ts'

/** A hand at the editor of the running application that counts what it does: a click or a drag is one, so is a key. */
export class Hand {
  actions = 0
  readonly editor: EditorPage
  readonly page: Page
  private corner = { x: 0, y: 0, k: 1 }

  constructor(page: Page) {
    this.page = page
    this.editor = new EditorPage(page)
  }

  /** Reads where the picture lies; to be called again after a zoom. */
  async look(): Promise<void> {
    const [a, b] = [await this.editor.at(0, 0), await this.editor.at(1000, 0)]
    this.corner = { x: a.x, y: a.y, k: (b.x - a.x) / 1000 }
  }
  private at = (x: number, y: number) => [this.corner.x + x * this.corner.k, this.corner.y + y * this.corner.k] as const

  async press(key: string): Promise<void> {
    this.actions++
    await this.page.keyboard.press(key)
  }
  async click(x: number, y: number): Promise<void> {
    this.actions++
    await this.page.mouse.click(...this.at(x, y))
  }
  async drag(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    this.actions++
    await this.page.mouse.move(...this.at(...from))
    await this.page.mouse.down()
    await this.page.mouse.move(...this.at((from[0] + to[0]) / 2, (from[1] + to[1]) / 2))
    await this.page.mouse.move(...this.at(...to))
    await this.page.mouse.up()
  }
  /** Away from a place by so many turns of the wheel, or closer where they are below 0. */
  async zoom(x: number, y: number, turns: number): Promise<void> {
    await this.page.mouse.move(...this.at(x, y))
    for (let i = 0; i < Math.abs(turns); i++) {
      this.actions++
      await this.page.mouse.wheel(0, 120 * Math.sign(turns))
    }
    await this.page.waitForTimeout(300)
    await this.look()
  }
  /** Chooses from a list by its label: two clicks. */
  async choose(list: RegExp, option: string): Promise<void> {
    this.actions += 2
    await this.page.getByRole('button', { name: list }).click()
    await this.page.getByRole('option', { name: option, exact: true }).click()
  }
  /** Goes to a frame by a click on the sheet. */
  async goTo(frame: number): Promise<void> {
    this.actions++
    await this.editor.go(frame)
    await this.editor.frame.blur()
  }

  get frame(): Promise<number> {
    return this.editor.frame.inputValue().then(Number)
  }
  /** Until everything was kept and the playhead rests: the key plan answers in a moment. */
  async settle(): Promise<void> {
    let before = -1
    for (let same = 0; same < 2;) {
      await this.page.waitForTimeout(45)
      const now = await this.frame
      same = now === before ? same + 1 : 0
      before = now
    }
  }
}
