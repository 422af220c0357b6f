import { parseArgs } from 'node:util'
import { CoreError, describeError } from '@ochote/core'
import { analyse } from './analyse.ts'
import { cones } from './cones.ts'
import { day } from './day.ts'
import { line } from './line.ts'
import { marks } from './marks.ts'
import { UsageError } from './options.ts'

const usage = `ochote: track lines and logs from the command line

  ochote line --circuit FILE --vehicle FILE#ID [--method smoothest|shortest|fast|late|wet|compact]
              [--pace 1] [--surface dry] [--school trail] [--margin 0.5] [--timing] [--out line.csv]
  ochote marks --circuit FILE --vehicle FILE#ID [--pace 0.75 [--force]] [--surface dry|damp|wet|standing]
              [--school straight|blend|trail] [--method smoothest] [--margin 0.5] [--timing] [--out marks.json]
  ochote cones --day FILE | --circuit FILE --vehicle FILE#ID [--level first-day|building|steady] [--scheme ID]
              [--pace 0.75] [--surface dry] [--school straight] [--timing] [--out sheet.csv|.gpx|.geojson]
  ochote analyse --circuit FILE --log FILE [--vehicle FILE#ID] [--reference auto|plan|lap:N|best]
              [--map mapping.json] [--pace 0.75] [--surface dry] [--school straight] [--method smoothest] [--timing] [--out findings.json]
  ochote day --in day.json [--seconds 20 | --steps N] [--seed 1] [--out plan.json]

Plans take --lowest-gear N (second for cars where none is given) and, for compact, --per-metre S: what a metre of path costs.
Circuit files: CSV, GeoJSON, GPX or KML (--width M: half width where the file has none; --track NAME of several;
--reverse: driven the other way round; --swapped: latitude and longitude are the wrong way round; --open: a course that does not lead back, entered at --entry KMH). --timing prints how long the parts took.
The reference of a log is found where none is named: the plan of the vehicle whose braking style, line and pace explain the drive best,
or the quickest lap (best) where none does or no vehicle is given; plan takes --school, --method and --pace.
Logs: tables of any header (columns are guessed; --map names them: {"speed": {"column": "V", "unit": "mph"}, …}), GPX, NMEA 0183 or
JSON lines, .gz too; FILE,FILE joins the files of one run.
A circuit without a place on Earth is laid on the log by its shape, or by --origin LAT,LON.
Day files are saved on the Cones page (Save as, Day file).
Without --out the result goes to standard output.
`

const options = {
  circuit: { type: 'string' },
  day: { type: 'string' },
  level: { type: 'string' },
  scheme: { type: 'string' },
  vehicle: { type: 'string' },
  log: { type: 'string' },
  map: { type: 'string' },
  reference: { type: 'string' },
  method: { type: 'string' },
  reverse: { type: 'boolean' },
  open: { type: 'boolean' },
  swapped: { type: 'boolean' },
  entry: { type: 'string' },
  timing: { type: 'boolean' },
  force: { type: 'boolean' },
  pace: { type: 'string' },
  surface: { type: 'string', default: 'dry' },
  school: { type: 'string' },
  margin: { type: 'string' },
  'lowest-gear': { type: 'string' },
  'per-metre': { type: 'string' },
  width: { type: 'string' },
  track: { type: 'string' },
  origin: { type: 'string' },
  in: { type: 'string' },
  seconds: { type: 'string' },
  steps: { type: 'string' },
  seed: { type: 'string' },
  out: { type: 'string' },
  help: { type: 'boolean', default: false },
} as const

/** Runs one command; the exit code is 0 for success, 1 for bad input, 2 for a wrong call. */
const main = async (): Promise<number> => {
  try {
    const { values, positionals } = parseArgs({ options, allowPositionals: true })
    const command = positionals[0]
    if (values.help || command === undefined || command === 'help') {
      process.stdout.write(usage)
      return values.help || command === 'help' ? 0 : 2
    }
    if (command === 'line') await line(values)
    else if (command === 'marks') await marks(values)
    else if (command === 'cones') await cones(values)
    else if (command === 'analyse') await analyse(values)
    else if (command === 'day') await day(values)
    else throw new UsageError(`There is no command “${command}”.`)
    return 0
  } catch (error) {
    if (error instanceof CoreError) {
      const words = describeError(error)
      process.stderr.write(`${words.message}\n  at: ${words.place}\n  ${words.remedy}\n`)
      return 1
    }
    if (error instanceof UsageError || (error as NodeJS.ErrnoException).code?.startsWith('ERR_PARSE_ARGS')) {
      process.stderr.write(`${(error as Error).message}\n\n${usage}`)
      return 2
    }
    // A fault of the command, not of its user: told in one line, which is what a report of it needs.
    process.stderr.write(`The command failed: ${(error as Error).message}. Nothing was written; please report it with the file.\n`)
    return 1
  }
}

process.exitCode = await main()
