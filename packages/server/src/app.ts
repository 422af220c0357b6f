import { randomBytes } from 'node:crypto'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { api, type Network, openApiDocument } from '@ochote/contract'
import compression from 'compression'
import express, { type Express, type Request, type RequestHandler } from 'express'
import { rateLimit } from 'express-rate-limit'
import session from 'express-session'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { accountRoutes } from './accounts/routes.ts'
import { DatabaseSessionStore, SESSION_MS } from './accounts/session-store.ts'
import { carRoutes } from './cars/routes.ts'
import { circuitRoutes } from './circuits/routes.ts'
import type { Config } from './config.ts'
import { dayEventRoutes } from './days/events.ts'
import { dayRoutes } from './days/routes.ts'
import { completedMigrations, type Opened } from './db/open.ts'
import { brokenRows } from './db/stored.ts'
import { importProgressBoard } from './debrief/import-progress.ts'
import { type JudgeAnew, judgeAnew } from './debrief/judge-anew.ts'
import { debriefRoutes } from './debrief/routes.ts'
import { debriefService } from './debrief/service.ts'
import { type Mount, mounting } from './http/mount.ts'
import { HttpProblem, problemHandler, sendProblem } from './http/problems.ts'
import { originCheck, securityHeaders } from './http/security.ts'
import type { Jobs } from './jobs/jobs.ts'
import { type LiveDay, liveDay } from './live/live.ts'
import { liveRoutes } from './live/routes.ts'
import { portalRoutes } from './portal/routes.ts'
import { questionRoutes } from './questions/routes.ts'
import { recordRoutes } from './record/routes.ts'
import { leftBehindBy } from './record/service.ts'
import { runRoutes } from './runs/routes.ts'
import { schoolRoutes } from './school/routes.ts'
import { schoolSettingsRoutes } from './school-settings/routes.ts'
import { createStores, type Stores } from './stores.ts'
import { studentRoutes } from './students/routes.ts'
import { vehicleRoutes } from './vehicles/routes.ts'
import { venueRoutes } from './venues/routes.ts'

/** The key that signs session cookies: made once, kept in the database. */
const sessionSecret = async ({ db }: Opened): Promise<string> => {
  const stored = (await db('settings').where({ name: 'session-secret' }).first('value')) as { value: string } | undefined
  if (stored) return stored.value
  const value = randomBytes(32).toString('base64')
  await db('settings').insert({ name: 'session-secret', value })
  return value
}

/** A server that no other device reaches. */
const alone: Network = { addresses: [], onboarding: [], fingerprint: null }

/** The application's answers, and the running day behind them. */
export type App = { app: Express; live: LiveDay; judging: JudgeAnew }

/** The whole application over an opened database. The running day still has to be opened, and is closed by whoever did. */
export const createApp = async (opened: Opened, config: Config, jobs: Jobs, log: Logger, network = alone): Promise<App> => {
  const stores = createStores(opened)
  const live = liveDay(opened.db, stores, jobs, config, (error) => log.error(error))
  const app = express()
  app.disable('x-powered-by')
  if (config.trustProxy) app.set('trust proxy', 1)
  app.use(pinoHttp({ logger: log, redact: ['req.headers.cookie', 'res.headers["set-cookie"]'] }))
  app.use(securityHeaders(), compression(), originCheck)
  app.use('/api', sessions(opened, await sessionSecret(opened)), express.json({ limit: '2mb' }))
  app.post('/api/session', signInLimit())
  const whoIs = async (req: Request) => {
    const account = req.session.accountId ? await stores.accounts.byId(req.session.accountId) : null
    return account?.archivedAt ? null : account
  }
  const mount = mounting(app, config, whoIs)
  mountHealth(mount, opened, config)
  mount(api.network, async () => network)
  app.get('/api/openapi.json', (_req, res) => {
    res.json(openApiDocument(config.version))
  })
  const judging = mountRooms(mount, stores, jobs, live, config, (error) => log.error(error))
  schoolRoutes(mount, opened.db, live.runsChanged)
  app.use('/api', (_req, res) => sendProblem(res, new HttpProblem(404, 'not-found', 'Unknown API endpoint.', 'See /api/openapi.json.')))
  servePages(app, config.webDir)
  app.use(problemHandler)
  return { app, live, judging }
}

const sessions = ({ db }: Opened, secret: string): RequestHandler =>
  session({
    name: 'ochote.sid',
    secret,
    store: new DatabaseSessionStore(db),
    resave: false,
    rolling: true,
    saveUninitialized: false,
    cookie: { httpOnly: true, sameSite: 'strict', secure: 'auto', maxAge: SESSION_MS },
  })

/** Ten wrong passwords in five minutes, then a pause. */
const signInLimit = (): RequestHandler =>
  rateLimit({
    windowMs: 5 * 60_000,
    limit: 10,
    skipSuccessfulRequests: true,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_req, res) =>
      sendProblem(res, new HttpProblem(429, 'too-many-tries', 'Too many tries to sign in.', 'Wait five minutes, then try again.')),
  })

const mountHealth = (mount: Mount, { db, file }: Opened, config: Config): void =>
  mount(api.health, async () => ({
    status: 'ok' as const,
    version: config.version,
    database: {
      file,
      journal: String(((await db.raw('PRAGMA journal_mode')) as { journal_mode: string }[])[0]?.journal_mode),
    },
    migrations: await completedMigrations(db),
    broken: brokenRows(),
  }))

/** The endpoints of every noun, and the judging in the background that some of them ask for. */
const mountRooms = (
  mount: Mount,
  stores: Stores,
  jobs: Jobs,
  live: LiveDay,
  config: Config,
  onFailure: (error: unknown) => void,
): JudgeAnew => {
  const debriefs = debriefService(jobs, stores)
  const judging = judgeAnew(stores, debriefs, onFailure)
  const imports = importProgressBoard()
  const hasStudent = async (id: string): Promise<boolean> => (await stores.students.byId(id)) !== null
  const practice = async (): Promise<boolean> => (await stores.schoolSettings.read()).schoolSettings.practice
  const simulated = async () => ({ allowed: config.demo || (await practice()), practice: !config.demo })
  accountRoutes(mount, config, stores.accounts, practice)
  circuitRoutes(mount, stores.circuits, jobs)
  venueRoutes(mount, stores.venues)
  carRoutes(mount, stores.cars)
  vehicleRoutes(mount, stores.vehicles)
  studentRoutes(mount, stores.students, (studentId) => leftBehindBy(stores, studentId))
  dayRoutes(mount, stores, live.dayChanged)
  dayEventRoutes(mount, stores.days, stores.dayEvents, hasStudent, live.dayEvent)
  schoolSettingsRoutes(mount, stores.schoolSettings)
  questionRoutes(mount, stores.questions, stores.circuits)
  portalRoutes(mount, stores, jobs, debriefs, imports)
  runRoutes(mount, stores, { live, debriefs, judging, onFailure, simulated })
  liveRoutes(mount, live, stores.days, stores.runs, simulated)
  debriefRoutes(mount, stores, jobs, debriefs, imports)
  mount(api.judgingAnew, async () => judging.progress())
  recordRoutes(mount, stores)
  return judging
}

const servePages = (app: Express, webDir: string | null): void => {
  if (!webDir || !existsSync(join(webDir, 'index.html'))) return
  app.use(express.static(webDir, { index: false, maxAge: '1h', setHeaders: (res, file) => cacheForever(res, file) }))
  app.get('/{*path}', (_req, res) => {
    res.set('Cache-Control', 'no-cache').sendFile(join(webDir, 'index.html'))
  })
}

/** Files with a hash in their name never change; the service worker is fetched every time. */
const cacheForever = (res: { setHeader: (name: string, value: string) => void }, file: string): void => {
  if (file.endsWith('sw.js')) res.setHeader('Cache-Control', 'no-cache')
  if (file.includes('/assets/')) res.setHeader('Cache-Control', 'public, max-age=31536000, immutable')
}
