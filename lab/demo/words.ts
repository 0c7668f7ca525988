/** npm run words: writes the page of our words, and its drawings, from the list that the screens read. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { drawingFile } from '#core/words/drawings.ts'
import { type Word, words, wordsPage } from '#core/words/words.ts'
import { root } from '../support/places.ts'

const docs = join(root, 'docs')
rmSync(join(docs, 'words'), { recursive: true, force: true })
mkdirSync(join(docs, 'words'))
writeFileSync(join(docs, 'words.md'), wordsPage())
for (const word of Object.keys(words) as Word[])
  writeFileSync(join(docs, 'words', `${word.replace(' ', '-')}.svg`), drawingFile(word))
