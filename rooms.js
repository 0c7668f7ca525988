/** What every room may use. */
export const ground = ['core/refusal.ts', 'core/say.ts']

/** What every feature of the interface stands on. No feature knows another: what two of them share lies below. */
const feature = ['core', 'web/language', 'web/ui', 'web/project', 'web/frames', 'web/editor']

/**
 * The map of the house: every room, what it holds, and which rooms it may import (its own files always). The lint holds
 * every import against it, types included; the README's tree is made from it (npm run rooms). A file belongs to the room
 * with the longest path that holds it. Rooms only look down: nobody imports what imports him.
 */
export const rooms = {
  'core/refusal.ts': { holds: 'why something can not be done, as a sentence', uses: [] },
  'core/say.ts': { holds: 'what the program says, and in which language', uses: [] },
  'core/words': { holds: 'our words and what they mean, help, and finding things by words', uses: [] },
  'core/geometry': { holds: 'rectangles, paths, curves and maps of the plane', uses: [] },
  'core/text': { holds: 'typefaces as outlines, and setting them', uses: ['core/geometry'] },
  'core/pixels': { holds: 'buffers, colour, kernels, filters', uses: ['core/geometry'] },
  'core/parameters': {
    holds: 'how settings describe themselves; curves and drives',
    uses: ['core/geometry', 'core/pixels'],
  },
  'core/records': {
    holds: 'what a project is made of: records, diffs, schemas that are given the kinds',
    uses: ['core/parameters', 'core/pixels'],
  },
  'core/shapes': {
    holds: 'part kinds, tracks over time, riding',
    uses: ['core/geometry', 'core/pixels', 'core/parameters', 'core/records'],
  },
  'core/matte': {
    holds: 'coverage of shapes, mattes of parts and members',
    uses: ['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes'],
  },
  'core/tracking': {
    holds: 'following shapes through the picture',
    uses: ['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/matte'],
  },
  'core/motion': {
    holds: 'signals, contacts, checks, key plan',
    uses: ['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/matte'],
  },
  'core/painting': {
    holds: 'painted mattes: grown from strokes, carried through the clip',
    uses: ['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/tracking'],
  },
  'core/timing': {
    holds: 'frames between two of a clip',
    uses: ['core/pixels', 'core/records', 'core/tracking', 'core/painting'],
  },
  'core/suggesting': {
    holds: 'shapes from what detectors found',
    uses: ['core/pixels', 'core/shapes', 'core/matte', 'core/painting'],
  },
  'core/effects': {
    holds: 'a description and a renderer for every effect kind',
    uses: [
      ...['core/geometry', 'core/text', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/matte'],
      ...['core/motion', 'core/words'],
    ],
  },
  'core/render': {
    holds: 'a frame of a shot from its plate, cast and cards',
    uses: [
      ...['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/matte'],
      ...['core/motion', 'core/effects', 'core/formats'],
    ],
  },
  'core/soundtrack': {
    holds: 'sounds of shots as lanes: when they sound, and how, from records and motion',
    uses: [
      ...['core/parameters', 'core/records', 'core/shapes', 'core/motion', 'core/render', 'core/sound'],
      'core/formats',
    ],
  },
  'core/checks.ts': {
    holds: 'what a project may hold: the records, checked with every kind',
    uses: ['core/parameters', 'core/records', 'core/shapes', 'core/motion', 'core/effects', 'core/sound'],
  },
  'core/edits': {
    holds: 'what changes records, as pure functions that make diffs',
    uses: [
      'core/geometry',
      'core/parameters',
      'core/records',
      'core/shapes',
      'core/motion',
      'core/painting',
      'core/effects',
      'core/sound',
      'core/soundtrack',
    ],
  },
  'core/looks': {
    holds: 'sets of cards that go on anybody',
    uses: ['core/parameters', 'core/records', 'core/effects', 'core/edits', 'core/checks.ts'],
  },
  'core/incoming': {
    holds: 'shapes, tracks and mattes from files',
    uses: [
      ...['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/edits'],
      ...['core/checks.ts', 'core/outgoing'],
    ],
  },
  'core/outgoing': {
    holds: 'what goes out: forms, orders, shapes, tracks and edit lists as files',
    uses: [
      ...['core/geometry', 'core/pixels', 'core/parameters', 'core/records', 'core/shapes', 'core/render'],
      ...['core/formats', 'core/effects'],
    ],
  },
  'core/sound': {
    holds: 'voices made by synthesis, lanes and their mix, loudness: numbers only',
    uses: ['core/parameters', 'core/words'],
  },
  'core/formats': { holds: 'names of files, rates, time codes, PNG', uses: ['core/pixels'] },
  server: {
    holds: 'Express and SQLite: projects, footage by content hash, conversion, rendered files, backups',
    uses: ['core'],
  },
  'web/language': { holds: 'the languages that the page speaks', uses: [] },
  'web/ui': { holds: 'fields, menus, dialogs, words of a sentence', uses: ['core', 'web/language'] },
  'web/project': {
    holds: 'the open project: session, outbox, tabs, the way to the server',
    uses: ['core', 'web/language', 'web/ui'],
  },
  'web/frames': {
    holds: 'pictures on their way: workers that decode, render and encode, and who asks them',
    uses: ['core', 'web/language', 'web/ui', 'web/project'],
  },
  'web/editor': {
    holds: 'the open shot, its playhead, selection and view; stage, sheet, settings, runs',
    uses: ['core', 'web/language', 'web/ui', 'web/project', 'web/frames'],
  },
  'web/cast': { holds: 'members and parts', uses: feature },
  'web/tracing': { holds: 'keys over ranges, the key plan, frames worth a look', uses: feature },
  'web/following': { holds: 'parts followed through the picture', uses: feature },
  'web/plates': { holds: 'clean plates: made, painted into', uses: feature },
  'web/painting': { holds: 'mattes painted and carried', uses: feature },
  'web/suggesting': { holds: 'shapes that detectors suggest', uses: feature },
  'web/timing': { holds: 'when the frames of a shot run: held, slower, faster, backwards', uses: feature },
  'web/effects': { holds: 'cards, their settings, looks, numbers over time', uses: feature },
  'web/sound': { holds: 'sounds as sentences, their lanes, the mix', uses: feature },
  'web/shelf': {
    holds: 'backups, and the room that everything takes',
    uses: ['core', 'web/language', 'web/ui', 'web/project'],
  },
  'web/footage': { holds: 'clips coming in, shots of a clip', uses: feature },
  'web/output': { holds: 'rendered files', uses: feature },
  'web/app': {
    holds: 'entry, router, and a view per step that puts the features together',
    uses: ['core', 'web'],
  },
  kernels: { holds: 'the innermost loops once more, in AssemblyScript', uses: [] },
  'lab/support': {
    holds: 'what tests and measurements share: clips, ffmpeg, OpenCV, the application, its editor as a page object',
    uses: ['core'],
  },
  'lab/language': {
    holds: 'every text that the program says, and whether each language has a wording for it',
    uses: ['core', 'web/language'],
  },
  'lab/ground': { holds: 'props laid over filmed clips, with their truth', uses: ['core', 'lab/support'] },
  'lab/scenes': { holds: 'scenes that draw footage, with their truth', uses: ['core', 'lab/support'] },
  'lab/demo': {
    holds: 'The Reed Ferry: its story, its seed, the reference of effects',
    uses: ['core', 'server', 'lab/support', 'lab/scenes'],
  },
  'lab/accuracy': {
    holds: 'how cheaply and how exactly drawn performances are traced',
    uses: ['core', 'web', 'server', 'lab/support', 'lab/scenes', 'lab/ground', 'lab/demo', 'lab/trust'],
  },
  'lab/trust': {
    holds: 'whether anything is lost: kills, a full disk, odd changes and requests, tabs at once',
    uses: ['core', 'web/project', 'lab/support'],
  },
  'lab/speed': { holds: 'the benchmark', uses: ['core', 'web', 'server', 'lab/support', 'lab/demo'] },
  'lab/browser': {
    holds: 'tests in the browser, against the real server, database and media',
    uses: ['core', 'lab/support'],
  },
}

/**
 * Floors as wholes: the packages they may import (or may not; 'node:' stands for Node's own modules), and what their
 * tests may import beside their own floor.
 */
export const floors = {
  core: { packages: ['yup', 'fast-png', 'fflate', 'svg-pathdata', 'parse-exr', 'papaparse'], tests: ['lab/support'] },
  server: { notPackages: ['vue', 'pinia', '@vueuse', '@headlessui'], tests: ['core', 'lab/support'] },
  web: { notPackages: ['node:', 'express', 'typeorm', 'libsql', 'pino'] },
}
