import type { MediaCodec } from '#core/records/types.ts'

/** What is true of a video, a still or a sequence of pictures, read from the file itself. */
export interface Facts {
  hash: string
  bytes: number
  codec: MediaCodec
  audio: string
  width: number
  height: number
  rotation: 0 | 90 | 180 | 270
  frames: number
  rate: number
  variableRate: boolean
  seconds: number
  matrix: 'bt709' | 'bt601'
  range: 'limited' | 'full'
  tagged: boolean
  /** Presentation time of every frame in seconds, rising: frame n is the nth entry. */
  times: number[]
  /** Where each picture lies in the file; of stills and sequences only. */
  pictures?: PicturePlace[]
}

/** Where a picture lies in its file: first byte, length, and whether it has to be inflated first. */
export interface PicturePlace {
  at: number
  bytes: number
  packed: boolean
}
