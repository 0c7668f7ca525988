/** The folder on the browser's own disk in which files are rendered, each until the server has it. */
export const renderedFolder = async (): Promise<FileSystemDirectoryHandle> =>
  (await navigator.storage.getDirectory()).getDirectoryHandle('rendered', { create: true })

/** Takes a file of it off the disk, where it is there. */
export async function dropRendered(place: string): Promise<void> {
  await (await renderedFolder()).removeEntry(place).catch(() => {})
}
