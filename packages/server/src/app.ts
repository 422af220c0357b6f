import { randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { api, type Network, openApiDocument } from '@ochote/contract'
import compression from 'compression'
import express, { type Express, type RequestHandler } from 'express'
import session from 'express-session'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { pairingTable } from './accounts/pairings.ts'
import { accountRoutes } from './accounts/routes.ts'
import { COOKIE_MS, DatabaseSessionStore, sessionTable } from './accounts/sessions.ts'
import { triesTable } from './accounts/tries.ts'
import { type BackupService, backupSchedule, backupService } from './backups/backups.ts'
import { backupRoutes } from './backups/routes.ts'
import { carRoutes } from './cars/routes.ts'
import { circuitRoutes } from './circuits/routes.ts'
import { clockState } from './clock/clock.ts'
import type { Config } from './config.ts'
import { dayEventRoutes } from './days/event-routes.ts'
import { dayRoutes } from './days/routes.ts'
import { completedMigrations, databaseState, type Opened } from './db/open.ts'
import { present } from './db/present.ts'
import { brokenRows } from './db/stored.ts'
import { importProgressBoard } from './debrief/import-progress.ts'
import { type JudgeAnew, judgeAnew } from './debrief/judge-anew.ts'
import { debriefRoutes } from './debrief/routes.ts'
import { debriefService } from './debrief/service.ts'
import { gate } from './http/gate.ts'
import { identityReader } from './http/identity.ts'
import { type Mount, mounting } from './http/mount.ts'
import { HttpProblem, problemHandler, sendProblem, toLog, withoutTokens } from './http/problems.ts'
import { hostCheck, isSecure, originCheck, securityHeaders } from './http/security.ts'
import { uploadGate } from './http/upload-gate.ts'
import type { Jobs } from './jobs/jobs.ts'
import { type LiveDay, liveDay } from './live/live.ts'
import { liveRoutes } from './live/routes.ts'
import { type ServerMetrics, serverMetrics } from './metrics/metrics.ts'
import { portalRoutes } from './portal/routes.ts'
import { questionRoutes } from './questions/routes.ts'
import { recordRoutes } from './record/routes.ts'
import { leftBehindBy } from './record/service.ts'
import { runEnding } from './runs/ending.ts'
import { runRoutes } from './runs/routes.ts'
import { schoolRoutes } from './school/routes.ts'
import { schoolSettingsRoutes } from './school-settings/routes.ts'
import { type StorageWatch, storageWatch } from './storage/storage.ts'
import { createStores } from './stores.ts'
import { studentRoutes } from './students/routes.ts'
import { trailRoutes } from './trail/routes.ts'
import { trailTable } from './trail/store.ts'
import { vehicleRoutes } from './vehicles/routes.ts'
import { venueRoutes } from './venues/routes.ts'

/** A server that no other device reaches. */
const alone: Network = { addresses: [], onboarding: [], fingerprint: null }

/** The application's answers, and what runs behind them. */
export type App = {
  app: Express
  live: LiveDay
  judging: JudgeAnew
  storage: StorageWatch
  backups: BackupService
  /**
   * Opens the running day and goes on with what a server that was killed left. Resolves once the day is open. `onPortsFailed`: its
   * receivers have no ports, all else runs; `onOwned`, `onDisowned`: of the processes of a school this one has become, or is no longer, the
   * one that does what is done once.
   */
  begin: (told?: { onPortsFailed?: (error: unknown) => void; onOwned?: () => void; onDisowned?: () => void }) => Promise<void>
  /** Resolves when what was left is dealt with; for tests. */
  resumed: () => Promise<void>
  close: () => Promise<void>
}

/** Everything that the routes of an application share. */
type Parts = ReturnType<typeof partsOf>

const partsOf = (opened: Opened, config: Config, jobs: Jobs, log: Logger) => {
  const { db, secrets } = opened
  const stores = createStores(opened)
  const failures = { count: 0 }
  const storage = storageWatch(config.dataDir, { warns: config.diskWarning })
  const onFailure = (error: unknown): void => {
    failures.count++
    if (!storage.failed(error)) log.error(toLog(error))
  }
  const live = liveDay(db, stores, jobs, config, onFailure)
  const tries = triesTable(db)
  const trail = trailTable(db)
  const debriefs = debriefService(jobs, stores)
  return {
    ...{ opened, config, jobs, log, db, secrets, stores, failures, storage, onFailure, live, tries, trail, debriefs },
    here: present(db, onFailure),
    sessions: sessionTable(db),
    pairings: pairingTable(db, secrets),
    judging: judgeAnew(stores, debriefs, onFailure),
    ending: runEnding({ runs: stores.runs, live, debriefs, onFailure }),
    imports: importProgressBoard(),
    ...withSchedule(backupService({ opened, dataDir: config.dataDir, jobs }), live, onFailure),
  }
}

const withSchedule = (backups: BackupService, live: LiveDay, onFailure: (error: unknown) => void) => ({
  backups,
  schedule: backupSchedule(backups, live.isUnderWay, onFailure),
})

/** The whole application over an opened database. Whoever made it lets it begin, and closes it. */
export const createApp = (opened: Opened, config: Config, jobs: Jobs, log: Logger, network = alone): App => {
  const parts = partsOf(opened, config, jobs, log)
  const { stores, live, judging, storage, backups, schedule, ending, onFailure } = parts
  const metrics = metricsOf(parts)
  const maintenance = { restoring: false }
  const app = express()
  app.disable('x-powered-by')
  if (config.trustProxy) app.set('trust proxy', 1)
  app.use('/api', metrics.timed)
  app.use(requestLog(log), securityHeaders(config), compression(), hostCheck(config), originCheck)
  app.use('/api', whileRestoring(maintenance), sessionMiddleware(parts), express.json({ limit: '2mb' }))
  const mount = mounting(app, config, {
    identify: identityReader(stores.accounts, parts.pairings),
    gate: gate(stores, parts.tries, parts.trail),
    uploads: uploadGate(config.uploadLimit, storage, parts.here),
  })
  mountServer(mount, parts, network)
  mount(api.metrics, async ({ res }) => {
    res.type(metrics.contentType).send(await metrics.text())
    return undefined
  })
  mountRooms(mount, parts)
  backupRoutes(mount, backups, restoringIn(parts, maintenance))
  app.get('/api/openapi.json', (_req, res) => {
    res.json(openApiDocument(config.version))
  })
  app.use('/api', (_req, res) => sendProblem(res, new HttpProblem(404, 'not-found', 'Unknown API endpoint.', 'See /api/openapi.json.')))
  servePages(app, config.webDir)
  app.use(problemHandler(onFailure))

  let resuming: Promise<void> = Promise.resolve()
  return {
    ...{ app, live, judging, storage, backups },
    begin: async ({ onPortsFailed = onFailure, onOwned = () => {}, onDisowned = () => {} } = {}) => {
      await storage.check()
      await live
        .open(onPortsFailed, {
          onOwned: () => {
            resuming = ending.resume().catch(onFailure)
            onOwned()
          },
          onDisowned,
          onEndedElsewhere: () => void ending.due().catch(onFailure),
        })
        .catch(onFailure)
    },
    resumed: async () => {
      await live.begun()
      await resuming
    },
    close: async () => {
      schedule.close()
      storage.close()
      parts.here.close()
      await judging.close()
      await live.begun()
      await resuming
      await ending.settled()
      await live.close()
    },
  }
}

const metricsOf = ({ storage, live, failures, backups }: Parts): ServerMetrics =>
  serverMetrics({
    storage,
    live,
    failures,
    newestBackup: () => {
      const newest = backups.newest()
      return newest && Date.parse(newest.at)
    },
  })

/** Requests in the log: method, path without tokens and queries, status, time, and an id; no headers, no bodies. */
const requestLog = (log: Logger): RequestHandler =>
  pinoHttp({
    logger: log,
    genReqId: () => randomUUID(),
    serializers: {
      req: ({ id, method, url }: { id: string; method: string; url: string }) => ({ id, method, path: withoutTokens(url) }),
      res: ({ statusCode }: { statusCode: number }) => ({ status: statusCode }),
      err: toLog,
    },
  })

/** Answers nothing but its health while the database is being replaced. */
const whileRestoring =
  (maintenance: { restoring: boolean }): RequestHandler =>
  (req, res, next) => {
    if (!maintenance.restoring || req.path === '/health') next()
    else
      sendProblem(
        res,
        new HttpProblem(
          503,
          'restoring',
          'A backup is being restored.',
          'Wait a minute. What was touched on the track is kept on its device and sent by itself.',
        ),
      )
  }

/** Halts all answers while a backup is restored, and lets the running day begin anew from what it holds. */
const restoringIn =
  ({ live }: Parts, maintenance: { restoring: boolean }) =>
  async <T>(restore: () => Promise<T>): Promise<T> => {
    maintenance.restoring = true
    try {
      return await restore()
    } finally {
      maintenance.restoring = false
      await live.runsChanged()
    }
  }

/** The name of the session's cookie. Over secure connections browsers refuse it from any other host or path. */
const cookieName = (config: Config): string => (isSecure(config) ? '__Host-ochote' : 'ochote.sid')

const sessionMiddleware = ({ db, secrets, config }: Parts): RequestHandler =>
  session({
    name: cookieName(config),
    secret: secrets.keyText('sessions'),
    store: new DatabaseSessionStore(db),
    resave: false,
    rolling: true,
    saveUninitialized: false,
    cookie: {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      secure: isSecure(config) ? true : 'auto',
      maxAge: COOKIE_MS,
    },
  })

/** What is told of the server itself. */
const mountServer = (mount: Mount, parts: Parts, network: Network): void => {
  const { db, opened, config, storage, live, backups, schedule, failures, trail } = parts
  mount(api.health, async () => ({ status: 'ok' as const }))
  mount(api.network, async () => network)
  mount(api.serverState, async () => ({
    storage: storage.state(),
    held: live.held(),
    clock: clockState(),
    backupFailed: schedule.failed(),
  }))
  mount(api.serverHealth, async () => ({
    version: config.version,
    database: { ...(await databaseState(opened)), checkedAt: config.startedAt },
    migrations: await completedMigrations(db),
    broken: brokenRows(),
    storage: await storage.check(),
    backup: backups.newest(),
    failures: failures.count,
  }))
  trailRoutes(mount, trail)
}

/** The endpoints of every noun. */
const mountRooms = (mount: Mount, parts: Parts): void => {
  const { config, stores, jobs, live, debriefs, judging, ending, imports, onFailure } = parts
  const hasStudent = async (id: string): Promise<boolean> => (await stores.students.byId(id)) !== null
  const practice = async (): Promise<boolean> => (await stores.schoolSettings.read()).schoolSettings.practice
  const simulated = async () => ({ allowed: config.demo || (await practice()), practice: !config.demo })
  accountRoutes(mount, { ...parts, accounts: stores.accounts, practice })
  circuitRoutes(mount, stores.circuits, jobs)
  venueRoutes(mount, stores.venues)
  carRoutes(mount, stores.cars)
  vehicleRoutes(mount, stores.vehicles, jobs)
  studentRoutes(mount, stores.students, { leftOf: (id) => leftBehindBy(stores, id), onErased: live.erased })
  dayRoutes(mount, stores, live.dayChanged)
  dayEventRoutes(mount, stores.days, stores.dayEvents, hasStudent, live.dayEvent)
  schoolSettingsRoutes(mount, stores.schoolSettings)
  questionRoutes(mount, stores.questions, stores.circuits)
  portalRoutes(mount, stores, jobs, debriefs, imports)
  runRoutes(mount, stores, { live, ending, judging, onFailure, simulated })
  liveRoutes(mount, live, stores, simulated, parts.here)
  debriefRoutes(mount, stores, jobs, debriefs, imports)
  mount(api.judgingAnew, async () => judging.progress())
  recordRoutes(mount, stores)
  schoolRoutes(mount, parts.opened, live.runsChanged)
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
