import type { Diff } from '#core/records/diff.ts'
import {
  type BackupSummary,
  type ClipHere,
  type CommitAnswer,
  type ConversionChoices,
  type ConversionState,
  type Glance,
  glanceBytes,
  type LighterState,
  type MediaFacts,
  type PastChange,
  type ProjectSummary,
  type RoomTaken,
  type StepOfChange,
} from '#core/records/exchange.ts'
import type { RenderNews, ServerOrder } from '#core/outgoing/orders.ts'
import type { BroughtIn } from '#core/records/projectFile.ts'
import { RecordLines } from '#core/records/recordLines.ts'
import type { AnyRecord, KeptLook } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { heard } from '../language/heard.ts'
import { pathOfProject, takeAhead } from './ahead.ts'

/** An answer other than success: `message` is the server's sentence. `status` is 0 where no answer came. */
export class ServerError extends Refusal {
  readonly status: number
  readonly body: unknown
  constructor(status: number, sentence: string, body: unknown = null) {
    super(sentence)
    this.status = status
    this.body = body
  }
}
export const noAnswer = say`The Wisp Trail server does not answer. Start it again; what you did waits here.`

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  const response = await asked(method, path, body)
  return (response.status === 204 ? null : await response.json()) as T
}

/** An answer of success; anything else is thrown as a {@link ServerError}. */
async function asked(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<Response> {
  let response: Response
  try {
    response = await fetch(path, {
      method,
      ...(signal ? { signal } : {}),
      ...(body === undefined
        ? {}
        : body instanceof Blob
          ? { body, headers: { 'Content-Type': body.type || 'application/octet-stream' } }
          : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    })
  } catch {
    signal?.throwIfAborted()
    throw new ServerError(0, noAnswer)
  }
  if (response.ok) return response
  const type = response.headers.get('content-type') ?? ''
  const answer: unknown = type.includes('json') ? await response.json() : null
  throw new ServerError(response.status, sentenceOf(answer, response.status), answer)
}

/** Reads a project as it comes, a record a line: a large one is never one text. */
async function openProject(id: string): Promise<{ revision: number; records: AnyRecord[] }> {
  const path = pathOfProject(id)
  const response = (await takeAhead(path)) ?? (await asked('GET', path))
  const lines = new RecordLines()
  for await (const text of textOf(response)) lines.take(text)
  if (!lines.end()) throw new ServerError(0, noAnswer)
  return { revision: Number(lines.head!.revision), records: lines.records }
}
async function* textOf(response: Response): AsyncGenerator<string> {
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader()
  for (let part = await reader.read(); !part.done; part = await reader.read()) yield part.value
}

function sentenceOf(answer: unknown, status: number): string {
  const error = (answer as { error?: string } | null)?.error
  return error ? heard(error) : say`The server refused this (${status}). Try again.`
}

export interface OutputFile {
  id: string
  shot: string
  name: string
  bytes: number
  about: string
  made: string
}

export const api = {
  projects: () => call<ProjectSummary[]>('GET', '/api/projects'),
  createProject: (name: string) => call<{ id: string }>('POST', '/api/projects', { name }),
  openProject: (id: string) => openProject(id),
  /** Pixels of mattes by their names, 100 at most at once. */
  mattes: (names: string[]) => call<Record<string, string>>('POST', '/api/projects/mattes', { names }),
  duplicateProject: (id: string) => call<{ id: string }>('POST', `/api/projects/${id}/duplicate`),
  deleteProject: (id: string) => call<null>('DELETE', `/api/projects/${id}`),
  restoreProject: (id: string) => call<null>('POST', `/api/projects/${id}/restore`),
  /** Takes one of the ways on that the server offers where it could not open its data. */
  start: (choice: string) => call<null>('POST', '/api/start', { id: choice }),
  backups: () => call<{ backups: BackupSummary[]; room: number }>('GET', '/api/backups'),
  makeBackup: () => call<{ made: boolean }>('POST', '/api/backups'),
  setBackupRoom: (bytes: number) => call<null>('PUT', '/api/backups/room', { bytes }),
  backupContents: (name: string) => call<{ id: string; name: string }[]>('GET', `/api/backups/${name}`),
  /** One project of a backup, or all of them, as copies on the shelf. */
  bringBack: (name: string, project: string | null) =>
    call<{ ids: string[] }>('POST', `/api/backups/${name}/back`, { project }),
  looks: () => call<KeptLook[]>('GET', '/api/looks'),
  keepLook: (look: KeptLook) => call<null>('PUT', `/api/looks/${look.id}`, look),
  deleteLook: (id: string) => call<null>('DELETE', `/api/looks/${id}`),
  room: () => call<RoomTaken>('GET', '/api/room'),
  freeRoom: () => call<{ bytes: number }>('POST', '/api/room/free'),
  /** Throws the server's sentence where so many bytes do not fit. */
  askForRoom: (bytes: number) => call<null>('GET', `/api/room/for/${bytes}`),
  /** Looks at the ends of a file that is to be sent; null where they do not tell. Fails with a sentence where it can not come in. */
  glanceAt: (file: File) => {
    const head = file.slice(0, glanceBytes)
    const tail = file.slice(Math.max(glanceBytes, file.size - glanceBytes))
    const told = new URLSearchParams({ bytes: String(file.size), head: String(head.size) })
    return call<Glance | null>('POST', `/api/footage/glance?${told}`, new Blob([head, tail]))
  },
  putThumbnail: (id: string, png: Blob) => call<null>('PUT', `/api/projects/${id}/thumbnail`, png),
  frameTimes: async (hash: string) => (await call<{ times: number[] }>('GET', `/api/footage/${hash}/facts`)).times,
  conversions: (project: string) => call<ConversionState[]>('GET', `/api/projects/${project}/conversions`),
  /** A picture of how its bright light would become. */
  conversionPreview: (project: string, id: string, bright: ConversionChoices['bright']) =>
    `/api/projects/${project}/conversions/${id}/preview/${bright}`,
  chooseConversion: (project: string, id: string, choices: ConversionChoices) =>
    call<null>('PUT', `/api/projects/${project}/conversions/${id}/choices`, choices),
  /** What came of it is in the project. */
  takeConversion: (project: string, id: string) =>
    call<null>('POST', `/api/projects/${project}/conversions/${id}/taken`),
  /** Ends a conversion, or lets go of what is known of it and of the file as it came in. */
  dropConversion: (project: string, id: string) => call<null>('DELETE', `/api/projects/${project}/conversions/${id}`),
  outputs: (project: string) => call<OutputFile[]>('GET', `/api/projects/${project}/outputs`),
  deleteOutput: (project: string, id: string) => call<null>('DELETE', `/api/projects/${project}/outputs/${id}`),
  outputAddress: (project: string, id: string) => `/api/projects/${project}/outputs/${id}/file`,
  /** What is known of the lighter copy of a large clip; with `make` one is made where there is none. */
  lighter: (hash: string, make: boolean) =>
    call<LighterState>(make ? 'POST' : 'GET', `/api/footage/${hash}/lighter/state`),
  lighterAddress: (hash: string) => `/api/footage/${hash}/lighter`,
  footageAddress: (hash: string) => `/api/footage/${hash}`,
  keepOutput: (project: string, shot: string, name: string, about: string, file: Blob) =>
    call<OutputFile>('POST', `/api/projects/${project}/outputs?${new URLSearchParams({ shot, name, about })}`, file),

  history: (project: string, until: number) =>
    call<PastChange[]>('GET', `/api/projects/${project}/history?until=${until}`),

  /** Sends one change. A 409 with newer changes is an answer, not an error. */
  async commit(
    project: string,
    change: { id: string; base: number; label: string; diff: Diff; step?: StepOfChange },
  ): Promise<CommitAnswer> {
    try {
      return await call<CommitAnswer>('POST', `/api/projects/${project}/changes`, change)
    } catch (error) {
      if (error instanceof ServerError && error.status === 409 && (error.body as { newer?: unknown })?.newer)
        return error.body as CommitAnswer
      throw error
    }
  },

  /** Sends a file of footage: its facts, or how it is being converted. */
  upload: (file: File, where: { project: string; name: string }, onProgress: Progress, signal: AbortSignal) =>
    send<MediaFacts | { conversion: ConversionState }>(
      `/api/footage?${new URLSearchParams(where)}`,
      file,
      onProgress,
      signal,
    ),

  /** Has a file made by the server of the project as it has it. Throws an AbortError when stopped; nothing is left there then. */
  render: async (
    project: string,
    order: ServerOrder,
    onFrame: (done: number, of: number) => void,
    signal: AbortSignal,
  ): Promise<{ troubles: string[] }> => {
    const response = await asked('POST', `/api/projects/${project}/renders`, order, signal)
    let rest = ''
    for await (const text of textOf(response)) {
      const lines = (rest + text).split('\n')
      rest = lines.pop()!
      for (const line of lines) {
        const news = JSON.parse(line) as RenderNews
        if ('refused' in news) throw new Refusal(news.refused)
        if ('made' in news) return news.made
        onFrame(news.done, news.of)
      }
    }
    throw new ServerError(0, noAnswer)
  },

  /** The clips of a project, and whether they are on this machine. */
  clips: async (project: string) => (await call<{ clips: ClipHere[] }>('GET', `/api/projects/${project}/clips`)).clips,
  /** Where a project is to be had as one file. */
  projectFileAddress: (project: string, clips: boolean) =>
    `/api/projects/${project}/file?clips=${clips ? 'yes' : 'no'}`,
  /** Brings a project file onto the shelf. */
  bringInExample: () => call<BroughtIn>('POST', '/api/projects/example'),
  bringIn: (file: File, onProgress: Progress, signal: AbortSignal) =>
    send<BroughtIn>('/api/projects/file', file, onProgress, signal),
}

type Progress = (share: number) => void

/** Streams a file to the server. XMLHttpRequest, because fetch does not tell how far an upload is. */
function send<T>(path: string, file: File, onProgress: Progress, signal: AbortSignal): Promise<T> {
  return new Promise((done, fail) => {
    const request = new XMLHttpRequest()
    request.open('POST', path)
    request.setRequestHeader('Content-Type', 'application/octet-stream')
    request.upload.onprogress = (event) => onProgress(event.loaded / Math.max(1, event.total))
    request.onload = () => {
      let answer: unknown = null
      try {
        answer = JSON.parse(request.responseText)
      } catch {
        // The sentence below names the status instead.
      }
      if (request.status >= 200 && request.status < 300) done(answer as T)
      else fail(new ServerError(request.status, sentenceOf(answer, request.status)))
    }
    request.onerror = () =>
      fail(new ServerError(0, say`The upload was cut off. Nothing was kept; choose the file again.`))
    request.onabort = () => fail(new DOMException('cancelled', 'AbortError'))
    signal.addEventListener('abort', () => request.abort())
    request.send(file)
  })
}
