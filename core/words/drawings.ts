/**
 * Small drawings of our words, as SVG within 120 by 60 units: the beads, threads and handles that the screens show.
 * Colours are the tokens of the interface, as variables with their values behind them.
 */
const text = 'var(--color-text, #ebe9e4)'
const dim = 'var(--color-third, #8d8b86)'
const wisp = 'var(--color-wisp, #b9f29a)'
const ember = 'var(--color-ember, #ffb45e)'
const member = '#8fd3ff'

const line = (x1: number, y1: number, x2: number, y2: number, stroke = text, more = '') =>
  `<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="${stroke}" stroke-width="2" stroke-linecap="round" ${more}/>`
const path = (d: string, stroke = text, more = '') =>
  `<path d="${d}" fill="none" stroke="${stroke}" stroke-width="2" stroke-linejoin="round" stroke-linecap="round" ${more}/>`
const square = (x: number, y: number, fill = 'none', stroke = text) =>
  `<rect x="${x - 4}" y="${y - 4}" width="8" height="8" fill="${fill}" stroke="${stroke}" stroke-width="1.5"/>`
const circle = (x: number, y: number, r = 4, fill = 'none', stroke = text) =>
  `<circle cx="${x}" cy="${y}" r="${r}" fill="${fill}" stroke="${stroke}" stroke-width="1.5"/>`
const dash = 'stroke-dasharray="4 4"'
const thread = (y = 34, from = 10, to = 110) => line(from, y, to, y, dim)
const bead = (x: number, y = 34, colour = member) => circle(x, y, 4.5, colour, colour)
const small = (x: number, y = 34) => circle(x, y, 2.6, '#131313', member)
const rod = (x1: number, y1: number, x2: number, y2: number, heel = 'none', tip = 'none') =>
  line(x1, y1, x2, y2, member) +
  square(x1, y1, heel, heel === 'none' ? text : heel) +
  circle(x2, y2, 4, tip, tip === 'none' ? text : tip)
const body = 'M60 8c5 0 8 4 8 8s-3 8-8 8-8-4-8-8 3-8 8-8zM48 28h24l6 24h-10l-3-12-2 12H57l-2-12-3 12H42z'
const hills = `<rect x="24" y="10" width="72" height="40" rx="3" fill="#262626" stroke="${dim}"/>${path('M24 44l18-18 14 12 12-8 28 18', dim)}`

export const drawings = {
  rod: rod(26, 48, 94, 14),
  heel: rod(26, 48, 94, 14, wisp),
  tip: rod(26, 48, 94, 14, 'none', wisp),
  reach: rod(18, 52, 66, 28) + line(71, 25.5, 106, 8, wisp, dash),
  outline:
    `<path d="M30 14L58 8Q100 12 96 34T48 52Z" fill="${member}22" stroke="${member}" stroke-width="2"/>` +
    square(30, 14) +
    circle(58, 8) +
    circle(96, 34) +
    square(48, 52),
  pin:
    `<path d="M26 18L88 8L98 46L34 52Z" fill="${member}22" stroke="${member}" stroke-width="2"/>` +
    [
      [26, 18],
      [88, 8],
      [98, 46],
      [34, 52],
    ]
      .map(([x, y]) => square(x!, y!))
      .join(''),
  cast:
    circle(24, 16, 5, member, member) +
    line(36, 16, 78, 16) +
    line(46, 30, 88, 30, dim) +
    line(46, 38, 78, 38, dim) +
    circle(24, 52, 5, '#f19cbb', '#f19cbb') +
    line(36, 52, 70, 52),
  part: `<path d="M48 28h24l6 24H42z" fill="${member}33" stroke="${member}" stroke-width="2"/>${circle(60, 16, 8, `${wisp}`, wisp)}`,
  plate: hills,
  'clean plate': `${hills}${path('M66 22c4 0 6 3 6 6s-2 6-6 6-6-3-6-6 2-6 6-6z', wisp, dash)}`,
  matte: `<rect x="24" y="4" width="72" height="52" rx="3" fill="#000" stroke="${dim}"/><path d="${body}" fill="#fff"/>`,
  feather: `<circle cx="60" cy="30" r="24" fill="#fff" opacity=".12"/><circle cx="60" cy="30" r="20" fill="#fff" opacity=".25"/><circle cx="60" cy="30" r="15" fill="#fff"/>`,
  key: thread() + bead(30) + bead(82, 34, wisp),
  'in-between': thread() + line(36, 34, 84, 34, wisp) + bead(30) + bead(90),
  arc:
    line(28, 52, 34, 8, dim) +
    line(28, 52, 82, 40, dim) +
    path('M34 8A44 44 0 0 1 82 40', wisp) +
    circle(34, 8) +
    circle(82, 40) +
    square(28, 52),
  ghost: rod(18, 50, 46, 14) + line(58, 54, 104, 22, wisp, dash) + circle(104, 22, 4, 'none', wisp),
  followed: thread() + bead(22) + small(40) + small(54) + small(68) + small(82) + bead(100),
  unsure:
    thread() +
    bead(22) +
    small(42) +
    small(58) +
    small(74) +
    line(74, 14, 74, 25, ember, 'stroke-width="4"') +
    bead(100),
  away:
    thread(34, 10, 42) +
    bead(40) +
    bead(86) +
    thread(34, 86, 112) +
    [50, 58, 66, 74].map((x) => line(x - 3, 42, x + 5, 26, dim)).join(''),
  'key plan': thread() + bead(22) + bead(98) + [46, 60, 76].map((x) => circle(x, 16, 4.5, 'none', wisp)).join(''),
  ride:
    `<rect x="24" y="20" width="34" height="30" rx="4" fill="none" stroke="${member}" stroke-width="2"/>` +
    circle(44, 14, 6, 'none', wisp) +
    `<g transform="rotate(12 88 34)"><rect x="70" y="22" width="34" height="30" rx="4" fill="none" stroke="${member}" stroke-width="2" opacity=".6"/>${circle(90, 16, 6, 'none', wisp)}</g>`,
  holdout:
    line(10, 50, 110, 12, ember, 'stroke-width="5"') +
    circle(58, 31, 15, '#262626', text) +
    path('M50 28h2M64 28h2', text),
  smear:
    `<path d="M24 54L46 8A52 52 0 0 1 92 30Z" fill="${member}" opacity=".25"/>` +
    line(24, 54, 92, 30, member) +
    circle(92, 30) +
    square(24, 54),
  drive: path('M10 46Q30 46 40 22T70 26T110 12', dim) + path('M10 52Q30 52 40 34T70 38T110 28', wisp),
  look: `<rect x="18" y="12" width="84" height="12" rx="3" fill="#313131"/><rect x="18" y="28" width="84" height="12" rx="3" fill="#313131"/><rect x="18" y="44" width="84" height="8" rx="3" fill="#262626"/>${circle(26, 18, 3, wisp, wisp)}${circle(26, 34, 3, ember, ember)}`,
  moment:
    line(18, 52, 60, 24, member) + line(102, 52, 60, 24, '#f19cbb') + path('M60 14v-8M72 17l5-6M48 17l-5-6', ember),
} as const

/** A drawing as a file of its own. */
export const drawingFile = (name: keyof typeof drawings): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 60" width="240" height="120"><rect width="120" height="60" rx="6" fill="#131313"/>${drawings[name]}</svg>\n`
