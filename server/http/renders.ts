import { randomUUID } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { Mutex } from 'async-mutex'
import { json, Router } from 'express'
import * as yup from 'yup'
import { fileName } from '#core/formats/fileName.ts'
import { fileKinds, formOf, wayOf } from '#core/outgoing/forms.ts'
import type { RenderNews, ServerOrder } from '#core/outgoing/orders.ts'
// What its schema does not say itself is said in our sentences.
import '#core/parameters/words.ts'
import type { Content } from '#core/render/contents.ts'
import { say } from '#core/say.ts'
import { runJob } from '../jobs/runJob.ts'
import { type Files, putAway } from '../media/files.ts'
import type { NodeOrder, NodeRendered } from '../rendering/renderProject.ts'
import type { Database } from '../storage/database.ts'
import { packProject } from '../storage/projectFile.ts'
import type { Projects } from '../storage/projects.ts'
import { fileOfOutput, outputRow } from './outputs.ts'
import { idFrom } from './projects.ts'
import { asRefusal, gone, HttpRefusal } from './refusal.ts'

/** Megabytes of JavaScript objects that a render may hold; its pictures lie elsewhere. */
const most = 2048

const frame = yup.number().integer().min(0).max(10_000_000).required()
const orderSchema: yup.ObjectSchema<ServerOrder> = yup.object({
  shot: yup.string().max(100).defined(),
  frames: yup.object({ from: frame, to: frame }).nullable().defined(),
  out: yup.string<Content>().oneOf(['over', 'light', 'cutout', 'matte', 'plate', 'clean']).required(),
  kind: yup
    .string<ServerOrder['kind']>()
    .oneOf(fileKinds.filter((kind) => wayOf(kind).way === 'prores'))
    .required(),
  of: yup.string().max(1000).defined(),
  reduce: yup.number<1 | 2 | 4>().oneOf([1, 2, 4]).required(),
  crop: yup.boolean().required(),
  // What is longer than is kept is cut, not refused.
  name: yup.string().max(1000).defined(),
  about: yup.string().max(1000).defined(),
})

/**
 * Files that no browser encodes: the server renders them itself, one at a time, and tells on the way how far it is, a line of JSON for every
 * piece of news. It stops when whoever asked is gone; nothing half-made is left.
 */
export function renderRoutes(database: Database, projects: Projects, files: Files): Router {
  const routes = Router({ mergeParams: true })
  const turn = new Mutex()

  routes.post('/', json({ limit: '4kb' }), async (request, response) => {
    const project = idFrom((request.params as { id?: string }).id, 'project')
    const order = await orderSchema.validate(request.body, { strict: true }).catch((error: yup.ValidationError) => {
      throw new HttpRefusal(422, say`This can not be rendered: ${error.message}`)
    })
    if (!formOf(order.kind).of.includes(order.out))
      throw new HttpRefusal(422, say`This does not go into a file of that form. Choose another form.`)
    await projects.exists(project)
    const stop = gone(response)
    response.type('application/x-ndjson')
    const tell = (news: RenderNews) => void response.write(`${JSON.stringify(news)}\n`)
    try {
      tell({ made: await turn.runExclusive(() => rendered(project, order, tell, stop)) })
    } catch (error) {
      if (stop.aborted) return
      const refusal = asRefusal(error)
      if (!refusal) request.log.error({ error }, 'unexpected')
      tell({ refused: refusal?.message ?? say`Something went wrong in the server; nothing was made. Look at its log.` })
    }
    response.end()
  })

  async function rendered(
    project: string,
    { shot, frames, out: content, name, about, ...rest }: ServerOrder,
    say: (news: RenderNews) => void,
    stop: AbortSignal,
  ): Promise<{ id: string; troubles: string[] }> {
    stop.throwIfAborted()
    const work = join(files.incoming, randomUUID())
    await mkdir(work)
    try {
      const order: NodeOrder = {
        ...{ project: join(work, 'project'), footage: files.footage, shot, span: frames, content, piece: null },
        ...{ ...rest, premultiplied: false, out: join(work, 'out'), work },
      }
      await takeOut(project, order.project)
      const { troubles, lies } = await runJob<NodeRendered, { done: number; of: number }>(
        'rendering/rendering',
        order,
        stop,
        most,
        say,
      )
      const { size } = await stat(order.out)
      const told = [about.slice(0, 200), lies].filter(Boolean).join(', ')
      const row = outputRow(project, { shot, name: fileName(name, 'Film'), about: told, bytes: size })
      await putAway(order.out, fileOfOutput(files, row), () =>
        database.write((manager) => manager.insert('output', { ...row })),
      )
      return { id: row.id, troubles }
    } finally {
      await rm(work, { recursive: true, force: true })
    }
  }

  /** The project as it is now, without its clips. */
  async function takeOut(project: string, to: string): Promise<void> {
    const stream = await projects.streamWhole(project, [])
    try {
      const packed = packProject(stream, [], null, (error) => packed.destroy(error))
      await pipeline(packed, createWriteStream(to))
    } finally {
      stream.close()
    }
  }

  return routes
}
