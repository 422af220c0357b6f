import { hostname } from 'node:os'
import type { RequestHandler } from 'express'
import helmet from 'helmet'
import type { Config } from '../config.ts'
import { HttpProblem, sendProblem } from './problems.ts'
import { networkAddresses } from './tls.ts'

/** True where every page is reached over a secure connection: by this server's own certificate, or through a proxy that has one. */
export const isSecure = ({ tls, address }: Config): boolean => tls.kind !== 'off' || (address?.startsWith('https:') ?? false)

const MONTH_S = 30 * 24 * 3600

/** Names of this very machine, at which other programs may answer without a certificate. */
const isLocal = (host: string): boolean => /^(localhost|127\.|\[?::1)/.test(host)

/** Asks browsers to come over a secure connection only, where there is one. */
const transportSecurity =
  (config: Config): RequestHandler =>
  (req, res, next) => {
    if (isSecure(config) && !isLocal(req.hostname)) res.setHeader('Strict-Transport-Security', `max-age=${MONTH_S}`)
    next()
  }

/** Security headers with a strict content policy. */
export const securityHeaders = (config: Config): RequestHandler[] => [transportSecurity(config), contentSecurity()]

const contentSecurity = (): RequestHandler =>
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

/** Names at which this server may be called: its own machine's, those of the command line. */
const namesOf = ({ address, hosts }: Config): Set<string> =>
  new Set(
    [
      'localhost',
      '127.0.0.1',
      '::1',
      hostname(),
      `${hostname()}.local`,
      ...networkAddresses(),
      ...hosts,
      ...(address ? [new URL(address).hostname] : []),
    ].map((name) => name.toLowerCase()),
  )

/**
 * Refuses calls to a name that is not this server's: a page elsewhere whose name was pointed here reads nothing (DNS rebinding). Behind
 * a proxy whose address was not given, the proxy decides.
 */
export const hostCheck = (config: Config): RequestHandler => {
  let names = namesOf(config)
  return (req, res, next) => {
    const name = (req.hostname ?? '').replace(/^\[|\]$/g, '').toLowerCase()
    const open = config.trustProxy && config.address === null && config.hosts.length === 0
    // A machine may have got another address since.
    if (!open && !names.has(name)) names = namesOf(config)
    if (open || names.has(name)) next()
    else
      sendProblem(
        res,
        new HttpProblem(
          421,
          'unknown-host',
          'This server is not known by the name in the address.',
          'Open it by an address that it prints when it starts, or start it with --allow-host and this name.',
        ),
      )
  }
}

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
