import tailwind from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { join } from 'node:path'
import { defineConfig } from 'vite'

const page = (name: string) => join(import.meta.dirname, name)

/** Scripts that have to import something before it counts as shared by most. */
const minShareCount = 4
const entryFileNames = ({ name }: { name: string }) => (name === 'bench' ? 'bench.js' : 'assets/[name]-[hash].js')

/** `--mode bench` adds the script that the benchmark drives, in a folder of its own. */
export default defineConfig(({ mode }) => ({
  root: 'web',
  plugins: [vue(), tailwind()],
  worker: { format: 'es' },
  build: {
    outDir: mode === 'bench' ? '../dist/bench' : '../dist/web',
    emptyOutDir: true,
    target: 'es2023',
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        // What most screens share comes in two files: each takes its time, however short it is. What is needed before the
        // language is known comes before them: their tables of texts are read when they are.
        codeSplitting: {
          groups: [
            {
              name: 'language',
              test: /\/core\/say\.ts|\/web\/(language|project\/ahead)/,
              minShareCount: 2,
              priority: 1,
            },
            { name: 'libraries', test: /node_modules/, minShareCount },
            { name: 'shared', test: /\/(core|web)\//, minShareCount },
          ],
        },
        ...(mode === 'bench' ? { entryFileNames } : {}),
      },
      ...(mode === 'bench' ? { input: { index: page('web/index.html'), bench: page('lab/speed/page.ts') } } : {}),
    },
  },
  server: {
    host: '127.0.0.1',
    port: 5173,
    // As the server sends them: decoded frames lie in shared memory.
    headers: { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' },
    // With its slash: the interface has a file api.ts of its own.
    proxy: { '/api/': 'http://127.0.0.1:4310' },
  },
}))
