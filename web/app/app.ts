import { beginToSpeak } from '../language/language.ts'

// Tables of texts are read when they are imported: the language comes first.
await beginToSpeak()
await import('./start.ts')
