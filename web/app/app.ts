import { beginToSpeak } from '../language/language.ts'
import { loadAhead } from './pages.ts'

// Tables of texts are read when they are imported: the language comes first.
await beginToSpeak()
loadAhead(location.pathname)
await import('./start.ts')
