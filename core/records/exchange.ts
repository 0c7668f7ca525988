import type { BrightLight } from '../pixels/colour/hdr.ts'
import type { Diff } from './diff.ts'
import type { Media } from './types.ts'

/** What the shelf shows of a project. */
export interface ProjectSummary {
  id: string
  name: string
  /** ISO time of the last change. */
  changed: string
  seconds: number
  frames: number
  shots: number
  /** Share of the frames of all parts that are traced, 0 to 1; null while nothing is cast. */
  traced: number | null
  /** Whether it can not be read. */
  damaged?: boolean
}

/** A change as the server keeps it in its log. */
export interface StoredChange {
  /** Made by the browser, so that a change sent twice counts once. */
  id: string
  revision: number
  label: string
  diff: Diff
}

/**
 * What a change is to the undo steps: it does one, undoes it, does it again, or gives where the project stands a name. Changes of one
 * step have its id.
 */
export interface StepOfChange {
  id: string
  way: 'do' | 'undo' | 'redo' | 'stage'
}

/** A change as the history of a project keeps it. */
export interface PastChange extends StoredChange {
  /** What takes it back; null where that was not noted. */
  back: Diff | null
  step: StepOfChange
  /** ISO time. */
  at: string
}

/**
 * The answer to a change. One that is based on an older state is taken all the same where it clashes with nothing that has
 * happened since; either way it is told what has.
 */
export interface CommitAnswer {
  accepted: boolean
  /** The project's revision: that of this change where it was taken. */
  revision: number
  /** What has happened since the state that it was based on, without itself. */
  newer: StoredChange[]
}

/** What is read from a file of footage. */
export type MediaFacts = Omit<Media, 'type' | 'id' | 'name'>

/** Bytes of either end of a file that are looked at before all of it is sent. */
export const glanceBytes = 4 * 1024 ** 2

/** What the ends of a file tell: how it is coded where it will be converted, '' where it comes in as it is. */
export interface Glance {
  becomes: string
}

/** A clip of a project, and whether its file is on this machine. */
export interface ClipHere {
  name: string
  hash: string
  bytes: number
  here: boolean
}

/** How a clip is to be converted where there is a choice. */
export interface ConversionChoices {
  /** Place of the stream in the file. */
  stream: number
  /** Of an interlaced clip: both fields together, or one after the other. */
  picture: 'frame' | 'field'
  /** Pixels that the picture is wide. */
  width: number
  /** What becomes of light that is brighter than white; see pixels/colour/hdr.ts. */
  bright: BrightLight
}

/** What somebody is asked before a clip is converted: what there is to choose from, and what fits best. */
export interface ConversionQuestions {
  streams: { stream: number; label: string }[]
  interlaced: boolean
  widths: number[]
  /** Whether it holds more light than a usual screen shows. */
  bright: boolean
  best: ConversionChoices
}

/** A clip that the browser does not decode, on its way to one that it does. */
export interface ConversionState {
  id: string
  name: string
  /** Bytes of the file as it came in. */
  bytes: number
  /** How it is coded, in words. */
  called: string
  /** Asking until somebody has chosen; done until the project has it; taken from then on, as long as the original is kept. */
  state: 'asking' | 'waiting' | 'running' | 'done' | 'failed' | 'taken'
  /** 0 to 1. */
  share: number
  /** Seconds that it will probably still take; null while that is not known. */
  left: number | null
  /** Whether the machine has no converter of its own, so that it takes several times as long. */
  slow: boolean
  /** Why it failed, as a sentence; where it is done, what of it is not as it should be. */
  error: string
  /** What came of it. */
  facts: MediaFacts | null
  /** What is asked; null where nothing is. */
  questions: ConversionQuestions | null
}

/** What nobody needs any more: clips that no project uses, what came in and was converted for projects that are gone, files that nothing lists, small pictures, old logs of changes. */
export interface Freeable {
  what: 'clips' | 'originals' | 'rendered' | 'pictures' | 'logs'
  count: number
  bytes: number
}

/** What is known of the lighter copy of a large clip: it is there, on its way, or there will be none. */
export interface LighterState {
  state: 'there' | 'making' | 'none'
  /** How much of it is made, 0 to 1. */
  share: number
}

/** Bytes that everything on the shelf takes, by what it is. */
export interface RoomTaken {
  clips: number
  rendered: number
  pictures: number
  /** The database itself. */
  projects: number
  backups: number
  freeable: Freeable[]
}

/** A backup of the shelf. */
export interface BackupSummary {
  name: string
  /** ISO time. */
  at: string
  bytes: number
}
