import { rename, rm } from 'node:fs/promises'
import { dirname } from 'node:path'
import Libsql from 'libsql'
import { answer } from '../jobs/answer.ts'
import { flush } from '../media/files.ts'

/** Copies a database as it is now, looks whether the copy is whole, and only then gives it its name. */
answer(async ({ from, to }: { from: string; to: string }) => {
  const half = `${to}.half`
  try {
    // Never closed: the last one to close a database takes its log away, see inspect.ts.
    new Libsql(from).prepare('VACUUM INTO ?').run(half)
    const copy = new Libsql(half)
    const { quick_check: found } = copy.prepare('PRAGMA quick_check(1)').get() as { quick_check: string }
    if (found !== 'ok') throw new Error(`The copy of the database is damaged: ${found}`)
    // The copy has no log that would belong to it.
    copy.pragma('journal_mode = DELETE')
    copy.pragma('user_version = 0')
    copy.close()
    await flush(half)
    await rename(half, to)
    await flush(dirname(to))
    return null
  } finally {
    await rm(half, { force: true })
  }
})
