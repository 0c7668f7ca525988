import { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { Router } from 'express'
import { say } from '#core/say.ts'
import { HttpRefusal } from './refusal.ts'

/** Packages whose files the interface may load; each ships a learned detector with its weights. */
const packages = ['face_mesh', 'hands', 'pose']

/** Hands out the files of the detectors as they lie in their packages, whole and unchanged, when somebody looks for something. */
export function detectorRoutes(): Router {
  const require = createRequire(import.meta.url)
  const routes = Router()
  routes.get('/:name/:file', (request, response, next) => {
    const { name, file } = request.params
    if (!packages.includes(name) || !/^[a-z_0-9]+\.(js|wasm|data|binarypb|tflite)$/.test(file))
      throw new HttpRefusal(404, say`There is no such file of a detector.`)
    const root = dirname(require.resolve(`@mediapipe/${name}/package.json`))
    response.sendFile(file, { root, maxAge: '1d' }, (error) => {
      if (error && !response.headersSent)
        next(
          new HttpRefusal(
            404,
            say`This detector is not installed. Run npm install again; everything else works without it.`,
          ),
        )
    })
  })
  return routes
}
