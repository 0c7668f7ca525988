import type { RequestHandler } from 'express'
import helmet from 'helmet'
import { say } from '#core/say.ts'
import { HttpRefusal } from './refusal.ts'

/** Names under which this machine reaches its own server; any other Host is a page that rebinds its address. */
const ownNames = ['127.0.0.1', 'localhost', '[::1]']
const isData = (path: string) => /^\/api(\/|$)/i.test(path)
const stranger = () => new HttpRefusal(403, say`Another website tried to reach Wisp Trail; it was refused.`)

/**
 * Answers only to its own pages. Whoever else runs a page on this machine has another port: it may neither write nor read.
 * `alsoFrom` is the port of the development server, which hands our pages out.
 */
export function onlyOwnPages(alsoFrom?: number): RequestHandler {
  return (request, _response, next) => {
    const ports = [request.socket.localPort, alsoFrom].filter((port) => port !== undefined)
    const own = ownNames.flatMap((name) => ports.map((port) => (port === 80 ? name : `${name}:${port}`)))
    const { host, origin } = request.headers
    if (!host || !own.includes(host.toLowerCase()))
      throw new HttpRefusal(403, say`Open Wisp Trail by its own address, http://127.0.0.1:${ports[0]!}.`)
    if (origin !== undefined && !own.some((one) => origin.toLowerCase() === `http://${one}`)) throw stranger()
    // A browser says who asks. Following a link to a page of ours is nobody's reading or writing.
    const site = request.headers['sec-fetch-site']
    const visits = request.method === 'GET' && request.headers['sec-fetch-mode'] === 'navigate'
    if (site !== undefined && site !== 'same-origin' && !(visits && (site === 'none' || !isData(request.path))))
      throw stranger()
    next()
  }
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
