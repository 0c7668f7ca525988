import { dirname, join } from 'node:path'

/**
 * A script of the server that runs as a process of its own, by its place below server/ without ending: its file, and the options
 * that Node needs for it, as source or as it was built.
 */
export function scriptOf(name: string): { file: string; options: string[] } {
  const own = import.meta.filename
  return own.endsWith('.ts')
    ? { file: join(dirname(own), '..', `${name}.ts`), options: ['--import', import.meta.resolve('tsx')] }
    : { file: join(dirname(own), `${name.split('/')[1]}.js`), options: ['--enable-source-maps'] }
}
