import { dirname, join } from 'node:path'

/**
 * A script of the server that runs as a process of its own, by its place below server/ without ending: its file, and the options
 * that Node needs for it, as source or as it was built. A server that runs from source takes built scripts from WISP_SCRIPTS, where
 * that names their folder: they start twice as fast.
 */
export function scriptOf(name: string): { file: string; options: string[] } {
  const own = import.meta.filename
  const isSource = own.endsWith('.ts')
  const built = isSource ? process.env.WISP_SCRIPTS : dirname(own)
  return built
    ? { file: join(built, `${name.split('/')[1]}.js`), options: ['--enable-source-maps'] }
    : { file: join(dirname(own), '..', `${name}.ts`), options: ['--import', import.meta.resolve('tsx')] }
}
