// Development: the server is rebuilt and restarted on change, the pages reload by themselves. Demo data, kept in data/dev.
import { spawn } from 'node:child_process'
import { mkdirSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { context } from 'esbuild'
import { createServer } from 'vite'
import { serverBuild } from './build.mjs'

const { values } = parseArgs({ options: { port: { type: 'string', default: '4180' }, data: { type: 'string', default: 'data/dev' } } })
mkdirSync(values.data, { recursive: true })

let server = null
const start = () => {
  const running = spawn(
    'node',
    ['--enable-source-maps', 'packages/server/dist/main.mjs', '--demo', '--data', values.data, '--port', values.port],
    {
      stdio: 'inherit',
    },
  )
  server = running
}
const restart = () => {
  if (!server || server.exitCode !== null) return start()
  server.once('exit', start)
  server.kill('SIGTERM')
}

const build = await context({
  ...serverBuild(),
  plugins: [
    {
      name: 'restart',
      setup: ({ onEnd }) =>
        onEnd(({ errors }) => {
          if (errors.length === 0) restart()
        }),
    },
  ],
})
await build.watch()

const pages = await createServer({
  root: 'packages/web',
  configFile: 'packages/web/vite.config.ts',
  server: { proxy: { '/api': { target: `http://127.0.0.1:${values.port}`, changeOrigin: true } } },
})
await pages.listen()
pages.printUrls()

const stop = async () => {
  server?.removeAllListeners('exit')
  server?.kill('SIGTERM')
  await Promise.all([build.dispose(), pages.close()])
  process.exit(0)
}
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
