import Papa from 'papaparse'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'

/** Bytes that a table may take. */
const mostBytes = 4 * 1024 ** 2

/** The rows of a CSV file, however its columns are parted. */
export async function rowsOf(file: File): Promise<string[][]> {
  if (file.size > mostBytes) throw new Refusal(say`The table is larger than 4 MB. Take out what is not needed.`)
  return Papa.parse<string[]>(await file.text(), { skipEmptyLines: 'greedy' }).data
}

/** The first frame that a table gives; 0 where it gives none. */
export const firstFrame = (rows: readonly (readonly string[])[]): number =>
  Number(rows.find((row) => /^\s*\d+\s*$/.test(row[0] ?? ''))?.[0] ?? 0)
