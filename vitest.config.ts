import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['{core,server,web,lab}/**/*.test.ts'],
    globalSetup: 'scripts/builtScripts.mjs',
    testTimeout: 60_000,
    hookTimeout: 60_000,
    fileParallelism: true,
    maxWorkers: 2,
  },
})
