import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    include: ['{core,server,web,lab}/**/*.test.ts'],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    fileParallelism: true,
    maxWorkers: 2,
  },
})
