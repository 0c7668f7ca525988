import { describe, expect, it, vi } from 'vitest'
import { clashes, type Diff } from '#core/records/diff.ts'
import type { CommitAnswer, PastChange, StepOfChange } from '#core/records/exchange.ts'
import { makeKey } from '#core/records/make.ts'
import { Records } from '#core/records/records.ts'
import { type AnyRecord, type Key, keyId } from '#core/records/types.ts'
import { makePart } from '#core/shapes/make.ts'
import { ServerError } from './api.ts'
import type { UnsentChange } from './outbox.ts'
import { ProjectSession, sendOrphans } from './session.ts'

const key = (frame: number, x = 0): Key => makeKey('p', frame, [x, 0, 10, 10])
const part: AnyRecord = makePart({ id: 'p', member: 'c', name: 'shaft', kind: 'rod', order: 1 })
const put = (...records: AnyRecord[]): Diff => ({ put: records, remove: [] })
const removePart: Diff = {
  put: [],
  remove: [
    { type: 'part', id: 'p' },
    { type: 'key', id: keyId('p', 1) },
  ],
}

/** A server that answers by the rules of the real one and tells every tab that listens. */
class FakeServer {
  log: PastChange[] = []
  private readonly records = new Records([part])
  down = false
  refuse: ((diff: Diff) => string | null) | null = null
  tabs: ProjectSession[] = []
  /** How long every message is under way. */
  slow: () => Promise<unknown> = () => Promise.resolve()

  commit = async (
    _: string,
    change: { id: string; base: number; label: string; diff: Diff; step?: StepOfChange },
  ): Promise<CommitAnswer> => {
    await this.slow()
    if (this.down) throw new ServerError(0, 'The server does not answer.')
    const why = this.refuse?.(change.diff)
    if (why) throw new ServerError(422, why)
    const known = this.log.find((one) => one.id === change.id)
    if (known) return { accepted: true, revision: known.revision, newer: [] }
    const newer = this.log.slice(change.base)
    if (newer.some((one) => clashes(change.diff, one.diff).length > 0))
      return { accepted: false, revision: this.log.length, newer }
    const stored = { id: change.id, label: change.label, diff: change.diff, revision: this.log.length + 1 }
    const { step = { id: change.id, way: 'do' } } = change
    this.log.push({ ...stored, back: this.records.apply(change.diff), step, at: new Date().toISOString() })
    for (const tab of this.tabs) this.slow().then(() => tab.take(stored), expect.fail)
    await this.slow()
    return { accepted: true, revision: stored.revision, newer }
  }

  /** `reopened`: as a page that is opened now, and knows what was done before. */
  tab(name: string, listens = true, reopened = false) {
    const kept = new Map<string, UnsentChange>()
    const outbox = {
      tab: name,
      keep: async (change: UnsentChange) => void kept.set(change.id, change),
      drop: async (id: string) => void kept.delete(id),
    }
    const session = new ProjectSession(
      'project',
      reopened
        ? {
            revision: this.log.length,
            records: structuredClone([...this.records.all('part'), ...this.records.all('key')]),
          }
        : { revision: 0, records: [part] },
      { commit: this.commit, outbox, retryAfter: 5 },
    )
    if (reopened) session.remember(structuredClone(this.log))
    const notices: string[] = []
    session.onNotice = (sentence) => notices.push(sentence)
    if (listens) this.tabs.push(session)
    return { session, kept, notices, outbox }
  }
}
const frames = (session: ProjectSession) =>
  session.records.childrenOf('key', 'p').map((one) => `${one.frame}:${one.points[0]}`)
const settled = (session: ProjectSession) =>
  vi.waitFor(() => expect(session.keeping.state).toBe('kept'), { timeout: 30_000 })

describe('the history of a project', () => {
  it('reaches back past the opening of the page: quick successions are one step, undone ones can be done again', async () => {
    const server = new FakeServer()
    const first = server.tab('a', false).session
    first.commit('Key 1', put(key(1, 1)))
    for (let i = 0; i < 5; i++) first.commit('Nudge', put(key(1, 2 + i)), 'nudge')
    first.commit('Key 2', put(key(2, 2)))
    first.undo()
    await settled(first)
    await first.close()
    const { session } = server.tab('b', false, true)
    expect([session.undoLabel, session.redoLabel]).toEqual(['Nudge', 'Key 2'])
    session.redo()
    expect(frames(session)).toEqual(['1:6', '2:2'])
    session.undo()
    session.undo()
    expect(frames(session)).toEqual(['1:1'])
    session.undo()
    expect(frames(session)).toEqual([])
    expect(session.undoLabel).toBeNull()
    await settled(session)
    // And so once more, from what lies on the server.
    const third = server.tab('c', false, true).session
    expect(third.redoLabel).toBe('Key 1')
    for (let i = 0; i < 3; i++) third.redo()
    expect(frames(third)).toEqual(['1:6', '2:2'])
  })
  it('brings a part back with all its keys, whatever order the server has their fields in', async () => {
    const server = new FakeServer()
    const first = server.tab('a', false).session
    first.commit('Key 1', put(key(1, 1)))
    first.commit('Delete shaft', removePart)
    await settled(first)
    // A database knows nothing of the order, and says null where a record said nothing.
    for (const change of server.log)
      change.back!.put = change.back!.put.map(
        (record) => Object.fromEntries([...Object.entries(record), ['spare', null]].reverse()) as unknown as AnyRecord,
      )
    const { session, notices } = server.tab('b', false, true)
    session.undo()
    expect(frames(session)).toEqual(['1:1'])
    expect(session.records.get('part', 'p')).toMatchObject({ name: 'shaft' })
    session.undo()
    expect(frames(session)).toEqual([])
    expect(notices).toEqual([])
  })
  it('goes to any step and to stages that were named, and forward again until something new is done', async () => {
    const server = new FakeServer()
    const { session } = server.tab('a', false)
    for (const frame of [1, 2, 3]) session.commit(`Key ${frame}`, put(key(frame)))
    session.nameStage('rough')
    for (const frame of [4, 5]) session.commit(`Key ${frame}`, put(key(frame)))
    const [one, , , rough] = session.history
    expect(session.history.map(({ label }) => label)).toEqual(['Key 1', 'Key 2', 'Key 3', 'rough', 'Key 4', 'Key 5'])
    session.goTo(rough!.id)
    expect(frames(session)).toHaveLength(3)
    expect(session.history.filter(({ done }) => !done).map(({ label }) => label)).toEqual(['Key 4', 'Key 5'])
    session.goTo(one!.id)
    expect(frames(session)).toEqual(['1:0'])
    session.goTo('')
    expect(frames(session)).toEqual([])
    session.goTo(rough!.id)
    expect(frames(session)).toHaveLength(3)
    // An undo goes over a name, not to it.
    session.undo()
    expect(frames(session)).toHaveLength(2)
    session.redo()
    await settled(session)
    const again = server.tab('b', false, true).session
    expect(again.history.map(({ label, done }) => `${label} ${done}`)).toEqual(
      session.history.map(({ label, done }) => `${label} ${done}`),
    )
    again.commit('Another way', put(key(9)))
    expect(again.history.map(({ label }) => label)).toEqual(['Key 1', 'Key 2', 'Key 3', 'Another way'])
  })
  it('ends where nobody knows any more what takes a change back', () => {
    const { session } = new FakeServer().tab('a', false)
    const change = (label: string, back: Diff | null): PastChange => ({
      ...{ id: label, revision: 1, label, diff: put(key(1)), back },
      ...{ step: { id: label, way: 'do' }, at: '2026-11-29T10:00:00.000Z' },
    })
    session.remember([change('of old', null), change('noted', put())])
    expect(session.history.map(({ label }) => label)).toEqual(['noted'])
  })
})

describe('one tab', () => {
  it('shows a change at once, keeps it until it is acknowledged, and undoes and redoes without limit', async () => {
    const server = new FakeServer()
    const { session, kept } = server.tab('a')
    for (let frame = 0; frame < 300; frame++) session.commit(`Key ${frame}`, put(key(frame)))
    expect(frames(session)).toHaveLength(300)
    expect(kept.size).toBeGreaterThan(290)
    await settled(session)
    expect(kept.size).toBe(0)
    for (let i = 0; i < 300; i++) session.undo()
    expect(frames(session)).toEqual([])
    expect(session.undoLabel).toBeNull()
    for (let i = 0; i < 300; i++) session.redo()
    expect(frames(session)).toHaveLength(300)
    await settled(session)
    expect(server.log).toHaveLength(900)
  })
  it('says once that this browser has no room for unsent changes; they are sent, and counted as what would be lost', async () => {
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => {})
    const server = new FakeServer()
    server.down = true
    const { session, notices, outbox } = server.tab('a')
    outbox.keep = () => Promise.reject(new DOMException('Full.', 'QuotaExceededError'))
    for (let frame = 0; frame < 3; frame++) session.commit(`Key ${frame}`, put(key(frame)))
    await vi.waitFor(() => expect(session.keeping.state).toBe('waiting'), { timeout: 30_000 })
    expect(notices).toHaveLength(1)
    expect(notices[0]).toMatch(/no room left on its disk.*Until the server has them, leave this tab open/)
    expect(session.unsent).toBe(0)
    server.down = false
    await settled(session)
    expect(server.log).toHaveLength(3)
    quiet.mockRestore()
  })
  it('counts a run of nudges as one step and sends it as few changes', async () => {
    const server = new FakeServer()
    const { session } = server.tab('a')
    session.commit('Key', put(key(5, 1)))
    for (let i = 0; i < 40; i++) session.commit('Nudge', put(key(5, 2 + i)), 'nudge p 5')
    expect(frames(session)).toEqual(['5:41'])
    session.undo()
    expect(frames(session)).toEqual(['5:1'])
    await settled(session)
    expect(server.log.length).toBeLessThan(6)
  })
  it('refuses what does not fit with a sentence; nothing changes', () => {
    const { session } = new FakeServer().tab('a')
    expect(() => session.commit('Key', put({ ...key(1), points: [0, 0, Number.NaN, 1] }))).toThrow(
      /coordinate must be a number/,
    )
    expect(session.unsent).toBe(0)
    expect(session.undoLabel).toBeNull()
  })
  it('takes back what the server refuses, with what was built on it, and says so', async () => {
    const server = new FakeServer()
    server.refuse = (diff) => (diff.put.some((record) => record.id === keyId('p', 2)) ? 'No key there.' : null)
    const { session, kept, notices } = server.tab('a')
    session.commit('Key 1', put(key(1)))
    session.commit('Key 2', put(key(2)))
    session.commit('Key 3', put(key(3)))
    await vi.waitFor(() => expect(notices).toHaveLength(1), { timeout: 30_000 })
    expect(notices[0]).toMatch(/"Key 2" could not be kept.*No key there/)
    await settled(session)
    expect(frames(session)).toEqual(['1:0'])
    expect(kept.size).toBe(0)
  })
  it('waits while the server is away and sends everything in order when it is back', async () => {
    const server = new FakeServer()
    server.down = true
    const { session, kept } = server.tab('a')
    session.commit('Key 1', put(key(1)))
    session.commit('Key 2', put(key(2)))
    await vi.waitFor(() =>
      expect(session.keeping).toMatchObject({ state: 'waiting', why: expect.stringMatching(/does not answer/) }),
    )
    expect(kept.size).toBe(2)
    server.down = false
    await settled(session)
    expect(server.log.map((change) => change.label)).toEqual(['Key 1', 'Key 2'])
  })
})

it('a tab that the server can not place any more keeps its changes until it is loaded anew', async () => {
  const server = new FakeServer()
  const kept: string[] = []
  const outbox = { tab: 'a', keep: async ({ id }: UnsentChange) => void kept.push(id), drop: expect.fail }
  const commit = () => Promise.reject(new ServerError(412, 'This tab knows a later state.'))
  const session = new ProjectSession('project', { revision: 9, records: [part] }, { commit, outbox, retryAfter: 5 })
  session.commit('Key', put(key(1)))
  await vi.waitFor(() => expect(session.keeping).toEqual({ state: 'waiting', why: 'This tab knows a later state.' }), {
    timeout: 30_000,
  })
  expect(frames(session)).toEqual(['1:0'])
  expect(kept).toHaveLength(1)
  expect(server.log).toEqual([])
})

describe('two tabs', () => {
  it('follow each other live and end with the same records', async () => {
    const server = new FakeServer()
    const [a, b] = [server.tab('a').session, server.tab('b').session]
    for (let i = 0; i < 20; i++) (i % 2 ? a : b).commit(`Key ${i}`, put(key(i, i)))
    await settled(a)
    await settled(b)
    expect(frames(a)).toEqual(frames(b))
    expect(frames(a)).toHaveLength(20)
    expect(a.clash).toEqual([])
  })
  it('changed the same key: the earlier one stands, the other is asked and can be put back', async () => {
    const server = new FakeServer()
    const [a, late] = [server.tab('a'), server.tab('b', false)]
    a.session.commit('Key by a', put(key(7, 1)))
    await settled(a.session)
    late.session.commit('Key by b', put(key(7, 2)))
    await vi.waitFor(() => expect(late.session.clash).toHaveLength(1), { timeout: 30_000 })
    expect(frames(late.session)).toEqual(['7:1'])
    expect(server.log).toHaveLength(1)
    expect(late.kept.size).toBe(1)
    late.session.settle(true)
    await settled(late.session)
    expect(frames(late.session)).toEqual(['7:2'])
    expect(frames(a.session)).toEqual(['7:2'])
    expect(late.kept.size).toBe(0)
  })
  it('can leave the other tab’s change as it is', async () => {
    const server = new FakeServer()
    const [a, late] = [server.tab('a'), server.tab('b', false)]
    a.session.commit('Key by a', put(key(7, 1)))
    await settled(a.session)
    late.session.commit('Key by b', put(key(7, 2)))
    await vi.waitFor(() => expect(late.session.clash).toHaveLength(1), { timeout: 30_000 })
    late.session.settle(false)
    expect(frames(late.session)).toEqual(['7:1'])
    expect(late.kept.size).toBe(0)
    expect(server.log).toHaveLength(1)
  })
  it('put back a key whose part the other tab deleted, together with the part', async () => {
    const server = new FakeServer()
    const [a, late] = [server.tab('a'), server.tab('b', false)]
    a.session.commit('Key', put(key(1, 1)))
    await settled(a.session)
    late.session.take(server.log[0]!)
    a.session.commit('Delete shaft', removePart)
    await settled(a.session)
    late.session.commit('Key by b', put(key(2, 2)))
    await vi.waitFor(() => expect(late.session.clash).toHaveLength(1), { timeout: 30_000 })
    expect(late.session.records.get('part', 'p')).toBeUndefined()
    late.session.settle(true)
    await settled(late.session)
    expect(frames(a.session)).toEqual(['1:1', '2:2'])
  })
  it('undo never overwrites what the other tab did meanwhile', async () => {
    const server = new FakeServer()
    const [a, b] = [server.tab('a'), server.tab('b')]
    a.session.commit('Key by a', put(key(4, 1)))
    await settled(a.session)
    b.session.commit('Key by b', put(key(4, 2)))
    await settled(b.session)
    a.session.undo()
    expect(a.notices[0]).toMatch(/changed in another tab since/)
    expect(frames(a.session)).toEqual(['4:2'])
  })
})

describe('many tabs', () => {
  it('with 2,000 changes end alike, nothing of different records is asked about, and a clash once', async () => {
    const server = new FakeServer()
    const tabs = ['a', 'b', 'c', 'd'].map((name) => server.tab(name))
    /** Numbers as if by chance, the same in every run: Park and Miller, CACM 31 (1988). */
    let seed = 7
    const chance = (n: number) => (seed = (seed * 48271) % 2147483647) % n
    server.slow = () => new Promise((done) => setTimeout(done, chance(4)))
    const asked = new Set<number>()
    let [contested, questions] = [0, 0]
    const edit = async (tab: number) => {
      for (let i = 0; i < 500; i++) {
        // Mostly on frames of its own, now and then on one that all of them work on.
        const own = chance(20) > 0
        if (!own) contested++
        const frame = own ? 100 * (tab + 1) + chance(80) : chance(3)
        tabs[tab]!.session.commit('Key', put(key(frame, tab * 1000 + i)))
        if (chance(3) === 0) await new Promise((done) => setTimeout(done, chance(2)))
      }
    }
    const answering = setInterval(() => {
      for (const { session } of tabs)
        if (session.clash.length) {
          questions++
          for (const record of session.clash[0]!.mine.diff.put) asked.add((record as Key).frame)
          session.settle(chance(2) === 0)
        }
    }, 1)
    await Promise.all(tabs.map((_, tab) => edit(tab)))
    await vi.waitFor(
      () => {
        const revision = server.log.length
        const now = tabs.map(({ session }) => [session.keeping.state, session.clash.length, session.revision])
        expect(now).toEqual(tabs.map(() => ['kept', 0, revision]))
      },
      { timeout: 50_000 },
    )
    clearInterval(answering)
    const states = tabs.map(({ session }) => frames(session).join(' '))
    expect(new Set(states).size).toBe(1)
    // The last word of every tab on what only it works on stands.
    for (const [tab, { session, kept }] of tabs.entries()) {
      expect(session.records.childrenOf('key', 'p').some((one) => one.frame >= 100 * (tab + 1))).toBe(true)
      expect(kept.size).toBe(0)
    }
    expect([...asked].every((frame) => frame < 3)).toBe(true)
    expect(questions).toBeGreaterThan(3)
    expect(questions).toBeLessThan(contested)
  })
  it('asks once about a record that was changed several times here', async () => {
    const server = new FakeServer()
    const [a, late] = [server.tab('a'), server.tab('b', false)]
    a.session.commit('Key by a', put(key(7, 1)))
    await settled(a.session)
    for (let i = 2; i < 6; i++) late.session.commit('Key by b', put(key(7, i)))
    await vi.waitFor(() => expect(late.session.clash).toHaveLength(1), { timeout: 30_000 })
    expect(late.kept.size).toBe(4)
    late.session.settle(true)
    await settled(late.session)
    expect(late.session.clash).toEqual([])
    expect(frames(a.session)).toEqual(['7:5'])
    expect(late.kept.size).toBe(0)
  })
})

describe('a project that is left', () => {
  it('still sends what waits, in order, and tells nobody any more', async () => {
    const server = new FakeServer()
    server.slow = () => new Promise((done) => setTimeout(done, 5))
    const { session, kept } = server.tab('a', false)
    session.commit('Key 1', put(key(1)))
    // The first is under way when the second is made.
    await vi.waitFor(() => expect(session.keeping.state).toBe('sending'))
    session.commit('Key 1 anew', put(key(1, 5)))
    let told = 0
    session.onState = () => told++
    await session.close()
    expect(server.log.map((change) => change.label)).toEqual(['Key 1', 'Key 1 anew'])
    expect([kept.size, told]).toEqual([0, 0])
  })

  it('leaves in the outbox what can not be sent, and does not try for ever', async () => {
    const server = new FakeServer()
    const { session, kept } = server.tab('a', false)
    let tries = 0
    server.slow = () => Promise.resolve(tries++)
    server.down = true
    session.commit('Key 1', put(key(1)))
    await session.close()
    const after = tries
    await new Promise((done) => setTimeout(done, 40))
    expect(tries).toBe(after)
    expect([...kept.values()].map((change) => change.label)).toEqual(['Key 1'])
  })
})

describe('changes of a closed tab', () => {
  const orphan = (n: number, base: number, diff: Diff): UnsentChange => ({
    id: `o${n}`,
    project: 'project',
    tab: 'gone',
    number: n,
    base,
    label: `Orphan ${n}`,
    diff,
  })
  it('are sent in order, though the project went on', async () => {
    const server = new FakeServer()
    await server.commit('project', { id: 'x', base: 0, label: 'other', diff: put(key(30)) })
    const dropped: string[] = []
    const outbox = { drop: async (id: string) => void dropped.push(id) }
    const answer = await sendOrphans([orphan(1, 0, put(key(1))), orphan(2, 0, put(key(1, 5)))], {
      commit: server.commit,
      outbox,
    })
    expect(answer).toEqual({ clash: [], notices: [] })
    expect(dropped).toEqual(['o1', 'o2'])
    expect(server.log.map((change) => change.label)).toEqual(['other', 'Orphan 1', 'Orphan 2'])
  })
  it('do not clash with what their own tab had sent before them', async () => {
    const server = new FakeServer()
    const { session, outbox } = server.tab('a')
    const left: UnsentChange[] = []
    outbox.keep = async (change) => void left.push(change)
    // The second one is made while the first is under way, and the tab is closed before its turn.
    session.commit('First', put(key(1, 3)))
    session.commit('Second', put(key(1, 5)))
    await settled(session)
    const [first, second] = left as [UnsentChange, UnsentChange]
    const later = new FakeServer()
    await later.commit('project', { ...first, base: 0 })
    const answer = await sendOrphans([second], { commit: later.commit, outbox: { drop: async () => {} } })
    expect(answer).toEqual({ clash: [], notices: [] })
    expect(later.log.map((change) => change.label)).toEqual(['First', 'Second'])
  })
  it.each([410, 412])('that the server can not place (%i) wait for the user, too', async (status) => {
    const dropped: string[] = []
    const apart = { commit: () => Promise.reject(new ServerError(status, 'Too far.')) }
    const outbox = { drop: async (id: string) => void dropped.push(id) }
    const { clash, notices } = await sendOrphans([orphan(1, 900, put(key(1)))], { ...apart, outbox })
    expect(clash).toMatchObject([{ mine: { label: 'Orphan 1' }, theirs: { label: 'what has happened since' } }])
    expect([dropped, notices]).toEqual([[], []])
    // Put back, it is laid over what is there now.
    const { session } = new FakeServer().tab('a')
    session.clash.push(...clash)
    session.settle(true)
    await settled(session)
    expect(frames(session)).toEqual(['1:0'])
  })
  it('that can not be laid over what is there stay in the outbox, and why is said', () => {
    const { session, notices, outbox } = new FakeServer().tab('a')
    outbox.drop = () => expect.fail('It was dropped.')
    const mine = orphan(1, 0, put({ ...key(1), points: [0, 0, Number.NaN, 1] }))
    const theirs = { id: 'x', revision: 0, label: 'other', diff: put() }
    session.clash.push({ mine, unsent: [mine], theirs, theirsBack: put() })
    session.settle(true)
    expect(notices).toEqual([expect.stringMatching(/coordinate must be a number/)])
    expect(session.clash).toEqual([])
  })
  it('that clash wait for the user; those that fit no more are named', async () => {
    const server = new FakeServer()
    await server.commit('project', { id: 'x', base: 0, label: 'other', diff: put(key(1, 9)) })
    server.refuse = (diff) => (diff.put.some((record) => record.id === keyId('p', 3)) ? 'Its part is gone.' : null)
    const dropped: string[] = []
    const outbox = { drop: async (id: string) => void dropped.push(id) }
    const answer = await sendOrphans([orphan(1, 0, put(key(1, 5))), orphan(2, 0, put(key(3)))], {
      commit: server.commit,
      outbox,
    })
    expect(answer.clash.map((one) => one.mine.id)).toEqual(['o1'])
    expect(answer.notices[0]).toMatch(/"Orphan 2", which was not sent in time, could not be kept: Its part is gone/)
    expect(dropped).toEqual(['o2'])
  })
})
