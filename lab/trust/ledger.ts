import { createHash } from 'node:crypto'
import { isDeepStrictEqual } from 'node:util'
import { encode } from 'fast-png'
import { makeKey } from '#core/records/make.ts'
import type { AnyRecord, Key, Media } from '#core/records/types.ts'
import { makePaintedKey, makePart } from '#core/shapes/make.ts'
import type { Chance } from '../support/chance.ts'
import type { ServerProcess } from '../support/serverProcess.ts'

const media: Media = {
  ...{
    type: 'media',
    id: 'm',
    name: 'clip.mp4',
    hash: 'a'.repeat(64),
    codec: 'avc',
    audio: '',
    width: 640,
    height: 360,
  },
  ...{ rotation: 0, frames: 5000, rate: 24, variableRate: false, seconds: 200, bytes: 1000, matrix: 'bt709' },
  ...{ range: 'limited', tagged: true },
}
/** A shot with a rod (p) and a painted part (q). */
export const cast: AnyRecord[] = [
  media,
  { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 5000, join: 0 },
  { type: 'member', id: 'c', shot: 's', name: 'Prop', kind: 'prop', colour: 0, order: 1 },
  makePart({ id: 'p', member: 'c', name: 'shaft', kind: 'rod', order: 1 }),
  makePart({ id: 'q', member: 'c', name: 'matte', kind: 'painted', order: 2 }),
]

/** What was acknowledged, what was under way when it ended, and what is there: whoever kept it all can be told by this. */
export class Ledger {
  project = ''
  revision = 0
  readonly keys = new Map<string, Key>()
  readonly clips = new Map<string, number>()
  readonly outputs = new Map<string, Buffer>()
  /** The key that was sent without an answer: it may be there or not. */
  underWay: Key | null = null
  acknowledged = 0
  private made = 0
  private readonly chance: Chance

  constructor(chance: Chance) {
    this.chance = chance
  }

  async begin(server: ServerProcess): Promise<void> {
    const { body } = await server.api('POST', '/api/projects', { name: 'Ferry' })
    this.project = body.id as string
    await this.send(server, cast)
  }

  private async send(server: ServerProcess, put: AnyRecord[]): Promise<number> {
    const { status, body } = await server.api('POST', `/api/projects/${this.project}/changes`, {
      ...{ id: `c${this.made++}`, base: this.revision, label: 'work', diff: { put, remove: [] } },
    })
    if (status === 200) this.revision = body.revision as number
    return status
  }

  /** One piece of work; returns its status. What is acknowledged is written down. */
  async work(server: ServerProcess): Promise<number> {
    const { chance } = this
    const kind = chance.below(10)
    let status: number
    if (kind < 7) {
      const frame = chance.below(4000)
      const data = Uint8Array.from(chance.bytes(64))
      const key = kind
        ? makeKey('p', frame, [chance.below(999), 1 / 3, chance.below(999), 2])
        : makePaintedKey('q', frame, { x: 0, y: 0, width: 8, height: 8, data }, null)
      this.underWay = key
      status = await this.send(server, [key])
      this.underWay = null
      if (status === 200) this.keys.set(key.id, key)
    } else if (kind === 7) {
      const bytes = Buffer.from(encode({ width: 16, height: 16, data: chance.bytes(1024), channels: 4 }))
      status = (await sendFile(server, '/api/footage', bytes)).status
      if (status === 201) this.clips.set(createHash('sha256').update(bytes).digest('hex'), bytes.length)
    } else if (kind === 8) {
      const bytes = chance.bytes(3000)
      const answer = await sendFile(server, `/api/projects/${this.project}/outputs?shot=s&name=a.mp4`, bytes)
      status = answer.status
      if (status === 201) this.outputs.set(answer.body.id as string, bytes)
    } else status = (await server.api('POST', '/api/backups')).status
    if (status < 300) this.acknowledged++
    return status
  }

  /** What is missing, half or changed of what was acknowledged: nothing, it is to be hoped. */
  async faults(server: ServerProcess): Promise<string[]> {
    const faults: string[] = []
    const { status, body } = await server.api('GET', `/api/projects/${this.project}`)
    if (status !== 200) return [`the project does not open: ${JSON.stringify(body)}`]
    const records = body.records as AnyRecord[]
    const there = new Map(records.filter((one) => one.type === 'key').map((one) => [one.id, one]))
    if (this.underWay) {
      const found = there.get(this.underWay.id)
      if (found && isDeepStrictEqual(found.points, this.underWay.points) && (body.revision as number) > this.revision)
        this.keys.set(this.underWay.id, this.underWay)
      this.underWay = null
    }
    this.revision = body.revision as number
    const named = [...there.values()].flatMap((key) => key.matte?.data.slice(1) ?? [])
    const mattes: Record<string, unknown> = {}
    for (let i = 0; i < named.length; i += 100)
      Object.assign(mattes, (await server.api('POST', '/api/projects/mattes', { names: named.slice(i, i + 100) })).body)
    for (const [id, key] of this.keys) {
      const found = there.get(id)
      const data = key.matte && mattes[found?.matte?.data.slice(1) ?? '']
      if (!found || !isDeepStrictEqual(found.points, key.points) || (key.matte && data !== key.matte.data))
        faults.push(`key ${id} is lost or changed`)
    }
    if (there.size !== this.keys.size) faults.push(`there are ${there.size} keys, not ${this.keys.size}`)
    for (const [hash, bytes] of this.clips) {
      const answer = await fetch(`${server.address}/api/footage/${hash}`)
      if (answer.status !== 200 || (await answer.arrayBuffer()).byteLength !== bytes)
        faults.push(`clip ${hash} is lost`)
    }
    const { body: list } = await server.api('GET', `/api/projects/${this.project}/outputs`)
    for (const { id } of list as unknown as { id: string }[]) {
      const answer = await fetch(`${server.address}/api/projects/${this.project}/outputs/${id}/file`)
      const bytes = Buffer.from(await answer.arrayBuffer())
      const own = this.outputs.get(id)
      if (answer.status !== 200 || (own && !own.equals(bytes))) faults.push(`the rendered file ${id} is half`)
    }
    const ids = new Set((list as unknown as { id: string }[]).map((one) => one.id))
    for (const id of this.outputs.keys()) if (!ids.has(id)) faults.push(`the rendered file ${id} is lost`)
    return faults
  }
}

async function sendFile(server: ServerProcess, path: string, body: Buffer) {
  const response = await fetch(server.address + path, {
    method: 'POST',
    body: new Uint8Array(body),
    headers: { 'Content-Type': 'application/octet-stream' },
  })
  return { status: response.status, body: (await response.json()) as Record<string, unknown> }
}
