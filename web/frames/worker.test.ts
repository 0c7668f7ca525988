import * as Comlink from 'comlink'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { shotWorker } from './shotWorker.ts'
import { started, WorkerEnded } from './worker.ts'

beforeEach(() => vi.spyOn(console, 'error').mockImplementation(() => {}))

/** A worker that lies on the other end of a channel; `die` is what the browser tells of its death. */
function pretendWorker() {
  const { port1, port2 } = new MessageChannel()
  const never = new Promise<number>(() => {})
  Comlink.expose(
    {
      twice: (x: number) => 2 * x,
      refuse: () => {
        throw new Error('It will not.')
      },
      hang: () => never,
    },
    port2,
  )
  const worker = Object.assign(port1, { terminate: vi.fn(() => port2.close()) })
  const die = (message: string) =>
    worker.dispatchEvent(Object.assign(new Event('error', { cancelable: true }), { message }))
  return { worker: worker as unknown as Worker, die, terminate: worker.terminate }
}
interface Doing {
  twice(x: number): Promise<number>
  refuse(): Promise<void>
  hang(): Promise<number>
}

describe('a started worker', () => {
  it('answers, and its refusals come through', async () => {
    const { worker } = pretendWorker()
    const { remote, stop } = started<Doing>(worker, 'count')
    expect(await remote.twice(21)).toBe(42)
    await expect(remote.refuse()).rejects.toThrow('It will not.')
    stop()
  })
  it('leaves nobody hanging when it dies, and refuses whoever comes later', async () => {
    const { worker, die } = pretendWorker()
    const { remote, stop } = started<Doing>(worker, 'count')
    const waiting = remote.hang()
    die('out of memory')
    await expect(waiting).rejects.toThrow(/What was to count has failed. Try again/)
    await expect(remote.twice(1)).rejects.toThrow(/has failed/)
    stop()
  })
  it('that is ended gives its calls up, which nobody has to be told', async () => {
    const { worker, terminate } = pretendWorker()
    const { remote, stop } = started<Doing>(worker, 'count')
    const waiting = remote.hang()
    stop()
    expect(terminate).toHaveBeenCalledOnce()
    await expect(waiting).rejects.toBeInstanceOf(WorkerEnded)
    await expect(remote.twice(1)).rejects.toBeInstanceOf(WorkerEnded)
  })
  it('can be waited for itself without being called', async () => {
    const { worker } = pretendWorker()
    const { remote, stop } = started<Doing>(worker, 'count')
    expect(await (await Promise.resolve(remote)).twice(4)).toBe(8)
    stop()
  })
})

describe('the worker of a shot', () => {
  const starts = () => {
    const stopped: number[] = []
    let count = 0
    const worker = shotWorker(() => {
      const number = ++count
      return { remote: { number }, stop: () => stopped.push(number) }
    })
    return { worker, stopped }
  }
  it('starts when it is needed, stays for its shot, and another shot gets a fresh one', () => {
    const { worker, stopped } = starts()
    expect(worker.running).toBeNull()
    expect([worker.of('a').number, worker.of('a').number]).toEqual([1, 1])
    expect(worker.of('b').number).toBe(2)
    expect(stopped).toEqual([1])
  })
  it('that was freed starts anew', () => {
    const { worker, stopped } = starts()
    worker.of('a')
    worker.stop()
    expect(worker.running).toBeNull()
    expect(worker.of('a').number).toBe(2)
    expect(stopped).toEqual([1])
  })
})
