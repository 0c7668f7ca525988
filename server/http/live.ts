import type { Request, Response } from 'express'
import type { StoredChange } from '#core/records/exchange.ts'

/** Bytes that may wait for a tab that does not read. */
const mostWaiting = 1024 ** 2

/**
 * The lines to open tabs: every change of a project, as it comes. A tab that falls behind is cut off: it comes back by
 * itself and says how far it has heard.
 */
export class LiveLines {
  private readonly listeners = new Map<string, Set<Response>>()

  /** The revision up to which a tab has heard: what it was opened with, or what it heard last. */
  static heard(request: Request): number {
    return Number(request.headers['last-event-id'] ?? request.query.since)
  }

  open(project: string, request: Request, response: Response): void {
    response.writeHead(200, {
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-store',
      Connection: 'keep-alive',
    })
    response.write('retry: 500\n: open\n\n')
    const group = this.listeners.get(project) ?? new Set()
    this.listeners.set(project, group.add(response))
    request.on('close', () => {
      group.delete(response)
      if (group.size === 0) this.listeners.delete(project)
    })
  }

  tell(project: string, change: StoredChange): void {
    for (const response of this.listeners.get(project) ?? []) LiveLines.say(response, change)
  }

  /** Writes a change; false where the line is cut off because its tab does not read. */
  static say(response: Response, change: StoredChange): boolean {
    if (response.writableLength > mostWaiting) {
      response.destroy()
      return false
    }
    response.write(`id: ${change.revision}\ndata: ${JSON.stringify(change)}\n\n`)
    return true
  }
}
