import { copyFileSync, createWriteStream, existsSync, rmSync } from 'node:fs'
import { request } from 'node:http'
import { basename, join, resolve } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { parseArgs } from 'node:util'
import { createGzip } from 'node:zlib'
import type { Backup } from '@ochote/contract'
import type { Knex } from 'knex'
import { backupFolder, backupsIn, nameOf } from './backups/backup-files.ts'
import { backupService, keptElsewhere, type Restored } from './backups/backups.ts'
import { defaultConfig } from './config.ts'
import { DATABASE_FILE, damageOf, migrationsOf } from './db/checked.ts'
import { isHeld, lockFolder, socketIn } from './db/lock.ts'
import { markBack, markMoved, refuseMoved } from './db/moved.ts'
import { type Opened, openDatabase, openSchool } from './db/open.ts'
import { isPostgresUrl } from './db/postgres.ts'
import { HttpProblem } from './http/problems.ts'
import { withUnpacked } from './http/upload.ts'
import { directJobs } from './jobs/jobs.ts'
import { readArchive, writeArchive } from './school/archive.ts'
import { moveSchool } from './school/move.ts'

const usage = `bin/ochote backup  [--data DIR]                    make a backup and check it
bin/ochote backups [--data DIR]                    list the backups
bin/ochote restore NAME|FILE [--data DIR] [--dry-run]   restore one, or say what it would change
bin/ochote check   [--data DIR] [FILE]             read a database whole
bin/ochote export  FILE [--data DIR]               the whole school as one file
bin/ochote import  FILE [--data DIR]               read such a file into an empty school
bin/ochote move    --from DIR|URL --to DIR|URL [--data DIR] [--again]
                   copies a school from a folder to PostgreSQL, or back, and compares both; --again replaces what is there
The server may run or not, but for move, where it must not. --data is data/school unless it is given; --database (or DATABASE_URL) names a
school in PostgreSQL, with --data the folder of its secrets.`

const say = (line: string): void => void process.stdout.write(`${line}\n`)

/** Calls the server that works with a folder, over the socket in it: whoever may open that may read the folder anyway. */
const callServer = <T>(dataDir: string, method: string, path: string): Promise<T> =>
  new Promise((done, reject) => {
    const headers = { 'Sec-Fetch-Site': 'same-origin', Host: 'localhost' }
    const call = request({ socketPath: socketIn(dataDir), method, path, headers }, (res) => {
      const pieces: Buffer[] = []
      res.on('data', (piece: Buffer) => pieces.push(piece))
      res.on('end', () => {
        const body = JSON.parse(Buffer.concat(pieces).toString('utf8')) as T & { title?: string; remedy?: string }
        if (res.statusCode === 200) done(body)
        else reject(new Error(`${body.title ?? 'The server refused it.'} ${body.remedy ?? ''}`))
      })
    })
    call.on('error', (error) =>
      reject(new Error(`The server that works with ${dataDir} does not answer (${error.message}). Stop it and try again.`)),
    )
    call.end()
  })

/** Does some work with the database of a folder that no server works with. */
const alone = <T>(dataDir: string, database: string | null, work: (opened: Opened) => Promise<T>): Promise<T> =>
  whileLocked(dataDir, () => openSchool(dataDir, database), work)

const whileLocked = async <O extends Opened, T>(dataDir: string, open: () => Promise<O>, work: (opened: O) => Promise<T>): Promise<T> => {
  const lock = lockFolder(dataDir)
  try {
    const opened = await open()
    try {
      return await work(opened)
    } finally {
      await opened.db.destroy()
    }
  } finally {
    lock.release()
  }
}

const backup = (dataDir: string): Promise<Backup> =>
  isHeld(dataDir)
    ? callServer(dataDir, 'POST', '/api/backups')
    : alone(dataDir, null, (opened) => backupService({ opened, dataDir, jobs: directJobs() }).make('by-hand'))

/** The name of a backup in the folder; a file from elsewhere is copied there first. */
const nameIn = (dataDir: string, given: string): string => {
  if (backupsIn(dataDir).some((one) => one.name === given)) return given
  if (!existsSync(given))
    throw new Error(`There is no backup ${given}, neither in ${backupFolder(dataDir)} nor as a file. List them with: bin/ochote backups`)
  const name = nameOf(new Date(), 'by-hand')
  copyFileSync(given, join(backupFolder(dataDir), name))
  say(`${basename(given)} is kept among the backups as ${name}.`)
  return name
}

const restore = async (dataDir: string, given: string, dry: boolean): Promise<void> => {
  const name = nameIn(dataDir, given)
  const { at, tables } = await (isHeld(dataDir)
    ? callServer<Restored>(dataDir, dry ? 'GET' : 'POST', `/api/backups/${name}${dry ? '' : '/restored'}`)
    : alone(dataDir, null, (opened) => {
        const service = backupService({ opened, dataDir, jobs: directJobs() })
        return dry ? service.compare(name) : service.restore(name)
      }))
  const changed = tables.filter((t) => t.back + t.gone + t.other > 0)
  say(
    dry ? `The backup of ${at} would change:` : `Restored: the school is as it was at ${at}. What was there before is a backup of its own.`,
  )
  if (changed.length === 0) say('  nothing')
  for (const t of changed) say(`  ${t.table}: ${t.back} come back, ${t.gone} go, ${t.other} become as they were`)
}

/** A damaged database cannot be opened to be restored into: the backup takes its place, and it is kept beside. */
const replaceDamaged = (dataDir: string, given: string): boolean => {
  const file = join(dataDir, DATABASE_FILE)
  if (isHeld(dataDir) || !existsSync(file)) return false
  let damage: string | null
  try {
    damage = damageOf(file)
  } catch (error) {
    damage = error instanceof Error ? error.message : String(error)
  }
  if (damage === null) return false
  const backupFile = join(backupFolder(dataDir), nameIn(dataDir, given))
  if (damageOf(backupFile) !== null) throw new Error(`${given} is damaged too; nothing was changed.`)
  const aside = `${file}.damaged-${new Date().toISOString().replace(/[:.]/g, '-')}`
  const lock = lockFolder(dataDir)
  try {
    copyFileSync(file, aside)
    for (const end of ['-wal', '-shm']) if (existsSync(file + end)) copyFileSync(file + end, aside + end)
    for (const end of ['-wal', '-shm']) rmSync(file + end, { force: true })
    copyFileSync(backupFile, file)
  } finally {
    lock.release()
  }
  say(`The damaged database is kept as ${aside}; the backup has taken its place. Everybody signs in anew.`)
  return true
}

const check = (file: string): void => {
  const damage = damageOf(file)
  if (damage !== null) throw new Error(`${file} is damaged: ${damage}`)
  say(`${file} is whole; its schema is ${migrationsOf(file).at(-1) ?? 'empty'}.`)
}

const exportSchool = async (dataDir: string, database: string | null, file: string): Promise<void> => {
  const packed = createGzip()
  const written = pipeline(packed, createWriteStream(file, { mode: 0o600 }))
  const write = async (opened: Opened): Promise<void> => {
    await writeArchive(opened, packed)
    packed.end()
    await written
  }
  // Reading needs no server to stop: one moment's state is read beside it.
  if (database !== null || isHeld(dataDir)) {
    const opened = await openSchool(dataDir, database)
    await write(opened)
    await opened.db.destroy()
  } else await alone(dataDir, null, write)
  say(`The school is in ${file}.`)
}

/** One side of a move: a folder, or a database whose secrets are in a folder. */
const side = async <T>(where: string, dataDir: string, work: (db: Knex) => Promise<T>): Promise<T> => {
  if (isPostgresUrl(where)) {
    const { db } = await openSchool(dataDir, where)
    return work(db).finally(() => db.destroy())
  }
  return whileLocked(
    resolve(where),
    () => openDatabase(resolve(where)),
    ({ db }) => work(db),
  )
}

const move = async (from: string | undefined, to: string | undefined, data: string | undefined, again: boolean): Promise<void> => {
  if (!from || !to) throw new Error(`bin/ochote move needs --from and --to.\n${usage}`)
  const folder = [from, to].find((where) => !isPostgresUrl(where))
  const dataDir = resolve(data ?? folder ?? 'data/school')
  // The state that was left behind would take the place of what was done since.
  if (!isPostgresUrl(from) && !again) refuseMoved(resolve(from))
  const held = await side(from, dataDir, (source) => side(to, dataDir, (target) => moveSchool(source, target, { again, tell: say })))
  if (!isPostgresUrl(from) && isPostgresUrl(to)) markMoved(resolve(from), to)
  if (!isPostgresUrl(to)) markBack(resolve(to))
  const rows = held.reduce((sum, one) => sum + one.rows, 0)
  say(
    `${rows} rows in ${held.length} tables were copied, and are the same there by count and hash. What was copied stays where it was${isPostgresUrl(from) ? '' : ', and is not opened by accident any more'}.`,
  )
  say(`Secrets and recordings stay in ${dataDir}: start the server with --data ${dataDir}.`)
}

const main = async (): Promise<void> => {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      data: { type: 'string' },
      database: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      again: { type: 'boolean', default: false },
      'dry-run': { type: 'boolean', default: false },
      help: { type: 'boolean', short: 'h' },
    },
  })
  const [command, given] = positionals
  const dataDir = resolve(values.data ?? 'data/school')
  const database = values.database ?? process.env.DATABASE_URL ?? null
  if (values.help || !command) return say(usage)
  if (command === 'move') return move(values.from, values.to, values.data, values.again)
  if (!existsSync(dataDir)) throw new Error(`${dataDir} does not exist. Name the folder of the school with --data.`)
  const needed = (): string => {
    if (given === undefined) throw new Error(`bin/ochote ${command} needs a file.\n${usage}`)
    return given
  }
  // A file that was left in the folder by a move is not the school any more.
  if (database !== null && (command === 'backup' || command === 'restore')) throw keptElsewhere()
  switch (command) {
    case 'backup': {
      const { name, size_bytes } = await backup(dataDir)
      return say(`${join(backupFolder(dataDir), name)} (${(size_bytes / 1e6).toFixed(1)} MB), checked.`)
    }
    case 'backups':
      for (const one of backupsIn(dataDir))
        say(`${one.at}  ${one.reason.padEnd(15)} ${(one.size_bytes / 1e6).toFixed(1).padStart(8)} MB  ${one.name}`)
      return
    case 'restore':
      return !values['dry-run'] && replaceDamaged(dataDir, needed()) ? undefined : restore(dataDir, needed(), values['dry-run'])
    case 'check':
      return check(given ? resolve(given) : join(dataDir, DATABASE_FILE))
    case 'export':
      return exportSchool(dataDir, database, resolve(needed()))
    case 'import': {
      const config = defaultConfig(dataDir)
      const rows = await alone(dataDir, database, ({ db }) => withUnpacked(resolve(needed()), config, (path) => readArchive(db, path)))
      return say(`${rows} rows were read. Start the server; people sign in with the passwords they had.`)
    }
    default:
      throw new Error(`bin/ochote does not know “${command}”.\n${usage}`)
  }
}

main().catch((error: unknown) => {
  const remedy = error instanceof HttpProblem ? ` ${error.remedy}` : ''
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}${remedy}\n`)
  process.exitCode = 1
})
