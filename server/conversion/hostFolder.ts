import fs from 'node:fs'
import { join } from 'node:path'

/** What of a file system of Emscripten is used here (its documentation: File System API, custom file systems). */
export interface VirtualDisk {
  createNode(parent: Node | null, name: string, mode: number, device: number): Node
  ErrnoError: new (code: number) => Error
  mkdirTree(path: string): void
  mount(kind: object, options: object, path: string): void
  chdir(path: string): void
}
interface Node {
  id: number
  name: string
  parent: Node
  node_ops: object
  stream_ops: object
}
interface Stream {
  node: Node
  flags: number
  position: number
  handle: number
}

/** Errors of the system as WASI numbers them; anything else is an error of reading or writing. */
const codes: Record<string, number> = { EACCES: 2, EEXIST: 20, ENOENT: 44, ENOSPC: 51 }
const ioError = 29

/** A folder of this machine as a file system of a program that was compiled to WebAssembly: it sees this folder alone. */
export function hostFolder(disk: VirtualDisk, root: string, writable: boolean) {
  const tried = <T>(work: () => T): T => {
    try {
      return work()
    } catch (error) {
      throw new disk.ErrnoError(codes[(error as NodeJS.ErrnoException).code ?? ''] ?? ioError)
    }
  }
  const written = <T>(work: () => T): T => {
    if (!writable) throw new disk.ErrnoError(codes.EACCES!)
    return tried(work)
  }
  const placeOf = (node: Node): string => (node.parent === node ? root : join(placeOf(node.parent), node.name))
  const within = (parent: Node, name: string) => join(placeOf(parent), name)
  const nodeOf = (parent: Node | null, name: string, mode: number): Node =>
    Object.assign(disk.createNode(parent, name, mode, 0), { node_ops: nodes, stream_ops: streams })

  const nodes = {
    getattr(node: Node) {
      const { mode, size, atime, mtime, ctime } = tried(() => fs.statSync(placeOf(node)))
      const own = { dev: 1, ino: node.id, nlink: 1, uid: 0, gid: 0, rdev: 0, blksize: 4096 }
      return { ...own, mode, size, atime, mtime, ctime, blocks: Math.ceil(size / 4096) }
    },
    setattr(node: Node, { size }: { size?: number }) {
      if (size !== undefined) written(() => fs.truncateSync(placeOf(node), size))
    },
    lookup: (parent: Node, name: string) => nodeOf(parent, name, tried(() => fs.statSync(within(parent, name))).mode),
    mknod(parent: Node, name: string, mode: number) {
      written(() => fs.writeFileSync(within(parent, name), ''))
      return nodeOf(parent, name, mode)
    },
    unlink: (parent: Node, name: string) => written(() => fs.unlinkSync(within(parent, name))),
    readdir: (node: Node) => ['.', '..', ...tried(() => fs.readdirSync(placeOf(node)))],
  }
  const readOnly = (flags: number) => (flags & 3) === 0
  const streams = {
    open(stream: Stream) {
      const file = placeOf(stream.node)
      stream.handle = readOnly(stream.flags)
        ? tried(() => fs.openSync(file, 'r'))
        : written(() => fs.openSync(file, 'r+'))
    },
    close: (stream: Stream) => tried(() => fs.closeSync(stream.handle)),
    read: (stream: Stream, heap: Int8Array, offset: number, length: number, position: number): number =>
      tried(() => fs.readSync(stream.handle, bytesOf(heap, offset, length), 0, length, position)),
    write: (stream: Stream, heap: Int8Array, offset: number, length: number, position: number): number =>
      tried(() => fs.writeSync(stream.handle, bytesOf(heap, offset, length), 0, length, position)),
    llseek(stream: Stream, offset: number, whence: 0 | 1 | 2): number {
      const from = [0, stream.position, tried(() => fs.fstatSync(stream.handle).size)][whence]!
      return from + offset
    },
  }
  return { mount: () => nodeOf(null, '/', tried(() => fs.statSync(root)).mode), node_ops: nodes, stream_ops: streams }
}

const bytesOf = (heap: Int8Array, offset: number, length: number) => new Uint8Array(heap.buffer, offset, length)
