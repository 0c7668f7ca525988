import * as Comlink from 'comlink'
import type { Drive } from '#core/parameters/drives.ts'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import type { Diff } from '#core/records/diff.ts'
import type { LighterState } from '#core/records/exchange.ts'
import { type ClipPlace, clipPlace, clipRange } from '#core/records/timing.ts'
import { type AnyRecord, type Media, type Shot, shotLength } from '#core/records/types.ts'
import type { Reduce } from '#core/render/painter.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { attend, sentenceOf, tell } from '../ui/troubles.ts'
import { Clips } from './clips.ts'
import { counted } from './counted.ts'
import { isLarge, lighterCopy } from './lighter.ts'
import { mayHold, mayShow, onMemory } from './memory.ts'
import { bytesOf, PictureStore, type StagePicture } from './pictureStore.ts'
import { ReadingsTeller, type Sources } from './readings.ts'
import type { GraphicsState, ResultView, Room, ViewLayer } from './render.worker.ts'
import { rendererCount, startRenderer } from './start.ts'

export type { ShownPicture, StagePicture } from './pictureStore.ts'
/** Beside what renderers say of the graphics card: it is being tried, or has stopped meanwhile. */
export type GraphicsUse = GraphicsState | { state: 'tried' | 'lost' }

export interface Wanted {
  frame: number
  layer: ViewLayer
  /** Whose matte is looked at; '' for everybody's. */
  member: string
  /** How much of the result lies over the plate, 0 to 1. */
  strength: number
  result: ResultView
  /** What the frame is drawn at once the hand rests. */
  reduce: Reduce
  /** What frames are made ready at ahead, and this one before the hand rests; never finer. */
  ahead: Reduce
  /** Whether that very size was chosen: nothing finer is kept, and nothing coarser made for want of memory. */
  exactly: boolean
  /** First and last frame that is looked at, inclusive: what is made ready ahead. */
  from: number
  to: number
  /** How many neighbours on either side are seen, too: they come before those ahead. */
  around: number
  /** While it plays every worker makes frames ready. */
  playing: boolean
}

/** How long after the last wish or change the hand rests (ms): the frame is then drawn as finely as is asked for. */
const restsAfter = 200
/** How long the hand still counts as busy (ms): one worker at most reads ahead then. */
const handBusyFor = 400
/** Milliseconds within which a picture follows the hand well; where one takes longer, a dragged one is drawn more coarsely. */
const handFollows = 45
/** Frames for which a picture stands in while the next ones are not ready, about a second. */
const longestGap = 24
/** By how much pictures may come more slowly than they are shown: one in five is left out then, and the others are fine. */
const bearable = 1.25
/** So many frames that are ready bear a few slow ones, half a second. */
const enoughAhead = 12

const making = say`make the pictures`
const reading = say`read what the drives ask for`

/** What of the wish changes how a result looks. */
const resultOf = ({ strength, result }: Wanted) => JSON.stringify([strength, result])

const sizes: readonly Reduce[] = [1, 2, 4]
const noRoom: Room = { held: 0, most: 1 }
/**
 * Frames of a large clip that the browser takes beside ours, as its process shows: those that wait to be taken, those that others refer to,
 * those that its decoder keeps room for, and those that are not collected yet.
 */
const framesInDecoder = 48
/** Bytes of a renderer that do not grow with its pictures, about. */
const fixedBytes = 8 * 1024 ** 2
const coarser = (reduce: Reduce): Reduce => (reduce === 1 ? 2 : 4)

/** A picture that a worker is to make. */
interface Job {
  frame: number
  layer: ViewLayer
  draft: Diff | null
  reduce: Reduce
}

/** Whether what the layer shows depends on what is traced. */
const followsRecords = (layer: ViewLayer) => layer !== 'plate' && layer !== 'difference'

/**
 * Finished pictures of one shot and the workers that make them. Requests never queue: whenever a worker is free it
 * takes what is wanted most at that moment, the shown frame before the ones ahead, so stale wishes drop by
 * themselves. A commit makes only the frames stale that it changes.
 */
export class Pictures {
  /** A picture of this frame has come in. */
  onPicture: (frame: number) => void = () => {}
  onError: (sentence: string) => void = () => {}

  /** A clip that is inserted can not be had, and why. */
  onClipTrouble: (media: string, sentence: string) => void = () => {}
  /** What is known of the lighter copy of the shot's clip. */
  onLighter: (state: LighterState) => void = () => {}
  /** How it stands with the graphics card. */
  onGraphics: (state: GraphicsUse) => void = () => {}
  /** Something was read off pictures or sounds that drives ask for. */
  onReading: () => void = () => {}

  /** Media of the project, for what is inserted from other clips. */
  mediaOf: (id: string) => Media | null = () => null

  private mixOf: Sources['mixOf'] = () => Promise.resolve(null)
  /** Whether a drive of the shot hangs on its sounds: then any change may be one of them. */
  private hangsOnSound = false
  private readonly teller = new ReadingsTeller()
  private reading = false
  private readAgain = false
  private readonly renderers = Array.from({ length: rendererCount() }, () => ({
    worker: startRenderer().remote,
    /** How many pictures it is to make. */
    jobs: 0,
    room: noRoom,
  }))
  private readonly clips = new Clips(
    this.renderers.map(({ worker }) => worker),
    (id) => this.mediaOf(id),
  )
  private shot: Shot | null = null
  private opened = 0
  private readable = false
  private wanted: Wanted | null = null
  private draft: { frame: number; diff: Diff; picture: StagePicture | null; drawn: Diff | null } | null = null
  private readonly kept = new PictureStore()
  /** What is being made, by the epoch of its frame when that began. */
  private readonly underWay = new Map<string, number>()
  private epochs = new Uint32Array(0)
  private platePixels = 0
  /** Bytes of frames that the decoder of a large clip may hold by itself. */
  private inDecoder = 0
  /** Milliseconds from one frame to the next as the clip plays. */
  private frameTime = 1000 / 24
  private waitingBecauseOfError = false
  private graphicsTurn = 0
  private lastTouch = 0
  private later: ReturnType<typeof setTimeout>[] = []
  /** Milliseconds that a picture of the layer took of late, at the size of those ahead. */
  private pace = 0

  constructor() {
    this.clips.makeReady()
    onMemory(() => {
      if (this.drawnIn() > mayHold('drawn')) this.letGo()
      this.fit()
      this.pump()
    })
  }

  /** Bytes of pictures of the shot that are held: finished ones, what they are drawn in, and decoded frames. */
  async held(): Promise<number> {
    return this.kept.bytes + this.drawnIn() + ((await this.clips.ownDecoder?.held()) ?? 0)
  }

  /** Starts on a shot. `times`: seconds of the clip's frames. */
  async open(shot: Shot, media: Media, times: number[], records: AnyRecord[]): Promise<void> {
    const turn = ++this.opened
    this.shot = shot
    this.frameTime = 1000 / media.rate
    this.clear()
    this.epochs = new Uint32Array(shotLength(shot))
    this.waitingBecauseOfError = false
    for (const { worker } of this.renderers) attend(worker.start(records), making)
    try {
      await this.clips.openOwn(media, times)
    } catch (error) {
      this.readable = false
      if (turn === this.opened) this.onError(sentenceOf(error, say`open the clip`))
      return
    }
    if (turn !== this.opened) return
    this.readable = true
    this.inDecoder = isLarge(media) ? framesInDecoder * 1.5 * media.width * media.height : 0
    this.pump()
    attend(this.read(), reading)
    attend(this.lighten(media), reading)
  }

  /** Sees a large clip through a lighter copy where it is slow to read. */
  private async lighten(media: Media): Promise<void> {
    this.onLighter({ state: 'none', share: 0 })
    const [decoder, turn] = [this.clips.ownDecoder, this.opened]
    if (!decoder || !isLarge(media)) return
    const address = await lighterCopy(media, {
      goesOn: () => turn === this.opened && decoder === this.clips.ownDecoder,
      isSlow: async () => {
        const pace = await decoder.pace()
        return pace === null ? null : pace > this.frameTime
      },
      told: (state) => this.onLighter(state),
    })
    if (address && turn === this.opened) await decoder.lighten(address)
  }

  /** How loud the sounds of shots are is asked for here from now on. */
  hearBy(mixOf: Sources['mixOf']): void {
    this.mixOf = mixOf
    attend(this.read(), reading)
  }

  /** Reads off pictures and sounds what the shot's drives ask for, and draws anew what hangs on it. */
  private async read(): Promise<void> {
    // One reading at a time: what is asked for meanwhile is looked at once it is over.
    if (this.reading) {
      this.readAgain = true
      return
    }
    this.reading = true
    try {
      do {
        this.readAgain = false
        await this.readOnce()
      } while (this.readAgain)
    } finally {
      this.reading = false
    }
  }

  private async readOnce(): Promise<void> {
    const { shot, opened } = this
    const [first] = this.renderers
    if (!shot || !first || !this.readable) return
    const asked = await first.worker.readingsAsked(shot.id)
    this.hangsOnSound = asked.mixed.length > 0
    if (!asked.seen.length && !asked.heard.length && !asked.mixed.length) return
    const decoderOf = (media: Media) =>
      media.id === shot.media ? Promise.resolve(this.clips.ownDecoder) : this.clips.decoderOf(media)
    const workers = this.renderers.map(({ worker }) => worker)
    const goOn = () => opened === this.opened
    const onPart = () => {
      this.epochs.forEach((_, frame) => this.epochs[frame]!++)
      this.onReading()
      this.pump()
    }
    try {
      await this.teller.tell(asked, workers, { mediaOf: this.mediaOf, decoderOf, mixOf: this.mixOf }, onPart, goOn)
    } catch (error) {
      if (goOn()) tell(error, reading, 'readings')
    }
  }

  /** The records changed: workers follow, and frames from..to (null for none) are drawn anew. */
  change(diff: Diff, frames: { from: number; to: number } | null): void {
    for (const { worker } of this.renderers) attend(worker.apply(diff), making)
    this.touch()
    if (frames) {
      const last = Math.min(this.epochs.length - 1, frames.to)
      for (let frame = Math.max(0, frames.from); frame <= last; frame++) this.epochs[frame]!++
    }
    this.pump()
    if (this.hangsOnSound || diff.put.some((record) => record.type === 'effect' || record.type === 'shot'))
      attend(this.read(), reading)
  }

  want(wanted: Wanted): void {
    if (this.wanted && (this.wanted.ahead !== wanted.ahead || this.wanted.layer !== wanted.layer)) this.pace = 0
    if (wanted.exactly && (!this.wanted?.exactly || this.wanted.reduce < wanted.reduce))
      this.kept.dropFiner(wanted.reduce)
    if (this.wanted && this.wanted.member !== wanted.member) this.kept.forget(['matte', 'cutout', 'clean'])
    if (this.wanted && resultOf(this.wanted) !== resultOf(wanted)) this.kept.forget(['result'])
    this.wanted = wanted
    if (!wanted.playing) this.touch()
    const decoder = this.readable ? this.clips.ownDecoder : null
    if (this.shot && decoder) {
      const { from, to } = clipRange(this.shot)
      attend(
        decoder.readAhead(from, to - 1, Math.floor(clipPlace(this.shot, wanted.frame).frame), wanted.ahead),
        making,
      )
    }
    this.waitingBecauseOfError = false
    this.pump()
  }

  /** Records that are being dragged on this frame, or null when the hand let go. */
  setDraft(frame: number, diff: Diff | null): void {
    // What was seen last stays in sight until the committed frame is drawn.
    const last = this.draft
    if (!diff && last?.picture && this.wanted) {
      this.kept.put(this.wanted.layer, last.frame, { ...last.picture, epoch: this.epochs[last.frame]! - 1 })
      this.fit()
    }
    this.draft = diff
      ? { frame, diff, picture: this.draft?.frame === frame ? this.draft.picture : null, drawn: null }
      : null
    this.touch()
    this.pump()
  }

  /**
   * The best picture there is of the wanted frame, and which frame it is of: fresh, or the stale one until then. While it plays the
   * last one that was ready stands in for one that is not.
   */
  shown(): { picture: StagePicture; frame: number; fresh: boolean } | null {
    if (!this.wanted) return null
    const { layer, playing } = this.wanted
    const frame = playing ? this.lastReady() : this.wanted.frame
    if (followsRecords(layer) && this.draft?.frame === frame && this.draft.picture)
      return { picture: this.draft.picture, frame, fresh: true }
    const kept = this.kept.get(layer, frame)
    if (kept) return { picture: kept, frame, fresh: this.isFresh(layer, frame, playing ? 4 : this.atRest()) }
    const plate = this.kept.get('plate', frame)
    return plate ? { picture: plate, frame, fresh: false } : null
  }

  /** The wanted frame, or the nearest before it that there is a fresh picture of; the wanted one where none of them is near. */
  private lastReady(): number {
    const { frame, layer, from } = this.wanted!
    for (let f = frame; f >= Math.max(from, frame - longestGap); f--) if (this.isFresh(layer, f, 4)) return f
    return frame
  }

  /** What there is of a frame as it is looked at, else its plate; null until either was made. */
  pictureOf(frame: number): StagePicture | null {
    return (this.wanted && this.kept.get(this.wanted.layer, frame)) ?? this.plateOf(frame)
  }

  /** The plate of a frame, for what reads the picture itself; null until it was shown once. */
  plateOf(frame: number): StagePicture | null {
    return this.kept.get('plate', frame) ?? null
  }

  /** What feeds a drive of the shot and what it makes of it, frame by frame. */
  series(drive: Drive): Promise<{ input: Float64Array; output: Float64Array }> {
    return this.renderers[0]!.worker.series(this.shot?.id ?? '', drive)
  }

  /** A frame of the shot, decoded, for whoever computes from it; of a large clip `smaller`, for who needs no more. */
  decoded(frame: number, smaller: Reduce = 1): Promise<Yuv> {
    return this.decodedAt(this.shot ? clipPlace(this.shot, frame) : { frame, between: 'repeated' }, smaller)
  }
  /** A place in the shot's clip, decoded. */
  decodedAt({ frame, between }: ClipPlace, smaller: Reduce = 1): Promise<Yuv> {
    const decoder = this.clips.ownDecoder
    return decoder
      ? decoder.get(frame, between, smaller).then(counted)
      : Promise.reject(new Refusal(say`The clip is not open yet; try again in a moment.`))
  }

  /** Frames of another clip of the project, read ahead from the first that is wanted. Fails with a sentence as it can not be opened. */
  async framesOf(media: Media, first: number): Promise<(frame: number) => Promise<Yuv>> {
    const decoder = await this.clips.decoderOf(media)
    await decoder.readAhead(first, media.frames - 1, first)
    return (frame) => decoder.get(frame).then(counted)
  }

  /** Whether pictures are being made: others wait with what is less urgent. */
  isBusy(): boolean {
    return !this.readable || this.underWay.size > 0
  }

  /** How many frames of from..to are ready as they are looked at. */
  countFresh(layer: ViewLayer, from: number, to: number): number {
    let count = 0
    for (const frame of this.kept.frames(layer)) if (frame >= from && frame <= to && this.isFresh(layer, frame)) count++
    return count
  }

  /** Whether there is a picture of a frame as it is now, no coarser than `reduce`, else than those ahead are. */
  isFresh(layer: ViewLayer, frame: number, reduce = this.wanted?.ahead ?? 1): boolean {
    const kept = this.kept.get(layer, frame)
    return kept !== undefined && kept.reduce <= reduce && (!followsRecords(layer) || kept.epoch === this.epochs[frame])
  }

  /** What the frame is made at once the hand rests: as finely as is wanted and the memory has room to draw in. */
  atRest(): Reduce {
    if (!this.wanted) return 1
    const { reduce, ahead, layer, exactly } = this.wanted
    // A plate needs next to nothing beside itself.
    if (!followsRecords(layer) || exactly) return reduce
    const [first] = this.renderers
    const { held, most } = first!.room
    const others = this.drawnIn() - held
    const fits = (size: Reduce) =>
      others + ((held - fixedBytes) * this.platePixels) / (most * size ** 2) + fixedBytes <= mayHold('drawn')
    return sizes.find((size) => size >= reduce && (size >= ahead || fits(size))) ?? ahead
  }
  /** Shows results as the graphics card draws them from now on, or as the core does. */
  async useGraphics(on: boolean): Promise<void> {
    this.onGraphics(on ? { state: 'tried' } : { state: 'off' })
    const turn = ++this.graphicsTurn
    const lost = Comlink.proxy(() => turn === this.graphicsTurn && this.onGraphics({ state: 'lost' }))
    const states = await Promise.all(this.renderers.map(({ worker }) => worker.useGraphics(on, lost)))
    if (turn !== this.graphicsTurn) return
    this.onGraphics(states.find(({ state }) => state !== 'on') ?? states[0]!)
    // What stands there stays in sight until it is drawn the other way.
    this.epochs.forEach((_, frame) => this.epochs[frame]!++)
    this.pump()
  }

  /** Whether the memory has no room to draw as finely as is wanted. */
  isLimited(): boolean {
    return this.wanted !== null && this.atRest() > this.wanted.reduce
  }
  /** Bytes that pictures may take that are ready. */
  private mayTake(): number {
    return mayShow(this.drawnIn() + this.inDecoder)
  }
  private drawnIn(): number {
    return this.renderers.reduce((sum, { room }) => sum + room.held, 0)
  }
  /** Lets go of what is drawn in; as much of it is taken anew as is needed. */
  private letGo(): void {
    for (const one of this.renderers)
      attend(
        one.worker.letGo().then(() => void (one.room = noRoom)),
        making,
      )
  }
  private clear(): void {
    this.kept.clear()
    this.draft = null
  }

  /** The interface and the next step come first while somebody works; the rest is made ready in pauses. */
  private touch(): void {
    this.lastTouch = performance.now()
    for (const one of this.later) clearTimeout(one)
    this.later = [restsAfter, handBusyFor].map((ms) => setTimeout(() => this.pump(), ms + 10))
  }

  private pump(): void {
    if (!this.readable || this.waitingBecauseOfError) return
    for (let round = 1; round <= this.depth(); round++)
      for (const renderer of this.renderers) {
        if (renderer.jobs >= round) continue
        const job = this.nextJob(renderer === this.renderers[0], renderer.jobs)
        if (!job) continue
        renderer.jobs++
        const done = this.run(renderer, job).finally(() => {
          renderer.jobs--
          this.pump()
        })
        attend(done, making)
      }
  }
  /** Jobs that a worker has at once: while it plays the next one lies ready for it, or it would wait for the page with every picture. */
  private depth(): number {
    return this.wanted?.playing ? 2 : 1
  }

  /** `finely`: of the one renderer that draws as finely as is asked for, so that the others stay small. `jobs`: how many it makes before. */
  private nextJob(finely: boolean, jobs: number): Job | null {
    const { wanted, draft } = this
    if (!wanted) return null
    const { frame, layer, from, to, around, playing, ahead } = wanted
    const reduce = this.atRest()
    const making = (f: number, size: Reduce) => {
      const epoch = this.underWay.get(`${layer} ${f} ${size}`)
      return epoch !== undefined && (!followsRecords(layer) || epoch === this.epochs[f])
    }
    const open = (f: number, size: Reduce) =>
      !this.isFresh(layer, f, size) &&
      !this.underWay.has(`${layer} ${f} ${size}`) &&
      !sizes.some((one) => one < size && making(f, one))
    const since = performance.now() - this.lastTouch
    const rests = !playing && since >= restsAfter
    const slow = this.pace > bearable * this.frameTime * this.renderers.length
    // Where pictures come more slowly than they are shown, and few are ready, coarser ones come first.
    const first = playing && slow && this.readyAhead(enoughAhead) < enoughAhead ? coarser(ahead) : ahead
    if (followsRecords(layer) && draft && draft.frame === frame) {
      const size = rests ? ahead : this.pace > handFollows ? coarser(ahead) : ahead
      const drawn = draft.drawn === draft.diff && draft.picture !== null && draft.picture.reduce <= size
      if (!drawn && !this.underWay.has('draft')) return { frame, layer, draft: draft.diff, reduce: size }
    } else {
      if (!playing && open(frame, first)) return { frame, layer, draft: null, reduce: first }
      if (finely && rests && open(frame, reduce)) return { frame, layer, draft: null, reduce }
    }
    const handBusy = !playing && since < handBusyFor
    if (handBusy && this.underWay.size > 0) return null
    for (let i = 1; i <= around; i++)
      for (const f of [frame + i, frame - i])
        if (f >= 0 && f < this.epochs.length && open(f, ahead)) return { frame: f, layer, draft: null, reduce: ahead }
    const count = to - from + 1
    const fitting = Math.min(count, this.fitting())
    // What plays has gone on by the time a picture is made.
    const lead = playing ? Math.min(longestGap, Math.ceil(((jobs + 1) * this.pace) / this.frameTime)) : 0
    const start = frame >= from && frame <= to ? frame - from + lead : 0
    // Coarser ones are made of what is shown next alone: where some frames are slow, the others are not made twice.
    for (const size of first === ahead ? [ahead] : [first, ahead])
      for (let i = 0; i < (size === ahead ? fitting : Math.min(fitting, longestGap)); i++) {
        const f = from + ((start + i) % count)
        if (open(f, size)) return { frame: f, layer, draft: null, reduce: size }
      }
    return null
  }

  /** How many of the frames that are shown next are ready one after the other, up to `most`. */
  private readyAhead(most: number): number {
    const { frame, layer, from, to } = this.wanted!
    const count = to - from + 1
    const start = frame >= from && frame <= to ? frame - from : 0
    let ready = 0
    while (ready < Math.min(most, count) && this.isFresh(layer, from + ((start + ready) % count))) ready++
    return ready === count ? most : ready
  }

  /** Frames of the size of those ahead that the memory holds. */
  private fitting(): number {
    const { layer, ahead } = this.wanted!
    const some = this.kept.some(layer)
    return some ? Math.floor(this.mayTake() / (bytesOf(some) * (some.reduce / ahead) ** 2)) - 2 : 8
  }

  private async run(renderer: Pictures['renderers'][number], job: Job): Promise<void> {
    const { frame, layer, draft, reduce } = job
    const { shot, opened } = this
    const { ahead, member, strength, result } = this.wanted!
    const asked = resultOf(this.wanted!)
    const name = draft ? 'draft' : `${layer} ${frame} ${reduce}`
    const began = performance.now()
    const depth = this.depth()
    const epoch = this.epochs[frame]!
    this.underWay.set(name, epoch)
    try {
      const place = (at: number) => clipPlace(shot!, at)
      const clip = { media: shot!.media, place: place(frame), before: place(frame - 1) }
      const { troubles, room, ...drawn } = await renderer.worker.draw({
        ...{ shot: shot!.id, frame, clip, layer, member, reduce, strength, result, draft },
      })
      renderer.room = room
      this.platePixels = drawn.width * drawn.height * reduce ** 2
      for (const { media, sentence } of troubles) this.onClipTrouble(media, sentence)
      const { wanted } = this
      if (opened !== this.opened || member !== wanted?.member || asked !== resultOf(wanted)) return
      if (wanted.exactly && reduce < wanted.reduce) return
      const picture = { ...drawn, reduce }
      if (reduce === ahead && ahead === wanted.ahead && layer === wanted.layer)
        this.keepPace((performance.now() - began) / depth)
      if (draft) {
        if (this.draft?.frame !== frame) return
        this.draft.picture = picture
        this.draft.drawn = draft
      } else {
        this.kept.keep(layer, frame, { ...picture, epoch })
        this.fit()
      }
      this.onPicture(frame)
    } catch (error) {
      if (opened !== this.opened) return
      this.waitingBecauseOfError = true
      this.onError(sentenceOf(error, making))
    } finally {
      this.underWay.delete(name)
    }
  }

  private keepPace(ms: number): void {
    this.pace = this.pace ? 0.7 * this.pace + 0.3 * ms : ms
  }

  /** Lets pictures go until no more memory is taken than may be. */
  private fit(): void {
    if (this.wanted) this.kept.fit(this.mayTake(), this.wanted, this.epochs.length)
  }
}
