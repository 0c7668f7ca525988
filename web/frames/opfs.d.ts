/** Writing to the origin's private file system from a worker (WHATWG File System); missing in TypeScript's DOM library. */
interface FileSystemSyncAccessHandle {
  write(data: Uint8Array, options?: { at?: number }): number
  truncate(size: number): void
  flush(): void
  close(): void
}
interface FileSystemFileHandle {
  createSyncAccessHandle(): Promise<FileSystemSyncAccessHandle>
}
