import { expect, it } from 'vitest'
import { fileName } from './fileName.ts'

it.each([
  ['Reed: Ferry/2', 'Reed Ferry2'],
  ['../../etc/passwd', 'etcpasswd'],
  ['Überfahrt  am  Steg', 'Überfahrt am Steg'],
  ['नाव', 'नाव'],
  ['渡し船 03', '渡し船 03'],
  ['..', 'Film'],
  ['🔥🔥', 'Film'],
  ['CON', '_CON'],
  ['nul.mp4', '_nul.mp4'],
  ['Conrad', 'Conrad'],
  ['shot . ', 'shot'],
  ['x'.repeat(300), 'x'.repeat(100)],
])('%s becomes %s', (name, meant) => expect(fileName(name, 'Film')).toBe(meant))
