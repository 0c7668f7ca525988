import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from '@vue/compiler-sfc'
import ts from 'typescript'
import { fill, slotted, speak } from '#core/say.ts'

/** A text that the program says; `where` the first file that says it, `about` what it is told of in some places. */
export interface Text {
  text: string
  where: string
  about: Set<string>
}

/** Every text that is marked in the sources or stands in a table of the core, each once, by where it is said. */
export async function everyText(): Promise<Text[]> {
  const all = new Map<string, Text>()
  const add = (text: string, where: string, about = '') => {
    if (!text) return
    const known = all.get(text) ?? { text, where, about: new Set() }
    if (about) known.about.add(about)
    all.set(text, known)
  }
  for (const file of sources()) for (const { text, about } of markedIn(file)) add(text, file, about)
  for (const [text, about] of await tabled()) add(text, 'a table of the core', about)
  return [...all.values()]
}

const sources = (): string[] =>
  ['web', 'core', 'server'].flatMap((floor) =>
    readdirSync(floor, { recursive: true, encoding: 'utf8' })
      .map((name) => join(floor, name))
      .filter((name) => /\.(ts|vue)$/.test(name) && !name.endsWith('.test.ts'))
      .sort(),
  )

/** A text as it is marked in a source. */
interface Marked {
  text: string
  about: string
}

/** The texts of all say`…` and said('…') of a file, slots for their values. */
function markedIn(file: string): Marked[] {
  const source = readFileSync(file, 'utf8')
  if (!file.endsWith('.vue')) return markedInScript(source)
  const { scriptSetup, template } = parse(source).descriptor
  return [
    ...(scriptSetup ? markedInScript(scriptSetup.content) : []),
    ...(template?.ast ? expressionsIn(template.ast) : []).flatMap((code) => markedInScript(`(${code})`)),
  ]
}

function markedInScript(code: string): Marked[] {
  const found: Marked[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isTaggedTemplateExpression(node) && node.tag.getText() === 'say') {
      const { template } = node
      const text = ts.isNoSubstitutionTemplateLiteral(template)
        ? template.text
        : slotted([template.head.text, ...template.templateSpans.map(({ literal }) => literal.text)])
      found.push({ text, about: '' })
    } else if (ts.isCallExpression(node) && node.expression.getText() === 'said') {
      const [text, about] = node.arguments
      if (text && ts.isStringLiteral(text))
        found.push({ text: text.text, about: about && ts.isStringLiteral(about) ? about.text : '' })
    }
    ts.forEachChild(node, visit)
  }
  visit(ts.createSourceFile('marked.ts', code, ts.ScriptTarget.Latest, true))
  return found
}

interface TemplateNode {
  props?: { exp?: { loc: { source: string } } }[]
  content?: string | { loc: { source: string } }
  children?: unknown[]
}
/** The expressions of a template: of its directives, and in double braces. */
function expressionsIn(node: TemplateNode): string[] {
  return [
    ...(node.props ?? []).flatMap(({ exp }) => (exp ? [exp.loc.source] : [])),
    ...(typeof node.content === 'object' ? [node.content.loc.source] : []),
    ...(node.children ?? []).flatMap((child) => expressionsIn(child as TemplateNode)),
  ]
}

/** What the tables of the core say when they are read, and every sentence that a card can have. */
async function tabled(): Promise<Map<string, string>> {
  const said = new Map<string, string>()
  const note = (text: string, about = '') => said.set(text, said.get(text) || about)
  speak({
    wording(text, values, about) {
      note(text, about)
      return fill(text, values)
    },
    amid: (title) => title,
    number: String,
  })
  const { effectKinds } = await import('#core/effects/catalogue.ts')
  const { soundKinds } = await import('#core/sound/catalogue.ts')
  const { shippedLooks } = await import('#core/looks/looks.ts')
  const { words, wordName } = await import('#core/words/words.ts')
  const { partKinds } = await import('#core/shapes/registry.ts')
  const { eases } = await import('#core/parameters/curves.ts')
  const { colourName } = await import('#core/pixels/colour/colourName.ts')
  await import('#core/shapes/templates.ts')
  for (const kind of Object.values(effectKinds)) {
    note(kind.group)
    for (const settings of settingsAround(kind.parameters)) kind.sentence(settings)
  }
  for (const { group } of Object.values(soundKinds)) note(group)
  for (const { parameters } of [...Object.values(effectKinds), ...Object.values(soundKinds)])
    for (const one of parameters) if (one.type === 'number' && /[a-z]{3}/.test(one.unit)) note(one.unit)
  for (const { name, about } of shippedLooks) [name, about].forEach((text) => note(text))
  for (const name of [...Object.keys(partKinds), ...eases, ...wordsOfTheirOwn]) note(name)
  for (const word of Object.keys(words)) wordName(word as keyof typeof words)
  for (let hue = 0; hue < 360; hue += 3) colourName(hueHex(hue))
  // Names that become a text once more after their table has spoken them are no other ones.
  for (const [text] of said) if (/\{\d\}/.test(text)) said.delete(text)
  return said
}

/** Values that stand on the screen as they are kept: the range of a clip’s colours, tabs. */
const wordsOfTheirOwn = ['limited', 'full', 'sounds', 'numbers', 'hand']

type Parameters = readonly {
  name: string
  type: string
  default?: unknown
  min?: number
  max?: number
  options?: { value: string }[]
}[]
/** Settings as they are at first, and with every one, and every two, at another of their ends or options. */
function* settingsAround(parameters: Parameters): Generator<Record<string, never>> {
  const first = Object.fromEntries(parameters.map(({ name, default: standard }) => [name, standard]))
  const ends = parameters.flatMap(({ name, type, min, max, options = [] }): Record<string, unknown>[] =>
    (type === 'number' ? [min, max, 0] : options.map(({ value }) => value)).map((value) => ({ [name]: value })),
  )
  for (const one of [{}, ...ends]) for (const other of [{}, ...ends]) yield { ...first, ...one, ...other } as never
}

/** A full colour of a hue in degrees, as #rrggbb. */
function hueHex(hue: number): string {
  const part = (n: number) => {
    const k = (n + hue / 30) % 12
    return Math.round(255 * (0.5 - 0.5 * Math.max(-1, Math.min(k - 3, 9 - k, 1))))
      .toString(16)
      .padStart(2, '0')
  }
  return `#${part(0)}${part(8)}${part(4)}`
}
