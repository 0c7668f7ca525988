// Runs a worker from its source: tests and development have no bundle.
import { workerData } from 'node:worker_threads'
import { register } from 'tsx/esm/api'

register()
await import(workerData.file)
