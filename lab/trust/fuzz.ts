import { encode } from 'fast-png'
import { zipSync } from 'fflate'
import { effectKinds } from '#core/effects/catalogue.ts'
import { makeEffect } from '#core/effects/make.ts'
import { makeKey } from '#core/records/make.ts'
import type { Chance } from '../support/chance.ts'
import { ServerProcess } from '../support/serverProcess.ts'
import { cast } from './ledger.ts'

export interface Fuzz {
  changes: number
  accepted: number
  requests: number
  faults: string[]
  /** Bytes that the server held at most. */
  memory: number
  /** Milliseconds that another one's small request waited at most. */
  longestWait: number
}

/** Values that somebody might send where something else belongs. */
const odd = [
  ...[null, true, false, 0, -1, 1e9, 1e-300, 1e300, -0, 3.5, '', 'x', 'a\0b', '\ud800', '__proto__', 'constructor'],
  ...[
    [],
    {},
    [[]],
    [null],
    { keys: [] },
    { signal: 'speed' },
    'p',
    's',
    'm',
    '#aaaaaaaaaaaaaaaaaaaaaa',
    'x'.repeat(5000),
  ],
]

/** Sends what nobody means to: changes and requests that are wrong in every way, and looks what the server makes of it. */
export async function fuzz(
  data: string,
  { changes, requests }: { changes: number; requests: number },
  chance: Chance,
  built: boolean,
): Promise<Fuzz> {
  const server = await ServerProcess.start(data, built)
  const faults: string[] = []
  const { body } = await server.api('POST', '/api/projects', { name: 'Ferry' })
  const project = body.id as string
  const place = `/api/projects/${project}`
  let revision = 0
  let accepted = 0
  const kinds = Object.keys(effectKinds) as (keyof typeof effectKinds)[]
  const good = [
    ...cast,
    ...Array.from({ length: 12 }, (_, i) => makeKey('p', i, [i, 1, 2, 3])),
    ...kinds.map((kind, i) => makeEffect({ id: `e${i}`, shot: 's', kind, order: i, target: 'c' })),
  ]
  const commit = async (diff: unknown, id: string) => {
    const { status, body } = await server.api('POST', `${place}/changes`, { id, base: revision, label: 'fuzz', diff })
    if (status === 200) {
      revision = body.revision as number
      accepted++
    } else if (status >= 500) faults.push(`${status} for ${JSON.stringify(diff).slice(0, 300)}`)
    else if (status !== 409 && !isSentence(body.error))
      faults.push(`"${String(body.error)}" for ${JSON.stringify(diff).slice(0, 300)}`)
  }
  const waits: number[] = []
  let watching = true
  const watch = (async () => {
    while (watching) {
      const begin = performance.now()
      await fetch(`${server.address}/api/backups`).then((answer) => answer.arrayBuffer())
      waits.push(performance.now() - begin)
      await new Promise((done) => setTimeout(done, 25))
    }
  })()

  await commit({ put: good, remove: [] }, 'good')
  for (let i = 0; i < changes; i++) {
    const put = Array.from({ length: 1 + chance.below(2) }, () => spoilt(chance.one(good), chance))
    const remove = chance.below(12) ? [] : [{ type: chance.one(good).type, id: chance.one(good).id }]
    await commit(chance.below(60) ? { put, remove } : chance.one(odd), `f${i}`)
    // What was torn down is put up again now and then.
    if (i % 50 === 49) await commit({ put: good, remove: [] }, `again${i}`)
    if (i % 250 === 249) faults.push(...(await opensAndDuplicates(server, project)))
  }
  for (let i = 0; i < requests; i++) {
    const problem = chance.below(3) ? await oddRequest(server, project, chance) : await oddUpload(server, chance)
    if (problem) faults.push(problem)
  }
  faults.push(...(await opensAndDuplicates(server, project)))
  watching = false
  await watch
  const memory = server.peakMemory()
  await server.stop('SIGTERM')
  return { changes, accepted, requests, faults, memory, longestWait: Math.max(...waits) }
}

const isSentence = (text: unknown) =>
  typeof text === 'string' && /^["A-Z].*[.:!]$/s.test(text) && !/undefined|\[object|Cannot read|this carries/.test(text)

/** A record with something wrong in it, somewhere: or with nothing wrong, now and then. */
function spoilt(record: unknown, chance: Chance): unknown {
  const copy = structuredClone(record) as Record<string, unknown>
  for (let n = chance.below(3); n > 0; n--) {
    let at: Record<string, unknown> = copy
    for (;;) {
      const names = Object.keys(at)
      const name = names.length ? chance.one(names) : 'extra'
      const inner = at[name]
      if (typeof inner === 'object' && inner !== null && chance.below(3)) {
        at = inner as Record<string, unknown>
        continue
      }
      const way = chance.below(8)
      if (way === 0) Reflect.deleteProperty(at, name)
      else if (way === 1) at[`extra${chance.below(9)}`] = structuredClone(chance.one(odd))
      else if (typeof inner === 'number' && way < 5) at[name] = inner + chance.below(2001) - 1000
      else at[name] = structuredClone(chance.one(odd))
      break
    }
  }
  return copy
}

async function opensAndDuplicates(server: ServerProcess, project: string): Promise<string[]> {
  const faults: string[] = []
  const opened = await server.api('GET', `/api/projects/${project}`)
  if (opened.status !== 200) faults.push(`the project does not open: ${JSON.stringify(opened.body)}`)
  const copy = await server.api('POST', `/api/projects/${project}/duplicate`)
  if (copy.status !== 201) faults.push(`the project does not duplicate: ${JSON.stringify(copy.body)}`)
  else await server.api('DELETE', `/api/projects/${copy.body.id as string}`)
  const shelf = await server.api('GET', '/api/projects')
  if (shelf.status !== 200 || JSON.stringify(shelf.body).includes('"damaged":true')) faults.push('the shelf is damaged')
  return faults
}

async function oddRequest(server: ServerProcess, project: string, chance: Chance): Promise<string | null> {
  const pieces = [
    'api',
    'projects',
    project,
    'footage',
    'a'.repeat(64),
    'outputs',
    'file',
    '%00',
    '%E0%A4%A',
    '..%2f..',
    'live',
  ]
  pieces.push(
    'thumbnail',
    'backups',
    'room',
    'for',
    '1e999',
    'changes',
    'mattes',
    'duplicate',
    'facts',
    'constructor',
    '{',
  )
  const path = `/api/${Array.from({ length: 1 + chance.below(4) }, () => chance.one(pieces)).join('/')}`
  const method = chance.one(['GET', 'GET', 'POST', 'PUT', 'DELETE', 'PATCH', 'OPTIONS'])
  // What would delete the project under work is not asked for.
  if (method === 'DELETE' && path.endsWith(project)) return null
  const headers: Record<string, string> = {
    'Content-Type': chance.one(['application/json', 'text/plain', 'application/json; charset=klingon', 'image/png']),
    Range: chance.one(['bytes=0-', 'bytes=9-3', 'bytes=99999999-', 'lines=1-', 'bytes=0-0,2-']),
  }
  if (!chance.below(4)) headers['Content-Encoding'] = chance.one(['gzip', 'br', 'rar', 'deflate'])
  const body = chance.one([
    '',
    '{',
    '[]',
    '7',
    '"x"',
    '{"names":[7]}',
    '{"project":{}}',
    JSON.stringify(chance.one(odd)),
  ])
  const stop = new AbortController()
  const timer = setTimeout(() => stop.abort(), 5000)
  try {
    const answer = await fetch(server.address + path, {
      ...{ method, headers, signal: stop.signal },
      ...(method === 'GET' ? {} : { body }),
    })
    const isLive = answer.headers.get('content-type')?.includes('event-stream')
    if (!isLive) await answer.arrayBuffer()
    return answer.status >= 500 ? `${answer.status} for ${method} ${path} ${JSON.stringify(headers)} ${body}` : null
  } catch (error) {
    return `${String(error)} for ${method} ${path}`
  } finally {
    stop.abort()
    clearTimeout(timer)
  }
}

/** A picture, a sequence or a video with bytes changed, cut out or claimed that are not there. */
async function oddUpload(server: ServerProcess, chance: Chance): Promise<string | null> {
  const png = encode({ width: 20, height: 20, data: chance.bytes(1600), channels: 4 })
  const files = [
    png,
    zipSync({ 'a-1.png': png, 'a-2.png': png }, { level: chance.one([0, 9]) }),
    Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypisom'), chance.bytes(300)]),
    Buffer.from([0x1a, 0x45, 0xdf, 0xa3, ...chance.bytes(200)]),
  ]
  const bytes = Buffer.from(chance.one(files))
  for (let n = chance.below(6); n > 0; n--) bytes[chance.below(bytes.length)] = chance.one([0, 255, chance.below(256)])
  const sent = chance.below(4) ? bytes : bytes.subarray(0, chance.below(bytes.length))
  const answer = await fetch(`${server.address}/api/footage`, { method: 'POST', body: new Uint8Array(sent) })
  const { error } = (await answer.json()) as { error?: string }
  if (answer.status >= 500) return `${answer.status} for an upload of ${sent.length} bytes: ${error}`
  return answer.status === 201 || isSentence(error) ? null : `"${error}" for an upload`
}
