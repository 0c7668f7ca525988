import { joinOver } from '#core/edits/joins.ts'
import type { Shot } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { newId, useProject } from './project.ts'

/** Joins a shot to the next one over so many frames; 0 cuts. */
export function joinShots(shot: Shot, frames: number): void {
  const project = useProject()
  const title = frames > 0 ? say`Join ${shot.name} to the next shot` : say`Cut after ${shot.name}`
  project.commit(title, joinOver(project.records()!, shot, frames, newId), `join ${shot.id}`)
}
