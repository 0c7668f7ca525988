import { readFileSync, writeFileSync } from 'node:fs'
import { everyText } from './texts.ts'

/*
 * `npm run texts`: puts the wordings of web/language/german.json into the order in which the texts are said, leaves out
 * those of texts that are gone, and prints the texts that have none yet.
 */
const file = 'web/language/german.json'
const worded = JSON.parse(readFileSync(file, 'utf8')) as Record<string, string>
const texts = await everyText()
const kept: [string, string][] = []
for (const { text, about } of texts)
  for (const key of [text, ...[...about].map((one) => `${one}: ${text}`)])
    if (worded[key]) kept.push([key, worded[key]])
const missing = texts.filter(({ text }) => !worded[text])
writeFileSync(file, `${JSON.stringify(Object.fromEntries(kept), null, 2)}\n`)
for (const { text, where, about } of missing) console.log(JSON.stringify(text), `(${[...about, where].join(', ')})`)
console.log(`${texts.length} texts, ${missing.length} without a wording`)
