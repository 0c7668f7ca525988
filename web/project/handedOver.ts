/** Files that were dropped before there was a project for them, until its step Footage takes them. */
let waiting: { project: string; files: readonly File[] } | null = null

export function handOver(project: string, files: readonly File[]): void {
  waiting = { project, files }
}
/** What was handed over to a project; nothing the second time. */
export function takeHanded(project: string): readonly File[] {
  if (waiting?.project !== project) return []
  const { files } = waiting
  waiting = null
  return files
}
