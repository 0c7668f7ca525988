import { execFile } from 'node:child_process'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { root } from '../support/places.ts'
import { inBrowser } from './inBrowser.ts'
import { median, result, type Result } from './measure.ts'
import type { PageBench } from './page.ts'

const [from, to] = [10, 57] as const
const frames = to - from + 1
const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const begin = performance.now()
  await work()
  return performance.now() - begin
}

/** Renders frames of the demo's first shot as H.264 in Node, in as many processes side by side as there are pieces. */
function render(project: string, folder: string, pieces: readonly (readonly [number, number])[]): Promise<unknown> {
  const program = join(root, 'dist/server/render.program.js')
  return Promise.all(
    pieces.map(([first, last]) =>
      promisify(execFile)(process.execPath, [
        ...[program, project, '--shot', 'Jetty swing', '--frames', `${first}-${last}`],
        ...['--out', join(folder, `${first}.mp4`)],
      ]),
    ),
  )
}

export const withoutWindowBenches: Record<string, () => Promise<Result>> = {
  /** A frame rendered in Node, its start and all, against one of the browser's own export. */
  withoutWindow: () =>
    inBrowser(async (page, address, id, folder) => {
      const project = join(folder, 'ferry.wisptrail')
      await writeFile(project, Buffer.from(await (await fetch(`${address}/api/projects/${id}/file`)).arrayBuffer()))
      await page.goto(address)
      await page.addScriptTag({ type: 'module', url: '/bench.js' })
      await page.waitForFunction('window.bench')
      const exported = () =>
        page.evaluate(
          ([of, first, end]) =>
            (window as unknown as { bench: PageBench }).bench.exported(of, 'shot-jetty-swing', [first, end]),
          [id, from, to + 1] as const,
        )
      const times: [number[], number[]] = [[], []]
      for (let round = 0; round < 3; round++) {
        times[0].push((await timed(() => render(project, folder, [[from, to]]))) / frames)
        times[1].push((await exported()) / frames)
      }
      return result('withoutWindow', median(times[0]), 'a frame of the export in the browser', median(times[1]), 2)
    }),

  /** A night's work shared by two processes, against one that does it all. */
  inTwoPieces: () =>
    inBrowser(async (_page, address, id, folder) => {
      const project = join(folder, 'ferry.wisptrail')
      await writeFile(project, Buffer.from(await (await fetch(`${address}/api/projects/${id}/file`)).arrayBuffer()))
      const middle = from + frames / 2
      const halves = [[from, middle - 1] as const, [middle, to] as const]
      const times: [number[], number[]] = [[], []]
      for (let round = 0; round < 3; round++) {
        times[0].push(await timed(() => render(project, folder, halves)))
        times[1].push(await timed(() => render(project, folder, [[from, to]])))
      }
      return result('inTwoPieces', median(times[0]), 'one process for all of it', median(times[1]), 0.8)
    }),
}
