// Rules of the lint that hold every import against the map in rooms.js: which room may import which, and no circles.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, sep } from 'node:path'
import { floors, ground, rooms } from '../rooms.js'

const root = join(import.meta.dirname, '..')
const isTest = (file) => /\.(test|spec)\.ts$/.test(file)
const fromRoot = (path) => relative(root, path).split(sep).join('/')
const within = (file, place) => file === place || file.startsWith(`${place}/`)

/** The room of a file, by its path from the root; null for what stands in none. */
export const roomOf = (file) =>
  Object.keys(rooms)
    .filter((room) => within(file, room))
    .sort((a, b) => b.length - a.length)[0] ?? null

/** The path from the root that `specifier` means in `file`; null for a package. */
function target(file, specifier) {
  if (specifier.startsWith('#')) return specifier.slice(1)
  if (specifier.startsWith('.')) return fromRoot(join(root, dirname(file), specifier))
  return null
}

/** What is wrong with an import, in a sentence; '' where it may stand. */
function trouble(file, specifier) {
  const room = roomOf(file)
  if (!room) return ''
  const floor = floors[room.split('/')[0]]
  const to = target(file, specifier)
  if (to === null) {
    const named = (list) =>
      list.some((one) => specifier === one || specifier.startsWith(one.endsWith(':') ? one : `${one}/`))
    const refused = floor?.packages ? !named(floor.packages) : floor?.notPackages ? named(floor.notPackages) : false
    return refused && !isTest(file) ? `${room} must not know ${specifier}: see rooms.js.` : ''
  }
  const other = roomOf(to)
  if (!other || other === room) return ''
  if (isTest(to)) return `${to} is a test: nobody imports it.`
  const own = [...ground, ...rooms[room].uses]
  const allowed = isTest(file) ? [...own, room.split('/')[0], ...(floor?.tests ?? [])] : own
  return allowed.some((one) => within(other, one)) ? '' : `${room} must not import ${other}: see rooms.js.`
}

/** Visits every place of a module that names another one. */
const onImports = (visit) => {
  const from = (node) => node.source && typeof node.source.value === 'string' && visit(node.source)
  return { ImportDeclaration: from, ExportNamedDeclaration: from, ExportAllDeclaration: from, ImportExpression: from }
}

const importsFollowTheMap = {
  meta: { type: 'problem', schema: [] },
  create(context) {
    const file = fromRoot(context.filename)
    return onImports((node) => {
      const message = trouble(file, node.value)
      if (message) context.report({ node, message })
    })
  },
}

const noCircles = {
  meta: { type: 'problem', schema: [] },
  create(context) {
    const file = fromRoot(context.filename)
    const circle = circles().get(file)
    return {
      Program(node) {
        if (circle) context.report({ node, message: `Imports go in a circle: ${circle.join(', ')}.` })
      },
    }
  },
}

export const house = { rules: { 'imports-follow-the-map': importsFollowTheMap, 'no-circles': noCircles } }

/** Files by the circle of imports (types included) that they stand in. Read once a run. */
let known = null
function circles() {
  if (known) return known
  const files = [...new Set(Object.keys(rooms).map((room) => room.split('/')[0]))].flatMap((floor) =>
    readdirSync(join(root, floor), { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile() && /\.(ts|vue)$/.test(entry.name))
      .map((entry) => fromRoot(join(entry.parentPath, entry.name))),
  )
  const imports = new Map(
    files.map((file) => [
      file,
      [...readFileSync(join(root, file), 'utf8').matchAll(/^(?:import|export|\} from)[^'"`;]*?['"]([#.][^'"]+)['"]/gm)]
        .map((match) => target(file, match[1]))
        .filter((path) => path && existsSync(join(root, path))),
    ]),
  )
  known = new Map()
  for (const group of stronglyConnected(imports)) if (group.length > 1) for (const file of group) known.set(file, group)
  return known
}

/** Tarjan's strongly connected components of a graph given as lists of successors. */
function stronglyConnected(graph) {
  const [index, low, stack, groups] = [new Map(), new Map(), [], []]
  const visit = (node) => {
    index.set(node, index.size)
    low.set(node, index.get(node))
    stack.push(node)
    for (const next of graph.get(node) ?? []) {
      if (!index.has(next)) visit(next)
      if (stack.includes(next)) low.set(node, Math.min(low.get(node), low.get(next)))
    }
    if (low.get(node) !== index.get(node)) return
    groups.push(stack.splice(stack.indexOf(node)))
  }
  for (const node of graph.keys()) if (!index.has(node)) visit(node)
  return groups
}

/** The README's picture of the tree: a line per room. */
export function tree() {
  const width = Math.max(...Object.keys(rooms).map((room) => room.length)) + 3
  return Object.entries(rooms)
    .map(([room, { holds }]) => `${(room.includes('.') ? room : `${room}/`).padEnd(width)}${holds}`)
    .join('\n')
}

// node scripts/house.mjs writes the tree into the README; --check only compares.
if (process.argv[1] === import.meta.filename) {
  const { writeFileSync } = await import('node:fs')
  const readme = join(root, 'README.md')
  const before = readFileSync(readme, 'utf8')
  const place = /(<!-- rooms -->\s*```\n)[^]*?(\n```)/
  if (!place.test(before)) throw new Error('The README has no place for the tree: <!-- rooms --> and a block of code.')
  const after = before.replace(place, (_, open, close) => open + tree() + close)
  if (process.argv.includes('--check')) {
    if (before === after) process.exit(0)
    console.error('The README shows another tree than rooms.js. Run npm run rooms.')
    process.exit(1)
  }
  writeFileSync(readme, after)
}
