import { decimals } from '../say.ts'

/** Bytes as people read them: KB below a megabyte, then MB and GB with one decimal. */
export const fileSize = (bytes: number): string =>
  bytes < 1024 ** 2
    ? `${bytes === 0 ? 0 : Math.max(1, Math.round(bytes / 1024))} KB`
    : bytes < 1024 ** 3
      ? `${decimals(bytes / 1024 ** 2, 1)} MB`
      : `${decimals(bytes / 1024 ** 3, 1)} GB`
