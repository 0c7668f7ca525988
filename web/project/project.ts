import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { toast } from 'vue-sonner'
import type { Diff, RecordRef } from '#core/records/diff.ts'
import type { StoredChange } from '#core/records/exchange.ts'
import { isSound, type Key, matteElsewhere, type RecordType, type RecordTypes } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { press } from '../ui/press.ts'
import { attend, tell } from '../ui/troubles.ts'
import { api } from './api.ts'
import type { Binned } from './bin.ts'
import { changeWithMattes, withMattes } from './mattes.ts'
import { Outbox } from './outbox.ts'
import { type Clash, type Keeping, ProjectSession, sendOrphans } from './session.ts'
import { stableList } from './stable.ts'

export const outbox = new Outbox()
const world = {
  async commit(...given: Parameters<typeof api.commit>) {
    const answer = await api.commit(...given)
    return { ...answer, newer: await Promise.all(answer.newer.map(changeWithMattes)) }
  },
  outbox,
  retryAfter: 2000,
}

const byName = new Intl.Collator('en', { numeric: true, sensitivity: 'base' })

/** The open project for the interface: records to read, one way to change them, and how well they are kept. */
export const useProject = defineStore('project', () => {
  const session = shallowRef<ProjectSession | null>(null)
  /** Counts changes of the records: what is computed from records reads it. */
  const version = ref(0)
  const keeping = shallowRef<Keeping>({ state: 'kept' })
  const clash = shallowRef<Clash | null>(null)
  const undoLabel = ref<string | null>(null)
  const redoLabel = ref<string | null>(null)
  const unsent = ref(0)
  /** Counts changes of the undo steps. */
  const steps = ref(0)
  const subscribers = new Set<(diff: Diff, inverse: Diff) => void>()
  let live: EventSource | null = null
  /** Projects that were left and still send. */
  const leaving = new Map<string, Promise<void>>()
  /** Shots whose mattes are here. */
  const loaded = new Set<string>()

  const readState = () => {
    const now = session.value
    keeping.value = now?.keeping ?? { state: 'kept' }
    clash.value = now?.clash[0] ?? null
    undoLabel.value = now?.undoLabel ?? null
    redoLabel.value = now?.redoLabel ?? null
    unsent.value = now?.unsent ?? 0
    steps.value++
  }

  async function open(id: string): Promise<void> {
    if (session.value?.project === id) return
    close()
    // What was changed last has to be in it.
    await leaving.get(id)
    const { clash: left, notices } = await sendOrphans(await outbox.orphans(id), world)
    const opened = new ProjectSession(id, await api.openProject(id), world)
    opened.clash.push(...left)
    opened.onChange = (diff, inverse) => {
      version.value++
      for (const told of subscribers) told(diff, inverse)
    }
    opened.onState = readState
    opened.onNotice = (sentence) => toast.warning(sentence, { duration: 12_000 })
    notices.forEach((sentence) => toast.warning(sentence, { duration: 12_000 }))
    session.value = opened
    version.value++
    readState()
    attend(
      api.history(id, opened.revision).then((past) => opened.remember(past)),
      say`read what was done before`,
    )
    live = new EventSource(`/api/projects/${id}/live?since=${opened.revision}`)
    live.onmessage = (event) =>
      attend(
        changeWithMattes(JSON.parse(event.data as string) as StoredChange).then((change) => opened.take(change)),
        say`take the change of another tab`,
      )
  }

  /** Brings in the mattes of some shots, which did not come with the project. */
  async function loadMattes(shots: readonly string[]): Promise<void> {
    const of = session.value
    if (!of) return
    for (const shot of shots) loaded.add(shot)
    const { records } = of
    const parts = shots
      .flatMap((shot) => records.childrenOf('member', shot))
      .flatMap((member) => records.childrenOf('part', member.id))
    const keys = parts.flatMap((part) => records.childrenOf('key', part.id)).filter(matteElsewhere)
    if (keys.length) of.fill(await withMattes(keys))
  }

  function close(): void {
    live?.close()
    loaded.clear()
    if (session.value) {
      const { project } = session.value
      const sent = session.value.close().finally(() => leaving.delete(project))
      leaving.set(project, sent)
      attend(sent, say`send the change`)
    }
    session.value = null
    readState()
  }

  /**
   * Returns whether the change was made; where it is not allowed the user is told why. What a pointer changes from its press to its
   * release is one step, however long it rests; the next press begins another.
   */
  function commit(label: string, diff: Diff, group = '', within?: number): boolean {
    const ofPress = group !== '' && within === undefined
    const step = ofPress ? `${group} ${press.count}` : group
    try {
      session.value?.commit(label, plain(diff), step, ofPress && press.held ? Infinity : within)
      return true
    } catch (error) {
      tell(error, say`make the change “${label}”`)
      return false
    }
  }

  /**
   * Deletes records, and offers to bring them back where it says so. `name`: what is gone, at the beginning of a sentence. Returns
   * whether it was done.
   */
  function remove(label: string, name: string, refs: RecordRef[]): boolean {
    const gone = refs.flatMap((ref) => session.value?.records.get(ref.type, ref.id) ?? [])
    if (!commit(label, { put: [], remove: refs })) return false
    const [step] = history.value.slice(-1)
    const bringBack = () => {
      // What was done since stays.
      const last = history.value.findLast(({ done }) => done)
      if (last && last.id === step?.id) goOver(() => session.value?.undo())
      else commit(say`Bring back ${name}`, { put: gone, remove: [] })
    }
    toast(say`${name} is deleted.`, { duration: 15_000, action: { label: say`Undo`, onClick: bringBack } })
    return true
  }

  /** Takes something out of the bin: it is there again as it was deleted, and what was done since stays. */
  const takeOut = ({ record, put }: Binned) =>
    goOver(() => void commit(say`Bring back ${record.name}`, { put, remove: [] }))

  /** Goes over steps; the pixels of what comes back from before the page was opened are fetched. */
  function goOver(go: () => void): void {
    const bare: Key[] = []
    const hear = ({ put }: Diff) => {
      for (const record of put) if (record.type === 'key' && matteElsewhere(record)) bare.push(record)
    }
    subscribers.add(hear)
    try {
      go()
    } finally {
      subscribers.delete(hear)
    }
    const shotOf = (key: Key) => {
      const part = get('part', key.part)
      return part && get('member', part.member)?.shot
    }
    const known = new Set(loaded)
    const wanted = [...new Set(bare.flatMap((key) => shotOf(key) ?? []))].filter((shot) => known.has(shot))
    if (wanted.length) attend(loadMattes(wanted), say`fetch the pixels of a matte`)
  }

  /** The records, for reading; called in a computed it follows their changes. */
  const records = () => {
    void version.value
    return session.value?.records ?? null
  }
  const get = <T extends RecordType>(type: T, id: string): RecordTypes[T] | null => {
    void version.value
    return session.value?.records.get(type, id) ?? null
  }
  const childrenOf = <T extends RecordType>(type: T, parent: string): readonly RecordTypes[T][] => {
    void version.value
    return session.value?.records.childrenOf(type, parent) ?? []
  }
  const all = <T extends RecordType>(type: T): RecordTypes[T][] => {
    void version.value
    return session.value?.records.all(type) ?? []
  }
  const history = computed(() => {
    void steps.value
    return session.value?.history ?? []
  })
  const bin = computed(() => {
    void steps.value
    return session.value?.bin ?? []
  })
  const project = computed(() => all('project')[0] ?? null)
  const shots = stableList(() => all('shot'))
  /** Clips, stills and sequences by their names, take 9 before take 10: nothing says when they came in. */
  const media = stableList(() => [...all('media')].sort((a, b) => byName.compare(a.name, b.name)))
  /** Media with a picture. */
  const clips = stableList(() => media.value.filter((one) => !isSound(one)))

  return {
    ...{
      session,
      version,
      keeping,
      clash,
      undoLabel,
      redoLabel,
      unsent,
      history,
      bin,
      records,
      project,
      shots,
      media,
      clips,
    },
    ...{ open, close, commit, remove, takeOut, loadMattes, get, childrenOf, all },
    undo: () => goOver(() => session.value?.undo()),
    redo: () => goOver(() => session.value?.redo()),
    goTo: (id: string) => goOver(() => session.value?.goTo(id)),
    nameStage: (name: string) => session.value?.nameStage(name),
    settle: (keepMine: boolean) => session.value?.settle(keepMine),
    /** Calls back after every change of the records; returns the way to stop. */
    subscribe(callback: (diff: Diff, inverse: Diff) => void): () => void {
      subscribers.add(callback)
      return () => subscribers.delete(callback)
    },
  }
})

/** More records than this come from the records themselves, never from a control. */
const fromControls = 500

/** The change as plain data: what a control hands over may be wrapped by Vue, and no worker or database takes that. */
const plain = (diff: Diff): Diff => (diff.put.length > fromControls ? diff : (JSON.parse(JSON.stringify(diff)) as Diff))

/** A short random id for a new record. */
export const newId = (): string => crypto.randomUUID().slice(0, 13)
