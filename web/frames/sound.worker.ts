import * as Comlink from 'comlink'
import type { HeardMoment } from '#core/motion/beads.ts'
import { mixName } from '#core/motion/readings.ts'
import { wholeMix } from '#core/parameters/drives.ts'
import type { Diff } from '#core/records/diff.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { sceneOf } from '#core/render/scene.ts'
import type { Lane } from '#core/sound/lane.ts'
import { Mixer } from '#core/sound/mix.ts'
import { Overview } from '#core/sound/overview.ts'
import { LoudnessMeter } from '#core/sound/signal/loudness.ts'
import { blockSize, soundRate, stereo } from '#core/sound/signal/stereo.ts'
import { clockOf, heardMoments } from '#core/soundtrack/lanes.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { levelsOfLanes, type LoadTakes } from '#core/soundtrack/mixdown.ts'
import { raise } from './raise.ts'
import { lanesFor, Recordings, type SoundOrder } from './soundMix.ts'
import { meterAt, meterStep, ringHead, ringIn, ringSize, waitingIn } from './soundRing.ts'

/** What the page shows of a sound. */
export interface LaneView {
  id: string
  moments: HeardMoment[]
  /** Why it is silent, or ''. */
  trouble: string
}

/** How loud all of a shot is. */
export interface Loud {
  integrated: number
  truePeak: number
  held: number
}

/** A stretch to be played, in samples of the shot; `to` exclusive, without end where it is not given. */
export interface PlayOrder {
  from: number
  loop: { from: number; to: number } | null
  to: number | null
}

/** Samples that are made ahead of what is heard: a quarter of a second. */
const ahead = soundRate / 4
const batch = 1024
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

/** Mixes the sound of a shot ahead into a ring that the player reads, and tells how its lanes look. */
class SoundMaker {
  private records = new Records()
  private order: SoundOrder = { shots: [], addresses: {} }
  private alone = new Set<string>()
  private lanes: Lane[] = []
  private readonly recordings = new Recordings()
  private mixer: Mixer | null = null
  private playing = 0
  private looking = 0
  /** Levels that were found last, by {@link mixName}. */
  private readonly known = new Map<string, { signature: string; levels: Float32Array }>()

  /** `onViews` is told how the lanes look when that changes by itself. */
  start(records: AnyRecord[], order: SoundOrder, onViews?: (views: LaneView[]) => void): Promise<LaneView[]> {
    this.records = new Records(records)
    this.order = order
    this.recordings.close()
    this.recordings.onTrouble = () => {
      this.renew().then(onViews).catch(raise)
    }
    return this.renew()
  }

  change(diff: Diff, order: SoundOrder): Promise<LaneView[]> {
    this.records.apply(diff)
    this.order = order
    return this.renew()
  }

  hearAlone(ids: string[]): Promise<LaneView[]> {
    this.alone = new Set(ids)
    return this.renew()
  }

  /** Makes ready what takes long of what is heard from a sample on, for three seconds. */
  async warm(from: number): Promise<void> {
    for (const _ of new Mixer(this.lanes).strokesBetween(from, from + 3 * soundRate)) await pause(0)
  }

  /** Plays into a ring until it is stopped, or another one is given; resolves when the ring holds what comes first. */
  play(memory: SharedArrayBuffer, order: PlayOrder): Promise<void> {
    const turn = ++this.playing
    return new Promise((filled) => {
      this.fill(turn, memory, order, filled).catch(raise).finally(filled)
    })
  }
  stop(): void {
    this.playing++
    this.mixer = null
  }

  /**
   * Goes once through all of the shot's sound, beginning when nothing else is to be done; `onBars` gets what is known of the
   * lanes' waveforms from bar `from` on, by their ids.
   */
  async look(
    length: number,
    onBars: (bars: { id: string; from: number; bars: Float32Array }[]) => void,
    onLoud: (loud: Loud) => void,
  ): Promise<void> {
    const turn = ++this.looking
    const { lanes } = this
    const overview = new Overview(lanes, length)
    let told = 0
    while (!overview.done && turn === this.looking) {
      await this.recordings.load(overview.needs(64 * blockSize))
      const until = performance.now() + 12
      do overview.go(8)
      while (!overview.done && performance.now() < until)
      const bars = Math.floor(overview.at / (2 * blockSize))
      if (bars - told > 1500 || overview.done) {
        const end = overview.done ? Infinity : bars
        onBars(lanes.map(({ id }, i) => ({ id, from: told, bars: overview.bars[i]!.slice(told, end) })))
        told = bars
        const { integrated, truePeak, held } = overview.loudness()
        if (overview.done) onLoud({ integrated, truePeak, held })
      }
      await pause(this.mixer ? 4 : 0)
    }
  }

  /**
   * Level of a sound of the order's first shot on its frames, also where it is muted, or of its whole mix; goes on when nothing
   * else is to be done. `signature` changes when what is heard does.
   */
  async levels(order: SoundOrder, of: string): Promise<{ signature: string; levels: Float32Array } | null> {
    const [first] = order.shots
    const shot = first && this.records.get('shot', first.shot)
    const media = shot && this.records.get('media', shot.media)
    if (!first || !shot || !media) return null
    const all = of === wholeMix
    const lanes = await lanesFor(this.records, order, this.recordings, all ? undefined : new Set([of]))
    const name = mixName(shot.id, of)
    const signature = JSON.stringify([shot.in, shot.out, shot.timing, lanes.map((lane) => lane.signature)])
    const known = this.known.get(name)
    if (known?.signature === signature) return known
    let until = performance.now() + 12
    const between = async () => {
      if (performance.now() < until) return
      await pause(this.mixer ? 4 : 0)
      until = performance.now() + 12
    }
    const load: LoadTakes = (needs) => this.recordings.load(needs)
    const levels = await levelsOfLanes(lanes, shot, clockOf(shot, media, first.times), all, load, between)
    this.known.set(name, { signature, levels })
    return { signature, levels }
  }

  private async renew(): Promise<LaneView[]> {
    const lanes = await lanesFor(this.records, this.order, this.recordings, this.alone)
    this.lanes = lanes
    this.mixer?.take(lanes)
    const [first] = this.order.shots
    const shot = first && this.records.get('shot', first.shot)
    const scene = shot && sceneOf(this.records, shot.id)
    if (!shot || !scene) return []
    return soundsOf(this.records, shot).map((sound) => {
      const clips = sound.kind === 'own' ? [shot.media] : sound.takes
      return {
        id: sound.id,
        moments: sound.way === 'moments' ? heardMoments(scene, sound) : [],
        trouble: clips.map((id) => this.recordings.troubles.get(id)).find(Boolean) ?? '',
      }
    })
  }

  private async fill(
    turn: number,
    memory: SharedArrayBuffer,
    { from, loop, to }: PlayOrder,
    filled: () => void,
  ): Promise<void> {
    const ring = ringIn(memory)
    const mixer = new Mixer(this.lanes)
    this.mixer = mixer
    mixer.seek(from)
    const out = stereo(batch)
    const meter = new LoudnessMeter()
    let [place, metered] = [from, 0]
    const peaks = [0, 0]
    while (turn === this.playing) {
      const written = Atomics.load(ring.head, ringHead.written)
      if (waitingIn(ring) >= ahead) {
        filled()
        await pause(8)
        continue
      }
      const end = loop ? loop.to : (to ?? Infinity)
      if (loop && place >= end) {
        place = loop.from
        mixer.seek(place)
      }
      // Silence follows what is over, so that the clock goes on beyond its end.
      const over = place >= end
      if (over && place >= end + ringSize / 2) return
      const count = over ? batch : Math.min(batch, end - place)
      if (over) {
        out.left.fill(0)
        out.right.fill(0)
      } else {
        await this.recordings.load(mixer.needs(count + soundRate / 10))
        if (turn !== this.playing) return
        mixer.next(out, 0, count)
      }
      meter.add([out.left, out.right], 0, count)
      for (let i = 0; i < count; i++) {
        const at = (written + i) & (ringSize - 1)
        ring.left[at] = out.left[i]!
        ring.right[at] = out.right[i]!
        peaks[0] = Math.max(peaks[0]!, Math.abs(out.left[i]!))
        peaks[1] = Math.max(peaks[1]!, Math.abs(out.right[i]!))
      }
      if (written + count - metered >= meterStep) {
        const { momentary, shortTerm } = meter.now()
        ring.meters.set([...peaks, momentary, shortTerm, mixer.reduction()], meterAt(metered))
        peaks.fill(0)
        metered += meterStep
      }
      place += count
      Atomics.store(ring.head, ringHead.written, written + count)
    }
  }
}

const maker = new SoundMaker()
export type SoundWorker = Comlink.Remote<SoundMaker>
Comlink.expose(maker)
