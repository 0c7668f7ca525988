import { open, rename, rm } from 'node:fs/promises'
import { dirname } from 'node:path'
import Libsql from 'libsql'
import { answer } from '../jobs/answer.ts'

/** Copies a database as it is now, looks whether the copy is whole, and only then gives it its name. */
answer(async ({ from, to }: { from: string; to: string }) => {
  const half = `${to}.half`
  await rm(half, { force: true })
  const database = new Libsql(from)
  try {
    database.prepare('VACUUM INTO ?').run(half)
  } finally {
    database.close()
  }
  const copy = new Libsql(half)
  try {
    const { quick_check: found } = copy.prepare('PRAGMA quick_check(1)').get() as { quick_check: string }
    if (found !== 'ok') throw new Error(`The copy of the database is damaged: ${found}`)
    // The copy has no log that would belong to it.
    copy.pragma('user_version = 0')
  } finally {
    copy.close()
  }
  for (const path of [half, dirname(to)]) {
    const handle = await open(path, 'r')
    await handle.sync().finally(() => handle.close())
  }
  await rename(half, to)
  return null
})
