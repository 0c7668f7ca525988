import type { Diff } from './diff.ts'

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
}

/** A change as the server keeps it in its log. */
export interface StoredChange {
  /** Made by the browser, so that a change sent twice counts once. */
  id: string
  revision: number
  label: string
  diff: Diff
}

/** The answer to a change: taken, or what has happened since the state it was based on. */
export type CommitAnswer =
  { accepted: true; revision: number } | { accepted: false; revision: number; newer: StoredChange[] }
