import { expect, type Locator, type Page } from '@playwright/test'
import type { App } from './application.ts'

/** The editor in one page as a practitioner sees it. */
export class EditorPage {
  readonly page: Page
  constructor(page: Page) {
    this.page = page
  }

  get frame() {
    return this.page.getByTestId('frame')
  }
  get hint() {
    return this.page.getByTestId('hint')
  }
  get keys() {
    return this.page.getByTestId('keys')
  }
  get cell() {
    return this.page.getByTestId('cell')
  }
  get keeping() {
    return this.page.getByTestId('keeping')
  }
  get canvas() {
    return this.page.locator('[data-testid=stage] > canvas')
  }

  /** Opens a shot of the demo, with its first part or card chosen where the step has any. */
  async openDemo(app: App, step: 'Trace' | 'Effects' | 'Sound' | 'Output', shot = 'Jetty swing'): Promise<void> {
    await this.page.goto(app.address)
    await this.page.getByRole('link', { name: 'Open The Reed Ferry' }).click()
    await this.page.getByRole('listitem', { name: shot }).getByRole('link', { name: 'Trace' }).click()
    await this.page.waitForURL(/\/trace\//)
    await this.shows(0)
    if (step === 'Trace') await this.choosePart()
    else await this.step(step)
    if (step === 'Effects') await this.card().click({ position: { x: 6, y: 6 } })
    await this.shows(0)
  }

  /** The parts in the cast. */
  get parts(): Locator {
    const kinds = /(rod|outline|oval|pin|point|painted)$/
    return this.page.getByRole('complementary', { name: 'Cast' }).getByRole('button', { name: kinds })
  }

  /** Chooses the first part, as a page that is opened anew has none chosen where there are several. */
  async choosePart(): Promise<void> {
    await this.parts.first().click({ position: { x: 40, y: 8 } })
  }

  /** A card of effects by its kind, the first of all without one. */
  card(kind = ''): Locator {
    return this.page.getByRole('article', { name: new RegExp(`^(?!Time)${kind}.* card$`) }).first()
  }

  async newProjectWith(app: App, file: string): Promise<void> {
    await this.page.goto(app.address)
    await this.page.getByRole('button', { name: 'New project', exact: true }).click()
    await this.page.getByTestId('picker').setInputFiles(file)
    await this.page.getByRole('main').getByRole('link', { name: 'Trace' }).click()
    await this.shows(0)
  }

  /** Goes to a step and waits until it stands: a frame typed before would be typed into the step that goes. */
  async step(name: 'Footage' | 'Trace' | 'Effects' | 'Sound' | 'Output'): Promise<void> {
    const link = this.page.getByRole('navigation').getByRole('link', { name })
    await link.click()
    await expect(link).toHaveAttribute('aria-current', 'page')
  }

  /** On the effects step: chooses a size at all times, where a picture's pixels are read. */
  async atSize(name: 'half size' | 'quarter size'): Promise<void> {
    await this.page.getByRole('button', { name: 'Size at which pictures are computed' }).click()
    await this.page.getByRole('option', { name }).click()
  }
  /** Has the graphics card draw, or no more, and waits until it is said how that stands. */
  async switchGraphics(says: RegExp): Promise<void> {
    await this.page.getByRole('button', { name: 'How the view is shown' }).click()
    await this.page.getByRole('switch', { name: 'Draw effects with the graphics card' }).click()
    await expect(this.page.getByTestId('graphics')).toHaveText(says)
    await this.page.keyboard.press('Escape')
  }
  atHalf(): Promise<void> {
    return this.atSize('half size')
  }

  /** Waits until the picture of this very frame stands on the stage. */
  async shows(frame: number): Promise<void> {
    await expect(this.canvas).toHaveAttribute('data-frame', String(frame))
    await expect(this.canvas).toHaveAttribute('data-fresh', 'true')
  }

  /** Adds a card of a kind, found by what is searched for, and gives it. */
  async addCard(kind: string, sought = kind): Promise<Locator> {
    await this.page.getByRole('button', { name: 'Add an effect' }).first().click()
    await this.page.getByRole('searchbox', { name: 'Search effects' }).fill(sought)
    await this.page.getByRole('button', { name: new RegExp(`^${kind}`) }).click()
    return this.page.getByRole('article', { name: `${kind} card` }).last()
  }

  async go(frame: number): Promise<void> {
    await this.frame.fill(String(frame))
    await this.frame.press('Enter')
    await this.shows(frame)
  }

  /** A place of the plate on the screen. */
  async at(x: number, y: number): Promise<{ x: number; y: number }> {
    const box = (await this.canvas.boundingBox())!
    const width = await this.plateWidth()
    const k = box.width / width
    return { x: box.x + x * k, y: box.y + y * k }
  }
  private async plateWidth(): Promise<number> {
    return this.canvas.evaluate((canvas) => {
      const scale = Number(/scale\(([\d.e-]+)\)/.exec((canvas as HTMLElement).style.transform)![1])
      return (canvas as HTMLCanvasElement).getBoundingClientRect().width / scale
    })
  }

  async click(x: number, y: number): Promise<void> {
    const place = await this.at(x, y)
    await this.page.mouse.click(place.x, place.y)
  }
  /** Where frames and lanes of the sheet lie in the window, in a shot of so many frames. */
  async sheetPlaces(length: number): Promise<{ x(frame: number): number; y(lane: number): number }> {
    const box = (await this.page.getByTestId('sheet').boundingBox())!
    return {
      x: (frame) => box.x + 178 + (frame * (box.width - 194)) / (length - 1),
      y: (lane) => box.y + 26 + 34 + 28 * lane + 14,
    }
  }
  /** Chooses frames of a lane with Shift. */
  async sweep(length: number, lane: number, from: number, to: number): Promise<void> {
    const sheet = await this.sheetPlaces(length)
    await this.page.keyboard.down('Shift')
    await this.page.mouse.move(sheet.x(from), sheet.y(lane))
    await this.page.mouse.down()
    await this.page.mouse.move(sheet.x((from + to) / 2), sheet.y(lane))
    await this.page.mouse.move(sheet.x(to), sheet.y(lane))
    await this.page.mouse.up()
    await this.page.keyboard.up('Shift')
  }
  async drag(from: [number, number], to: [number, number]): Promise<void> {
    const [a, b] = [await this.at(...from), await this.at(...to)]
    await this.page.mouse.move(a.x, a.y)
    await this.page.mouse.down()
    await this.page.mouse.move((a.x + b.x) / 2, (a.y + b.y) / 2)
    await this.page.mouse.move(b.x, b.y)
    await this.page.mouse.up()
  }

  /** Colour of a pixel of the picture. */
  pixel(x: number, y: number): Promise<[number, number, number]> {
    return this.canvas.evaluate(
      (canvas, [px, py]) => {
        const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(px!, py!, 1, 1)
        return [data[0]!, data[1]!, data[2]!] as [number, number, number]
      },
      [x, y],
    )
  }

  /** Records of the open project as the server has them. */
  async records(): Promise<{ type: string; [field: string]: unknown }[]> {
    const id = new URL(this.page.url()).pathname.split('/')[2]!
    return this.page.evaluate(async (project) => {
      type Matted = { type: string; matte?: { data: string } | null }
      const { records } = (await (await fetch(`/api/projects/${project}`)).json()) as { records: Matted[] }
      // The pixels of mattes lie apart.
      const matted = records.flatMap(({ matte }) => (matte ? [matte] : []))
      for (let i = 0; i < matted.length; i += 100) {
        const names = matted.slice(i, i + 100).map(({ data }) => data.slice(1))
        const answer = await fetch('/api/projects/mattes', {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ names }),
        })
        const pixels = (await answer.json()) as Record<string, string>
        for (const matte of matted.slice(i, i + 100)) matte.data = pixels[matte.data.slice(1)]!
      }
      return records
    }, id)
  }
}
