import { createRequire } from 'node:module'

/** OpenCV's module is a thenable that never settles: it is waited for by its callback and handed over in a box. */
export async function openCv() {
  // Required, not imported: a test runner may hand out the thenable as the module itself, and await it for ever.
  const loaded = createRequire(import.meta.url)('@techstark/opencv-js') as unknown as {
    onRuntimeInitialized: () => void
    Mat?: unknown
  }
  if (!loaded.Mat) await new Promise<void>((done) => (loaded.onRuntimeInitialized = done))
  return { cv: loaded as unknown as typeof import('@techstark/opencv-js') }
}
