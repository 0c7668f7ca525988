import { createHash } from 'node:crypto'

/** A name as it stands in a key, after its '#': the first 132 bits of SHA-256. */
export const matteName = (data: string): string => createHash('sha256').update(data).digest('base64url').slice(0, 22)
