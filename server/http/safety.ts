import type { RequestHandler } from 'express'
import helmet from 'helmet'
import { HttpRefusal } from './refusal.ts'

/** Names under which this machine reaches its own server; any other Host is a page that rebinds its address. */
const own = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/

export const onlyOwnHost: RequestHandler = (request, _response, next) => {
  const { host, origin } = request.headers
  if (!host || !own.test(host))
    throw new HttpRefusal(403, 'Open Wisp Trail by its own address, http://127.0.0.1 with its port.')
  if (origin !== undefined && !(own.test(origin.replace(/^https?:\/\//, '')) && /^https?:/.test(origin)))
    throw new HttpRefusal(403, 'Another website tried to reach Wisp Trail; it was refused.')
  next()
}

const scripts = ["'self'", "'wasm-unsafe-eval'"]

/** Strict policy: nothing from elsewhere, nothing inline; workers and media are our own. COOP and COEP open shared memory. */
export const headers = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'none'"],
      // WebAssembly may be compiled; scripts still come from here alone.
      scriptSrc: scripts,
      styleSrc: ["'self'"],
      fontSrc: ["'self'"],
      imgSrc: ["'self'", 'blob:', 'data:'],
      mediaSrc: ["'self'", 'blob:'],
      connectSrc: ["'self'"],
      // The decoder of video with alpha starts its helpers from code of its own.
      workerSrc: ["'self'", 'blob:'],
      baseUri: ["'none'"],
      formAction: ["'none'"],
      frameAncestors: ["'none'"],
    },
  },
  strictTransportSecurity: false,
  crossOriginOpenerPolicy: { policy: 'same-origin' },
  crossOriginEmbedderPolicy: { policy: 'require-corp' },
  crossOriginResourcePolicy: { policy: 'same-origin' },
})

/**
 * The policy of the worker that runs the detectors, for itself alone: their bindings put functions together from text. It
 * loads scripts and data from here and nothing else, as everything does.
 */
export const detectorHeaders: RequestHandler = (request, response, next) => {
  if (/^\/assets\/detect\.worker-[\w-]+\.js$/.test(request.path))
    response.set(
      'Content-Security-Policy',
      `default-src 'none'; script-src ${scripts.join(' ')} 'unsafe-eval'; connect-src 'self'`,
    )
  next()
}
