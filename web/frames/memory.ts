/*
 * How much memory the pictures of this tab may take, and who of those that hold pictures gets how much of it. The page knows what
 * was chosen and tells the workers, also while they run.
 */

/**
 * Who holds pictures: decoded frames of the shot's clip, of each clip beside it, of one that only goes by; what followers read; what
 * is shown, which may also take what is left of the next; what pictures are drawn in.
 */
const shares = { decoded: 0.18, beside: 0.03, passing: 0.02, followed: 0.08, shown: 0.16, drawn: 0.45 } as const
export type Share = keyof typeof shares

/** Megabytes that can be chosen. */
export const leastMemory = 256
export const mostMemory = 16_384

const told = (globalThis as { navigator?: { deviceMemory?: number } }).navigator?.deviceMemory

/**
 * Megabytes where nobody has chosen: a quarter of what the machine has, as far as the browser tells
 * (https://www.w3.org/TR/device-memory/: gigabytes, 8 at the most), and 1,536 at the most.
 */
export const usualMemory = (gigabytes = told ?? 8): number =>
  Math.max(leastMemory, Math.min(1536, (1024 * gigabytes) / 4))

let chosen = usualMemory()
const listeners = new Set<() => void>()

/** Bytes that somebody may hold now: some frames in any case, or nothing would go on. */
export const mayHold = (share: Share): number =>
  Math.max(someFrames, share === 'drawn' ? mayDraw() : bytes(shares[share]))
const someFrames = 48 * 1024 ** 2
const bytes = (part: number) => Math.floor(part * chosen * 1024 ** 2)

/** Bytes that the film takes that is being made. */
let film = 0
/** In the page: says how much the film takes that is being made there; 0 once it is done. */
export function filmHolds(held: number): void {
  if (film === held) return
  film = held
  tell()
}
/** Bytes that a film may be drawn in: nobody follows meanwhile, and what is shown stands still. */
export const filmMayHold = (): number => Math.max(3 * someFrames, bytes(shares.drawn + shares.shown + shares.followed))
/** Beside a film what it leaves is drawn in; something in any case, for who goes on working. */
const mayDraw = () =>
  film ? Math.max(bytes(0.12), Math.min(bytes(shares.drawn), filmMayHold() - film)) : bytes(shares.drawn)
/** Bytes that pictures may take that are ready, where `taken` are taken to draw in and in decoders: what that leaves of what may be drawn in, beside their own. */
export const mayShow = (taken: number): number => mayHold('shown') + (film ? 0 : Math.max(0, mayHold('drawn') - taken))

/** Calls back whenever that changes. */
export const onMemory = (changed: () => void): void => void listeners.add(changed)

function choose(megabytes: number): void {
  if (chosen === megabytes) return
  chosen = megabytes
  tell()
}
const tell = () => {
  for (const changed of listeners) changed()
}

const channelName = 'wisp memory'

/** In a worker: hears what the page says, now and later. */
export function hearMemory(): void {
  const channel = new BroadcastChannel(channelName)
  channel.onmessage = ({ data }: MessageEvent<unknown>) => typeof data === 'number' && choose(data)
  channel.postMessage('asked')
}

/** In the page: tells the workers what is chosen, those that asked before and those that ask later. Gives the way to choose. */
export function sayMemory(megabytes: number): (megabytes: number) => void {
  const channel = new BroadcastChannel(channelName)
  channel.onmessage = ({ data }: MessageEvent<unknown>) => data === 'asked' && channel.postMessage(chosen)
  const say = (now: number) => {
    choose(now)
    channel.postMessage(now)
  }
  say(megabytes)
  return say
}
