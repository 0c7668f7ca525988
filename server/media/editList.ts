import { type FileHandle, open } from 'node:fs/promises'

/** Which part of a track is to be seen: seconds of the presentation, from 0 to `until`; `cuts`: of how many pieces it is made. */
export interface EditList {
  until: number
  cuts: number
}

interface Box {
  type: string
  at: number
  end: number
}

/** Bytes of a header that is believed: those of films are smaller by far. */
const mostBytes = 64 * 1024 ** 2

/**
 * The edit list of the video track of an ISO base media file (ISO/IEC 14496-12, 8.6.6); null where the file is of another kind,
 * has no such list, or one that says nothing of an end.
 */
export async function editListOf(file: string): Promise<EditList | null> {
  const handle = await open(file, 'r')
  try {
    const moov = await movieOf(handle)
    return moov && fromMovie(moov)
  } finally {
    await handle.close()
  }
}

/** The bytes within the box `moov`; null where there is none of a size that is believed. */
async function movieOf(handle: FileHandle): Promise<Buffer | null> {
  const { size: all } = await handle.stat()
  const head = Buffer.alloc(16)
  for (let at = 0; at + 8 <= all;) {
    const { bytesRead } = await handle.read(head, 0, 16, at)
    const long = head.readUInt32BE(0) === 1
    if (bytesRead < (long ? 16 : 8)) return null
    const size = long ? Number(head.readBigUInt64BE(8)) : head.readUInt32BE(0) || all - at
    const start = long ? 16 : 8
    if (size < start || at + size > all || !/^[\x20-\x7e]{4}$/.test(head.toString('latin1', 4, 8))) return null
    if (head.toString('latin1', 4, 8) === 'moov') {
      if (size > mostBytes) return null
      const moov = Buffer.alloc(size - start)
      await handle.read(moov, 0, moov.length, at + start)
      return moov
    }
    at += size
  }
  return null
}

function fromMovie(moov: Buffer): EditList | null {
  const boxes = [...boxesIn(moov, 0, moov.length)]
  const header = boxes.find((box) => box.type === 'mvhd')
  if (!header) return null
  const scale = moov.readUInt32BE(header.at + (moov[header.at] === 1 ? 20 : 12))
  for (const track of boxes.filter((box) => box.type === 'trak')) {
    const own = [...boxesIn(moov, track.at, track.end)]
    const inside = (type: string) => {
      const box = own.find((one) => one.type === type)
      return box ? [...boxesIn(moov, box.at, box.end)] : []
    }
    const handler = inside('mdia').find((box) => box.type === 'hdlr')
    if (!handler || moov.toString('latin1', handler.at + 8, handler.at + 12) !== 'vide') continue
    const list = inside('edts').find((box) => box.type === 'elst')
    if (!list || scale === 0) return null
    const long = moov[list.at] === 1
    const count = moov.readUInt32BE(list.at + 4)
    const each = long ? 20 : 12
    if (list.at + 8 + count * each > list.end) return null
    let [until, cuts] = [0, 0]
    for (let i = 0; i < count; i++) {
      const at = list.at + 8 + i * each
      const lasts = long ? Number(moov.readBigUInt64BE(at)) : moov.readUInt32BE(at)
      const from = long ? Number(moov.readBigInt64BE(at + 8)) : moov.readInt32BE(at + 4)
      until += lasts / scale
      if (from >= 0) cuts++
    }
    return until > 0 && cuts > 0 ? { until, cuts } : null
  }
  return null
}

function* boxesIn(bytes: Buffer, from: number, to: number): Generator<Box> {
  for (let at = from; at + 8 <= to;) {
    const size = bytes.readUInt32BE(at)
    if (size < 8 || at + size > to) return
    yield { type: bytes.toString('latin1', at + 4, at + 8), at: at + 8, end: at + size }
    at += size
  }
}
