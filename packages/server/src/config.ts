import { join, resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { VERSION } from '@ochote/contract'

/** Configuration of a server. */
export type Config = {
  host: string
  port: number
  dataDir: string
  /** First of the ports on which receivers send; null opens none. */
  receiverPort: number | null
  /** Folder of the built pages; null serves the API alone. */
  webDir: string | null
  demo: boolean
  version: string
  /** Uploads beyond this are refused (bytes). */
  uploadLimit: number
  /** Validates every answer against the contract; for tests. */
  checkResponses: boolean
  logLevel: string
}

/** Defaults for everything but the folder of the data. */
export const defaultConfig = (dataDir: string): Config => ({
  host: '127.0.0.1',
  port: 4180,
  dataDir,
  receiverPort: null,
  webDir: null,
  demo: false,
  version: VERSION,
  uploadLimit: 64 * 1024 * 1024,
  checkResponses: false,
  logLevel: 'info',
})

/** Receivers of servers side by side must not meet: sixteen ports for each port of pages. */
const receiverPortFor = (port: number): number => 10_000 + ((port * 16) % 20_000)

/** Reads the command line of the server. @throws Error with a sentence for wrong options */
export const readConfig = (args: string[], root: string): Config => {
  const { values } = parseArgs({
    args,
    options: {
      port: { type: 'string' },
      host: { type: 'string' },
      data: { type: 'string' },
      demo: { type: 'boolean', default: false },
      'receiver-port': { type: 'string' },
    },
  })
  const port = Number(values.port ?? 4180)
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Error(`--port takes a number from 1 to 65535, not “${values.port}”.`)
  const receiverPort = Number(values['receiver-port'] ?? receiverPortFor(port))
  if (!Number.isInteger(receiverPort) || receiverPort < 1 || receiverPort > 65_500)
    throw new Error(`--receiver-port takes a number from 1 to 65500, not “${values['receiver-port']}”.`)
  return {
    ...defaultConfig(resolve(values.data ?? join(root, 'data'))),
    host: values.host ?? '127.0.0.1',
    port,
    receiverPort,
    demo: values.demo,
    webDir: join(root, 'packages/web/dist'),
    logLevel: process.env.OCHOTE_LOG ?? 'warn',
  }
}
