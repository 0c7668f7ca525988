import { checks } from '#core/checks.ts'
import { clashes, composeDiffs, type Diff, refKey } from '#core/records/diff.ts'
import type { CommitAnswer, PastChange, StepOfChange, StoredChange } from '#core/records/exchange.ts'
import { Records } from '#core/records/records.ts'
import { type AnyRecord, type Key, matteElsewhere, parentField } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { attend, sentenceOf } from '../ui/troubles.ts'
import { type Binned, binOf } from './bin.ts'
import { ServerError } from './api.ts'
import type { UnsentChange } from './outbox.ts'
import { type HistoryEntry, sameRecord, type Step, stepsOf } from './steps.ts'

/** What the session needs of the world; tests put their own in. */
export interface SessionWorld {
  commit(
    project: string,
    change: { id: string; base: number; label: string; diff: Diff; step?: StepOfChange },
  ): Promise<CommitAnswer>
  outbox: {
    tab: string
    keep(change: UnsentChange): Promise<void>
    drop(id: string): Promise<void>
  }
  /** Milliseconds until an unanswered change is sent again. */
  retryAfter: number
}

/** A change of this tab that met a different one of another tab. The other one stands; this one waits for a word. */
export interface Clash {
  /** Of several changes to the same records what they come to: they are asked about once. */
  mine: UnsentChange
  /** The changes that lie in the outbox for it. */
  unsent: UnsentChange[]
  theirs: StoredChange
  /** Takes the other tab's change back; empty where it is not known any more. */
  theirsBack: Diff
}

export type Keeping = { state: 'kept' } | { state: 'sending' } | { state: 'waiting'; why: string }

interface Pending {
  change: UnsentChange
  back: Diff
  inFlight: boolean
  /** Whether it is on the browser's disk: what is not yet would be lost with the tab. */
  stored: boolean
}
const keeping = say`keep changes in this browser`
const emptyDiff: Diff = { put: [], remove: [] }
/** Changes of one group are one undo step while no longer pause than this lies between them (ms). */
const groupPause = 800
/** More records than this are checked by the server alone: the interface must not wait for it. */
const checkedHere = 500

/**
 * The open project in one tab: its records, the one way to change them, undo and redo, and the exchange with the
 * server. Whatever happens shows at once here; what is not acknowledged lies in the outbox until it is.
 */
export class ProjectSession {
  readonly project: string
  readonly records: Records
  revision: number
  keeping: Keeping = { state: 'kept' }
  clash: Clash[] = []
  /** Called after every change of the records, with what takes it back. */
  onChange: (diff: Diff, inverse: Diff) => void = () => {}
  /** Called when `keeping`, `clash` or the undo steps changed. */
  onState: () => void = () => {}
  /** A sentence for the user. */
  onNotice: (sentence: string) => void = () => {}

  private readonly world: SessionWorld
  private readonly pending: Pending[] = []
  private readonly early = new Map<number, StoredChange>()
  private undoSteps: Step[] = []
  private redoSteps: Step[] = []
  private sending: Promise<void> | null = null
  private later: ReturnType<typeof setTimeout> | undefined
  private closed = false
  private made = 0
  /** What the ids of its changes have in common. */
  private readonly line = crypto.randomUUID()
  /** Whether the user knows that changes are not on the browser's disk. */
  private toldUnstored = false

  constructor(project: string, opened: { revision: number; records: AnyRecord[] }, world: SessionWorld) {
    this.project = project
    this.revision = opened.revision
    this.records = new Records(opened.records)
    this.world = world
  }

  get undoLabel(): string | null {
    return this.undoSteps.findLast((step) => !step.stage)?.label ?? null
  }
  get redoLabel(): string | null {
    return this.redoSteps.findLast((step) => !step.stage)?.label ?? null
  }
  /** All that can be gone back and forward to, oldest first. */
  get history(): HistoryEntry[] {
    const entry = (done: boolean) => (step: Step) => {
      const { id, label, at, stage } = step
      return { id, label, at, stage, done }
    }
    return [...this.undoSteps.map(entry(true)), ...this.redoSteps.map(entry(false)).reverse()]
  }
  /** Members and parts that were deleted, the latest first. */
  get bin(): Binned[] {
    return binOf(this.undoSteps, this.records)
  }
  /** Changes that wait in the outbox: only those are counted that are on the browser's disk already. */
  get unsent(): number {
    return this.pending.filter((entry) => entry.stored).length
  }

  /**
   * Nobody looks at it any more. What waits is still sent, but not tried again: what can not be sent stays in the outbox. Ends when
   * nothing is under way.
   */
  async close(): Promise<void> {
    this.closed = true
    this.onChange = () => {}
    this.onState = () => {}
    clearTimeout(this.later)
    await this.send()
  }

  /**
   * The one way to change anything. Throws an Error with a sentence where the change is not allowed; nothing has
   * changed then. `group` joins quick successions (a drag of a slider, a run of nudges) to one step.
   */
  commit(label: string, diff: Diff, group = '', within = groupPause): void {
    if (diff.put.length + diff.remove.length === 0) return
    if (diff.put.length <= checkedHere) checks.diff(diff)
    const back = this.apply(diff)
    const last = this.undoSteps.at(-1)
    const now = Date.now()
    let id: string
    if (last && group && last.group === group && now - last.at < within) {
      last.forward = composeDiffs(last.forward, diff)
      last.back = composeDiffs(back, last.back)
      last.at = now
      id = last.id
    } else {
      id = crypto.randomUUID()
      this.undoSteps.push({ id, label, forward: diff, back, group, at: now, stage: false })
    }
    this.redoSteps = []
    this.enqueue(label, diff, back, { id, way: 'do' })
  }

  /** Gives the state of now a name, to go back to. */
  nameStage(name: string): void {
    const id = crypto.randomUUID()
    this.undoSteps.push({
      id,
      label: name,
      forward: emptyDiff,
      back: emptyDiff,
      group: '',
      at: Date.now(),
      stage: true,
    })
    this.enqueue(name, emptyDiff, emptyDiff, { id, way: 'stage' })
  }

  /**
   * Takes over what was done before the project was opened here, oldest first: it can be undone, too. What was undone then can be
   * done again as long as nothing else was done here.
   */
  remember(past: readonly PastChange[]): void {
    const { undo, redo } = stepsOf(past)
    if (this.undoSteps.length + this.redoSteps.length === 0) this.redoSteps = redo
    this.undoSteps = [...undo, ...this.undoSteps]
    this.onState()
  }

  /** Goes back, or forward again, until this step is the last one that is done; '' for before all of them. */
  goTo(id: string): void {
    const isDone = id === '' || this.undoSteps.some((step) => step.id === id)
    const there = () => (id === '' ? this.undoSteps.length === 0 : this.undoSteps.at(-1)?.id === id)
    // One that can not be gone over ends the way, and has said so.
    while (!there())
      if (
        !(isDone
          ? this.step(this.undoSteps, this.redoSteps, 'undo')
          : this.step(this.redoSteps, this.undoSteps, 'redo'))
      )
        return
  }

  /** Puts the pixels of mattes into keys that came without them; that is no change. */
  fill(keys: readonly Key[]): void {
    const put = keys.filter((key) => {
      const now = this.records.get('key', key.id)
      return now && matteElsewhere(now) && !matteElsewhere(key)
    })
    if (put.length) this.apply({ put, remove: [] })
  }

  undo(): void {
    this.steps(this.undoSteps, this.redoSteps, 'undo')
  }

  redo(): void {
    this.steps(this.redoSteps, this.undoSteps, 'redo')
  }

  /** One step, over the names that stand before it. */
  private steps(from: Step[], to: Step[], way: 'undo' | 'redo'): void {
    while (from.at(-1)?.stage) this.step(from, to, way)
    this.step(from, to, way)
  }

  /** Goes over one step; returns false where it can not be gone over: it is left out then. */
  private step(from: Step[], to: Step[], way: 'undo' | 'redo'): boolean {
    const step = from.pop()
    if (!step) return false
    if (step.stage) {
      to.push(step)
      this.onState()
      return true
    }
    if (!this.standsAs(step.forward)) {
      this.onNotice(
        say`"${step.label}" was changed in another tab since; ${way === 'undo' ? say`undo` : say`redo`} would overwrite that and was left out.`,
      )
      this.onState()
      return false
    }
    const back = this.apply(step.back)
    to.push({ ...step, forward: step.back, back, group: '' })
    this.enqueue(`${way === 'undo' ? say`Undo` : say`Redo`}: ${step.label}`, step.back, back, { id: step.id, way })
    return true
  }

  /** Whether everything the diff touched is still as the diff left it. */
  private standsAs(diff: Diff): boolean {
    return (
      diff.put.every((record) => sameRecord(this.records.get(record.type, record.id), record)) &&
      diff.remove.every((ref) => this.records.get(ref.type, ref.id) === undefined)
    )
  }

  private apply(diff: Diff): Diff {
    const back = this.records.apply(diff)
    this.onChange(diff, back)
    return back
  }

  private enqueue(label: string, diff: Diff, back: Diff, step: StepOfChange): void {
    const last = this.pending.at(-1)
    if (last && last.change.step?.id === step.id && step.way === 'do' && !last.inFlight) {
      last.change = { ...last.change, diff: composeDiffs(last.change.diff, diff) }
      last.back = composeDiffs(back, last.back)
      attend(this.store(last), keeping)
    } else {
      const { tab } = this.world.outbox
      const change: UnsentChange = {
        id: changeId(this.line, this.made),
        project: this.project,
        tab,
        number: this.made++,
        base: this.revision,
        label,
        diff,
        step,
      }
      const entry: Pending = { change, back, inFlight: false, stored: false }
      this.pending.push(entry)
      attend(this.store(entry), keeping)
    }
    if (this.keeping.state === 'kept') this.setKeeping({ state: 'sending' })
    else this.onState()
    // What was changed shows first: sending takes the page some milliseconds.
    this.sendLater(0)
  }

  private async store(entry: Pending): Promise<void> {
    entry.stored = false
    const { change } = entry
    try {
      await this.world.outbox.keep(change)
    } catch (error) {
      if (!this.toldUnstored)
        this.onNotice(say`${sentenceOf(error, keeping)} Until the server has them, leave this tab open.`)
      this.toldUnstored = true
      return
    }
    if (entry.change !== change) return
    entry.stored = true
    this.onState()
  }

  /** What the server has, or will never take, need not outlive the tab. */
  private forget(change: UnsentChange): void {
    attend(this.world.outbox.drop(change.id), say`tidy up among unsent changes`)
  }

  /** Sends what waits, one after the other. */
  private send(): Promise<void> {
    this.sending ??= this.sendPending().finally(() => (this.sending = null))
    return this.sending
  }

  private async sendPending(): Promise<void> {
    try {
      while (this.pending.length) {
        const entry = this.pending[0]!
        entry.inFlight = true
        const { id, label, diff, step } = entry.change
        const answer = await this.world.commit(this.project, {
          ...{ id, base: this.revision, label, diff },
          ...(step ? { step } : {}),
        })
        answer.newer.forEach((change) => this.take(change))
        if (answer.accepted) this.take({ id, revision: answer.revision, label, diff })
        // An answer to a repeated change can run ahead of what this tab has heard; the live line fills the gap.
        if (answer.accepted && this.pending[0] === entry)
          return this.sendAgain(say`Waiting for the changes of another tab.`)
      }
      this.setKeeping({ state: 'kept' })
    } catch (error) {
      const entry = this.pending[0]
      if (entry) entry.inFlight = false
      const status = error instanceof ServerError ? error.status : 0
      const why = error instanceof Error ? error.message : String(error)
      if (status === 0 || status >= 500 || !entry) this.sendAgain(why)
      // Nothing of this tab fits until it is loaded anew; then what waits is asked about.
      else if (isApart(error)) this.setKeeping({ state: 'waiting', why })
      else {
        this.refused(entry, why)
        this.sendLater(0)
      }
    }
  }

  private sendLater(ms: number): void {
    clearTimeout(this.later)
    this.later = setTimeout(() => attend(this.send(), say`send the change`), ms)
  }

  private sendAgain(why: string): void {
    this.setKeeping({ state: 'waiting', why })
    if (!this.closed) this.sendLater(this.world.retryAfter)
  }

  /** The server will never take this change: it is taken back here, with all that was built on it. */
  private refused(entry: Pending, why: string): void {
    const undone = this.pending.splice(this.pending.indexOf(entry))
    for (const { change, back } of undone.reverse()) {
      this.apply(back)
      this.forget(change)
    }
    this.undoSteps = []
    this.redoSteps = []
    this.onNotice(say`"${entry.change.label}" could not be kept and was taken back: ${why}`)
    this.onState()
  }

  /** A change that the server has in its log, from an answer or from the live line, in any order. */
  take(change: StoredChange): void {
    if (change.revision <= this.revision) return
    this.early.set(change.revision, change)
    for (let next = this.early.get(this.revision + 1); next; next = this.early.get(this.revision + 1)) {
      this.early.delete(next.revision)
      this.revision = next.revision
      const own = this.pending.findIndex((entry) => entry.change.id === next.id)
      if (own >= 0) this.forget(this.pending.splice(own, 1)[0]!.change)
      else this.takeOver(next)
    }
    this.onState()
  }

  /** Another tab's change: it goes below what is pending here; what can not stand on it is put aside. */
  private takeOver(theirs: StoredChange): void {
    const apart = this.pending.filter((entry) => clashes(entry.change.diff, theirs.diff).length > 0)
    if (apart.length === 0) return void this.apply(theirs.diff)
    const before = this.pending.splice(0)
    for (const entry of [...before].reverse()) this.apply(entry.back)
    const theirsBack = this.apply(theirs.diff)
    for (const entry of before) {
      if (apart.includes(entry)) addClash(this.clash, entry.change, theirs, theirsBack)
      else this.pending.push({ ...entry, back: this.apply(entry.change.diff), inFlight: false })
    }
  }

  /** Settles the oldest clash: the other tab's change stays, or this tab's is laid over it again. */
  settle(keepMine: boolean): void {
    const clash = this.clash.shift()
    if (!clash) return
    try {
      if (keepMine) this.commit(clash.mine.label, over(this.records, clash))
      // Not before: what could not be laid over again stays in the outbox.
      clash.unsent.forEach((change) => this.forget(change))
    } catch (error) {
      this.onNotice(sentenceOf(error, say`put your change back`))
    }
    this.onState()
  }

  private setKeeping(keeping: Keeping): void {
    this.keeping = keeping
    this.onState()
  }
}

/**
 * Whether the server can not tell what has happened since the state that a change is based on: it is too long ago, or the
 * shelf went back to a backup since.
 */
const isApart = (error: unknown): boolean => error instanceof ServerError && [410, 412].includes(error.status)
/** Stands for all that has happened then. */
const muchSince: StoredChange = { id: '', revision: 0, label: say`what has happened since`, diff: emptyDiff }

/** Puts a clash on the list; one about records that are asked about already joins that question. */
function addClash(list: Clash[], mine: UnsentChange, theirs: StoredChange, theirsBack: Diff): void {
  const touched = new Set([...mine.diff.put, ...mine.diff.remove].map(refKey))
  const open = list.find((one) =>
    [...one.mine.diff.put, ...one.mine.diff.remove].some((ref) => touched.has(refKey(ref))),
  )
  if (!open) return void list.push({ mine, unsent: [mine], theirs, theirsBack })
  open.mine = { ...mine, diff: composeDiffs(open.mine.diff, mine.diff) }
  open.unsent.push(mine)
  open.theirs = theirs
  open.theirsBack = composeDiffs(theirsBack, open.theirsBack)
}

/** This tab's change as it has to look now that the other one stands, with what the other one removed below it. */
function over(records: Records, { mine, theirsBack }: Clash): Diff {
  const there = new Set(mine.diff.put.map(refKey))
  const lost = mine.diff.put.some((record) => {
    const parent = parentField[record.type]
    if (!parent) return false
    const id = (record as unknown as Record<string, string>)[parent.field]!
    return !records.get(parent.type, id) && !there.has(refKey({ type: parent.type, id }))
  })
  const restored = lost ? theirsBack.put.filter((record) => !records.get(record.type, record.id)) : []
  return composeDiffs(
    { put: restored, remove: [] },
    {
      put: mine.diff.put,
      remove: records.withDescendants(mine.diff.remove.filter((ref) => records.get(ref.type, ref.id))),
    },
  )
}

/** The id of a change: a UUID whose last part counts the changes of one session. */
const changeId = (line: string, made: number): string => line.slice(0, -12) + made.toString(16).padStart(12, '0')
/** Whether two changes were made in one session, each on top of those before it. */
const sameLine = (one: string, other: string): boolean => one.length === 36 && one.slice(0, -12) === other.slice(0, -12)

/**
 * Sends what closed tabs, and this one before it left the project, could not send any more. Returns those that clash with what happened since; they stay in
 * the outbox until the user has decided. Changes that no longer fit are named in `notices` and dropped.
 */
export async function sendOrphans(
  orphans: UnsentChange[],
  world: Pick<SessionWorld, 'commit'> & { outbox: Pick<SessionWorld['outbox'], 'drop'> },
): Promise<{ clash: Clash[]; notices: string[] }> {
  const clash: Clash[] = []
  const notices: string[] = []
  const own = new Set(orphans.map((change) => change.id))
  for (const change of orphans) {
    let base = change.base
    try {
      for (;;) {
        const answer = await world.commit(change.project, {
          id: change.id,
          base,
          label: change.label,
          diff: change.diff,
          ...(change.step ? { step: change.step } : {}),
        })
        if (answer.accepted) break
        const theirs = answer.newer.find(
          ({ id, diff }) => !own.has(id) && !sameLine(id, change.id) && clashes(change.diff, diff).length > 0,
        )
        if (theirs) {
          addClash(clash, change, theirs, emptyDiff)
          break
        }
        base = answer.revision
      }
      if (!clash.some((one) => one.unsent.includes(change))) await world.outbox.drop(change.id)
    } catch (error) {
      if (isApart(error)) {
        addClash(clash, change, muchSince, emptyDiff)
        continue
      }
      if (!(error instanceof ServerError) || error.status === 0 || error.status >= 500) break
      notices.push(say`"${change.label}", which was not sent in time, could not be kept: ${error.message}`)
      await world.outbox.drop(change.id)
    }
  }
  return { clash, notices }
}
