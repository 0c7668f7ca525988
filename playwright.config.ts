import { defineConfig } from '@playwright/test'

const args =
  '--no-sandbox --disable-gpu --disable-dev-shm-usage --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'

export default defineConfig({
  testDir: 'lab/browser',
  // Two at a time: each test runs a server, a browser and its workers, and waits more than it works.
  workers: 2,
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
