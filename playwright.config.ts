import { defineConfig } from '@playwright/test'

const args =
  '--no-sandbox --disable-gpu --disable-dev-shm-usage --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'

export default defineConfig({
  testDir: 'lab/browser',
  // One after the other: two cores, and each test runs a server, a browser and its workers. Two at a time take as long.
  workers: 1,
  timeout: 240_000,
  expect: { timeout: 30_000 },
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 30_000,
    screenshot: 'only-on-failure',
    launchOptions: { executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: args.split(' ') },
  },
})
