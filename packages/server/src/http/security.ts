import type { RequestHandler } from 'express'
import helmet from 'helmet'
import { HttpProblem, sendProblem } from './problems.ts'

/** Security headers with a strict content policy; transport security is left to whoever puts TLS in front. */
export const securityHeaders = (): RequestHandler =>
  helmet({
    strictTransportSecurity: false,
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        workerSrc: ["'self'"],
        connectSrc: ["'self'"],
        fontSrc: ["'self'"],
        manifestSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        frameAncestors: ["'none'"],
        formAction: ["'self'"],
      },
    },
  })

const reads = new Set(['GET', 'HEAD', 'OPTIONS'])

/** Refuses writes that a page of another origin sent: browsers name their origin on every write. */
export const originCheck: RequestHandler = (req, res, next) => {
  if (reads.has(req.method)) {
    next()
    return
  }
  const { origin } = req.headers
  const sameOrigin = origin === undefined ? req.headers['sec-fetch-site'] === 'same-origin' : hostOf(origin) === req.host
  if (sameOrigin) next()
  else
    sendProblem(
      res,
      new HttpProblem(
        403,
        'foreign-origin',
        'This write did not come from this application’s own pages.',
        'Open the application itself and try again there.',
      ),
    )
}

const hostOf = (origin: string): string | null => {
  try {
    return new URL(origin).host
  } catch {
    return null
  }
}
