// A PostgreSQL server of one's own for tests: on a socket in a temporary folder, without a network, gone with whoever started it.
import { execFileSync } from 'node:child_process'
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir, userInfo } from 'node:os'
import { join } from 'node:path'

const ROOT = '/usr/lib/postgresql'

/** Folder of PostgreSQL's programs: the newest version that is installed; null where there is none. */
export const postgresPrograms = () => {
  if (process.env.POSTGRES_BIN) return process.env.POSTGRES_BIN
  const versions = existsSync(ROOT) ? readdirSync(ROOT).filter((name) => existsSync(join(ROOT, name, 'bin/initdb'))) : []
  const newest = versions.sort((a, b) => Number(a) - Number(b)).at(-1)
  return newest === undefined ? null : join(ROOT, newest, 'bin')
}

/** How to get PostgreSQL where it is missing. */
export const HOW_TO_INSTALL =
  'PostgreSQL is not installed here. On Debian: apt-get install postgresql; elsewhere say where its programs are with POSTGRES_BIN.'

/** Server programs refuse to run as root: they then run as the user that the package made for them. */
const asItsUser = (program, args, options = {}) => {
  const isRoot = userInfo().uid === 0
  const command = isRoot ? ['setpriv', '--reuid=postgres', '--regid=postgres', '--clear-groups', program, ...args] : [program, ...args]
  execFileSync(command[0], command.slice(1), { stdio: 'ignore', cwd: tmpdir(), ...options })
}

/**
 * Starts a server; resolves with its address and how to stop it. `settings`: lines of its configuration, as name=value.
 * Throws with a sentence where PostgreSQL is not installed.
 */
export const startPostgres = (settings = []) => {
  const programs = postgresPrograms()
  if (!programs) throw new Error(HOW_TO_INSTALL)
  const folder = mkdtempSync(join(tmpdir(), 'ochote-pg-'))
  const data = join(folder, 'data')
  if (userInfo().uid === 0) execFileSync('chown', ['postgres:postgres', folder])
  chmodSync(folder, 0o755)
  asItsUser(join(programs, 'initdb'), ['-D', data, '-U', 'postgres', '--auth=trust', '--encoding=UTF8', '--locale=C.UTF-8'])
  const options = [`-k ${folder}`, "-c listen_addresses=''", '-c max_connections=200', ...settings.map((line) => `-c ${line}`)].join(' ')
  const control = (...args) => asItsUser(join(programs, 'pg_ctl'), ['-D', data, '-w', '-t', '60', ...args])
  const start = () => control('start', '-l', join(folder, 'log'), '-o', options)
  start()
  // A user as a school's server has one: it makes databases of its own, and is held by the rules of their rows.
  const asAdministrator = (program, ...args) => execFileSync(join(programs, program), ['--host', folder, '--username', 'postgres', ...args])
  asAdministrator('createuser', '--createdb', '--createrole', 'ochote')
  asAdministrator('createdb', '--owner', 'ochote', 'ochote')
  // A database of a test is dropped whatever PostgreSQL itself is doing in it.
  asAdministrator('psql', '--quiet', '--command', 'grant pg_signal_backend to ochote', 'postgres')
  return {
    url: `postgres://ochote@localhost/ochote?host=${encodeURIComponent(folder)}`,
    programs,
    start,
    /** `how`: fast, or immediate as when the power goes. */
    halt: (how = 'fast') => control('stop', '-m', how),
    stop: () => {
      try {
        control('stop', '-m', 'immediate')
      } finally {
        rmSync(folder, { recursive: true, force: true })
      }
    },
  }
}
