import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { startServer } from './server.ts'

// The program: settings from the environment, started, and stopped gracefully on a signal.
const env = process.env
const data = resolve(env['FERNWICK_DATA'] ?? 'data')
const web = resolve(env['FERNWICK_WEB'] ?? 'dist/web')
const smtp = env['FERNWICK_SMTP'] ? new URL(env['FERNWICK_SMTP']) : null
const port = Number(env['PORT'] ?? 4380)
const running = await startServer({
  data,
  port,
  host: env['HOST'] ?? '127.0.0.1',
  ...(existsSync(join(web, 'index.html')) && { web }),
  ...(smtp && {
    smtp: {
      host: smtp.hostname,
      port: Number(smtp.port || 25),
      from: env['FERNWICK_MAIL_FROM'] ?? 'fernwick@localhost',
    },
  }),
  ...(env['FERNWICK_TEST_NOW'] && { testNow: Date.parse(env['FERNWICK_TEST_NOW']) }),
}).catch((error: NodeJS.ErrnoException) => {
  process.stderr.write(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken; set PORT to another one.\n`
      : `Fernwick could not start: ${error.message}\n`,
  )
  process.exit(1)
})
process.stdout.write(`Fernwick listens on http://127.0.0.1:${running.port}\n`)
let stopping = false
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    if (stopping) process.exit(1)
    stopping = true
    void running.stop().then(() => process.exit(0))
  })
