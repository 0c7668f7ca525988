import { say } from '../say.ts'

/*
 * A project as one file that opens on another machine: a zip with `project.json`, the clips under `media/` by the hash of
 * their content, and the small picture of the shelf. The records stand in `project.json` a line each, so that a program can
 * read them one after the other; all together they are one JSON text (RFC 8259).
 */

/** What the name of such a file ends in. */
export const projectFileEnding = 'wisptrail'
export const projectFileFormat = 'wisp-trail-project'
/** Grows when a record of an older version can not be read as it stands. */
export const projectFileVersion = 1
export const projectFileEntries = { records: 'project.json', media: 'media/', thumbnail: 'thumbnail.png' } as const

/** What stands before the records. */
export interface ProjectFileHead {
  format: typeof projectFileFormat
  version: number
  /** ISO time. */
  written: string
  /** Hashes of the clips that are inside. */
  media: string[]
}

/** Why a file with such a head can not be read, as a sentence; '' where it can. */
export function headTrouble(head: Record<string, unknown> | null): string {
  if (head?.format !== projectFileFormat)
    return say`This is no project file of Wisp Trail: another program made it. Choose one that was taken out of a shelf.`
  const { version } = head
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return say`The project file does not say of which version it is. Take it out of its shelf once more.`
  if (version > projectFileVersion)
    return say`The project file was written by a newer Wisp Trail (version ${version}; this one reads up to ${projectFileVersion}). Bring this one up to date first.`
  return ''
}

/** What came of a project file that was brought in. */
export interface BroughtIn {
  id: string
  name: string
  /** Whether the same project was on the shelf already: this one stands beside it. */
  copied: boolean
  /** Names of clips that are neither in the file nor on this machine, or damaged in it. */
  missing: string[]
}
