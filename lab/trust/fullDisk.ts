import { spawnSync } from 'node:child_process'
import { mkdir, rm, stat, truncate, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Chance } from '../support/chance.ts'
import { ServerProcess } from '../support/serverProcess.ts'
import { Ledger } from './ledger.ts'

export interface FullDisk {
  /** Whether a small file system was there to be filled, or only the sizes of files could be limited. */
  real: boolean
  refused: number
  acknowledged: number
  faults: string[]
}

/**
 * Lets the disk be full at every place of a session: with no room at all, then a little more, and more. Every refusal is a
 * sentence; after each, and after there is room again, everything acknowledged is there, and nothing half.
 */
export async function fullDisk(folder: string, steps: number, chance: Chance, built: boolean): Promise<FullDisk> {
  const disk = join(folder, 'disk')
  await mkdir(disk)
  const real = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=160m', 'tmpfs', disk]).status === 0
  const data = join(disk, 'data')
  const filler = join(disk, 'filler')
  let server = await ServerProcess.start(data, built)
  const ledger = new Ledger(chance)
  const faults: string[] = []
  let refused = 0
  const fill = async (room: number) => {
    if (!real) return server.limitFiles((await stat(join(data, 'wisp-trail.sqlite-wal'))).size + room)
    // As large as it goes, then cut back to the room that is to be left.
    await writeFile(filler, Buffer.alloc(192 * 1024 ** 2)).catch(() => {})
    await truncate(filler, Math.max(0, (await stat(filler)).size - room))
  }
  const empty = async () => (real ? rm(filler, { force: true }) : server.limitFiles(null))
  try {
    await ledger.begin(server)
    for (let step = 0; step < steps; step++) {
      await fill(512 * step)
      for (let i = 0; i < 4; i++) {
        const status = await ledger.work(server)
        if (status >= 300) refused++
        if (status >= 300 && status !== 507) faults.push(`step ${step}: a full disk was answered with ${status}`)
      }
      await empty()
      for (let i = 0; i < 3; i++) {
        const status = await ledger.work(server)
        if (status >= 300) faults.push(`step ${step}: with room again it was answered with ${status}`)
      }
      if (step % 8 === 7) {
        await server.stop(step % 16 === 7 ? 'SIGKILL' : 'SIGTERM')
        server = await ServerProcess.start(data, built)
      }
      for (const fault of await ledger.faults(server)) faults.push(`step ${step}: ${fault}`)
      await rm(join(data, 'backups'), { recursive: true, force: true })
    }
  } finally {
    await server.stop('SIGKILL')
    if (real) spawnSync('umount', [disk])
  }
  return { real, refused, acknowledged: ledger.acknowledged, faults }
}
