import { useLocalStorage } from '@vueuse/core'
import * as Comlink from 'comlink'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { toast } from 'vue-sonner'
import { wholeMix } from '#core/parameters/drives.ts'
import type { Diff } from '#core/records/diff.ts'
import type { AnyRecord, Media, Sound } from '#core/records/types.ts'
import { soundKind } from '#core/sound/catalogue.ts'
import { barSize } from '#core/sound/overview.ts'
import { soundRate } from '#core/sound/signal/stereo.ts'
import { clockOf } from '#core/soundtrack/lanes.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { say } from '#core/say.ts'
import { heard } from '../language/heard.ts'
import { timesOf } from '../frames/clipOf.ts'
import playerAddress from '../frames/player.worklet.ts?worker&url'
import type { LaneView, Loud } from '../frames/sound.worker.ts'
import type { SoundOrder } from '../frames/soundMix.ts'
import { shotOrder } from '../frames/soundOrder.ts'
import {
  leaveOut,
  meterAt,
  meterNumbers,
  passedIn,
  ringBytes,
  ringHead,
  ringIn,
  type SoundRing,
} from '../frames/soundRing.ts'
import { startSound } from '../frames/start.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'
import { useOpenShot } from './openShot.ts'
import type { HeardClock } from './pictureClock.ts'
import { usePlayback } from './playback.ts'
import { Waveform } from './sheet/waveform.ts'

const doing = say`mix the sound`
/** What can be changed without anything being heard otherwise. */
const unheard: ReadonlySet<AnyRecord['type']> = new Set(['effect', 'look', 'mark', 'project'])
/** Milliseconds after a change until the whole is gone through once more. */
const calm = 250

/** What is heard of the open shot: the worker that mixes, the player, and what the lanes look like. */
export const useHearing = defineStore('hearing', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()

  /** Whether playing sounds, in every step. */
  const on = useLocalStorage('wisp-sound', true)
  /** Why nothing is heard though it should be, in a sentence; empty while all is well. */
  const trouble = ref('')
  const views = shallowRef<ReadonlyMap<string, LaneView>>(new Map())
  /** How high each sound is, from the shot's first sample on. */
  const bars = shallowRef<ReadonlyMap<string, Waveform>>(new Map())
  const loud = shallowRef<Loud | null>(null)
  /** Sounds that alone are heard, while somebody listens so. */
  const alone = ref<string[]>([])
  /** Whether every frame that the playhead comes to is heard for a moment. */
  const scrubs = ref(false)

  const worker = startLater()
  /** The way to the loudspeakers, as soon as somebody asked for it. */
  let way: Promise<AudioWorkletNode> | null = null
  let player: AudioWorkletNode | null = null
  let ring: SoundRing | null = null
  /** Where the ring's first sample lies, and the loop that it goes round in. */
  let begun = 0
  let round: { from: number; to: number } | null = null
  let looked: ReturnType<typeof setTimeout> | undefined
  const knownTimes = new Map<string, number[]>()

  const clock = computed(() => (opened.shot && opened.media ? clockOf(opened.shot, opened.media, opened.times) : null))
  const sounds = computed(() => {
    void project.version
    return opened.shot ? soundsOf(project.records()!, opened.shot) : []
  })
  /** What a sound is called: by its clip or file, else by its voice. */
  const titleOf = (sound: Sound): string => {
    if (sound.kind === 'own') return opened.media?.name ?? say`Sound of the clip`
    if (sound.kind !== 'file') return soundKind(sound.kind).title
    const [first] = sound.takes
    return (first && project.get('media', first)?.name) || say`a file that is gone`
  }
  /** What the source of a drive by loudness is called: a clip, a sound of the shot, or all of them. */
  function sourceName(id: string): string {
    if (!id) return say`its own clip`
    if (id === wholeMix) return say`all sounds here`
    const sound = project.get('sound', id)
    const whom = sound && project.get('member', sound.target)?.name
    if (sound) return `${titleOf(sound)}${whom ? say` of ${whom}` : say`, as heard here`}`
    return project.get('media', id)?.name ?? say`a sound that is gone`
  }
  const silent = computed(() => !on.value || sounds.value.length === 0)

  /** What the worker is to mix; the times of other clips are asked for once. */
  const orderNow = async (): Promise<SoundOrder> =>
    (await shotOrder(project.records()!, opened.shotId, timesKnown)) ?? { shots: [], addresses: {} }
  async function timesKnown(media: Media): Promise<number[]> {
    if (media.id === opened.media?.id) return opened.times
    const known = knownTimes.get(media.hash) ?? (await timesOf(media))
    knownTimes.set(media.hash, known)
    return known
  }

  function startLater() {
    let running: ReturnType<typeof startSound> | null = null
    let shot = ''
    /** The open shot is in the worker once this is over. */
    let begun = Promise.resolve()
    return {
      /** The worker, with the open shot in it; null while none is open. */
      async of() {
        if (!opened.shotId || !opened.times.length) return null
        if (!running || shot !== opened.shotId) {
          const { remote } = (running ??= startSound())
          const id = (shot = opened.shotId)
          const starting = async () => {
            const order = await orderNow()
            take(await remote.start([...project.records()!.values()], order, Comlink.proxy(take)))
          }
          begun = starting().catch((error: unknown) => {
            // The next one who asks tries anew.
            if (shot === id) shot = ''
            throw error
          })
        }
        const { remote } = running
        await begun
        return remote
      },
      get running() {
        return shot === opened.shotId ? (running?.remote ?? null) : null
      },
      leave() {
        shot = ''
        running?.stop()
        running = null
      },
    }
  }

  /** What the worker says of the lanes; then all of it is gone through once more. */
  function take(list: LaneView[]): void {
    views.value = new Map(list.map((view) => [view.id, view]))
    clearTimeout(looked)
    // Only where somebody looks at the lanes.
    if (scrubs.value) looked = setTimeout(() => attend(look(), say`look at the sound`), calm)
  }

  async function look(): Promise<void> {
    const remote = worker.running
    const length = Math.round(clock.value?.end ?? 0)
    if (!remote || !length) return
    const { shotId } = opened
    const count = Math.ceil(length / barSize)
    const known = new Map([...bars.value].filter(([, lane]) => lane.length === count))
    await remote.look(
      length,
      Comlink.proxy((pieces) => {
        if (opened.shotId !== shotId) return
        for (const { id, from, bars: some } of pieces) {
          // What is not known yet stays as it was.
          const lane = known.get(id) ?? new Waveform(count)
          lane.set(from, some)
          known.set(id, lane)
        }
        bars.value = new Map(known)
      }),
      Comlink.proxy((now) => {
        if (opened.shotId === shotId) loud.value = now
      }),
    )
  }

  /** Opens the lanes, for who shows them. */
  function open(): void {
    const opening = async () => {
      const known = worker.running
      await worker.of()
      // They were mixed already, but not looked at.
      if (known && scrubs.value) await look()
    }
    attend(opening(), doing)
  }

  /** The worker has heard of every change once this is over. */
  let changed = Promise.resolve()
  project.subscribe((diff: Diff) => {
    const remote = worker.running
    if (!remote || ![...diff.put, ...diff.remove].some(({ type }) => !unheard.has(type))) return
    const changing = async () => take(await remote.change(diff, await orderNow()))
    const mine = changing()
    attend(mine, doing)
    // Who waits for it goes on also where it failed: that was told already.
    changed = mine.catch(() => {})
  })

  /** How loud a sound of a shot, or its mix, is on every frame. */
  async function levelsOf(shot: string, of: string) {
    const remote = await worker.of()
    await changed
    const records = project.records()
    const order = remote && records && (await shotOrder(records, shot, timesKnown))
    return order ? remote.levels(order, of) : null
  }
  opened.pictures.hearBy(levelsOf)
  watch(
    () => opened.shotId,
    () => {
      end()
      worker.leave()
      views.value = bars.value = new Map()
      loud.value = null
      alone.value = []
    },
    { flush: 'sync' },
  )
  watch(
    () => [opened.shotId, opened.times] as const,
    ([, times]) => {
      if (scrubs.value && times.length) open()
    },
  )
  watch(alone, async (ids) => {
    const remote = worker.running
    if (remote) take(await remote.hearAlone([...ids]))
  })

  /** Opens the way to the loudspeakers. Throws where there is none. */
  async function openSpeakers(): Promise<AudioWorkletNode> {
    // Whoever makes the first context waits, with the page's thread, until the browser has looked for devices: it has looked here.
    await navigator.mediaDevices?.enumerateDevices().catch(() => [])
    const context = new AudioContext({ sampleRate: soundRate, latencyHint: 'interactive' })
    try {
      await context.audioWorklet.addModule(playerAddress)
      player = new AudioWorkletNode(context, 'player', { numberOfInputs: 0, outputChannelCount: [2] })
      player.connect(context.destination)
      return player
    } catch (error) {
      void context.close().catch(() => {})
      throw error
    }
  }
  /** The way to the loudspeakers; null where there is none, and why is said. */
  async function speakers(): Promise<AudioWorkletNode | null> {
    try {
      const out = await (way ??= openSpeakers())
      const context = out.context as AudioContext
      // A browser that wants a click first answers when it has come: nobody waits for it.
      if (context.state !== 'running')
        await Promise.race([context.resume(), new Promise((done) => setTimeout(done, 300))])
      trouble.value =
        context.state === 'running'
          ? ''
          : say`The browser lets nothing sound before a click into the page. Click, then play again.`
      return context.state === 'running' ? out : null
    } catch (error) {
      console.error(error)
      way = player = null
      trouble.value = say`No sound device can be opened. Playing goes on without sound; check that one is connected.`
      return null
    }
  }

  /** Whether something can sound; resolves when it could at once. */
  async function ready(frame: number): Promise<boolean> {
    if (silent.value || !clock.value) return false
    const remote = (await speakers()) && (await worker.of())
    if (!remote || !clock.value) return false
    await remote.warm(Math.round(clock.value.sampleOf(frame)))
    return true
  }

  let turn = 0
  /** Begins to sound at a frame; gives what is heard, or null where nothing sounds. `shown`: second of the shot that the picture shows meanwhile. */
  async function begin(
    frame: number,
    from: number,
    to: number,
    loops: boolean,
    shown?: () => number,
  ): Promise<HeardClock | null> {
    const mine = ++turn
    if (silent.value || !clock.value) return null
    const out = await speakers()
    const remote = out && (await worker.of())
    if (!out || !remote || mine !== turn || !clock.value) return null
    const sampleOf = (f: number) => Math.round(clock.value!.sampleOf(f))
    round = loops ? { from: sampleOf(from), to: sampleOf(to + 1) } : null
    const now = () => (shown ? Math.round(shown() * soundRate) : sampleOf(frame))
    begun = now()
    const memory = new SharedArrayBuffer(ringBytes)
    const mineRing = ringIn(memory)
    ring = mineRing
    await remote.play(memory, { from: begun, loop: round, to: loops ? null : sampleOf(to + 1) })
    if (mine !== turn) return null
    // What the picture has passed meanwhile is left out.
    let passed = shown ? now() - begun + late() : 0
    if (passed < 0 && round) passed += round.to - round.from
    leaveOut(mineRing, passed)
    out.port.postMessage(memory)
    return {
      at: () => placeIn(mineRing) / soundRate,
      leaveOut: (seconds) => leaveOut(mineRing, Math.round(seconds * soundRate)),
    }
  }

  // Said once; from then on the speaker in the transport says it.
  watch(trouble, (sentence) => sentence && toast.message(heard(sentence), { id: 'no sound' }))

  /** Samples by which what is played is heard late. */
  const late = () => {
    const context = player?.context as AudioContext | undefined
    return Math.round(((context?.outputLatency ?? 0) + (context?.baseLatency ?? 0)) * soundRate)
  }
  /** Sample of the shot that is heard now. */
  function placeIn(one: SoundRing): number {
    const place = begun + Math.max(0, passedIn(one) - late())
    if (!round || place < round.to) return place
    return round.from + ((place - round.from) % (round.to - round.from))
  }

  function end(): void {
    turn++
    player?.port.postMessage(null)
    ring = null
    const remote = worker.running
    if (remote) attend(remote.stop(), doing)
  }

  /** A frame is heard alone, while it is looked for. */
  const scrub = (frame: number) => begin(frame, frame, frame, false)

  /** What the meters show now: largest of left and right, momentary, short-term, what the limiter leaves; null in silence. */
  function meters(): Float32Array | null {
    if (!ring || !playback.playing) return null
    const at = meterAt(passedIn(ring))
    return ring.meters.slice(at, at + meterNumbers)
  }
  /** Second of the shot that is heard now; null in silence. */
  const place = () =>
    ring && playback.playing && Atomics.load(ring.head, ringHead.played) > 0 ? placeIn(ring) / soundRate : null
  /** How often the player had nothing to play since this was begun. */
  const missed = () => (ring ? Atomics.load(ring.head, ringHead.missed) : 0)

  playback.hear({ ready, begin, end })
  watch(
    () => playback.frame,
    (frame) => {
      if (scrubs.value && !playback.playing) attend(scrub(frame), doing)
    },
  )

  return {
    ...{ on, trouble, views, bars, loud, alone, scrubs, sounds, clock },
    ...{ titleOf, sourceName, open, meters, place, missed },
  }
})
