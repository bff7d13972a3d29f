import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { startServer } from './server.ts'
import { settingsOf } from './settings.ts'

// The program: settings from the environment, started, and stopped gracefully on a signal.
async function start() {
  const { web, smtp, testNow, address, nightly, ...settings } = settingsOf(process.env)
  return startServer({
    ...settings,
    ...(existsSync(join(web, 'index.html')) && { web }),
    ...(smtp && { smtp }),
    ...(address && { address }),
    ...(nightly && { nightly }),
    ...(testNow !== null && { testNow }),
  })
}

const running = await start().catch((error: NodeJS.ErrnoException) => {
  process.stderr.write(
    error.code === 'EADDRINUSE'
      ? `Port ${process.env['PORT'] ?? 4380} is taken; set PORT to another one.\n`
      : `Fernwick could not start: ${error.message}\n`,
  )
  process.exit(1)
})
const here = `http://127.0.0.1:${running.port}`
process.stdout.write(`Fernwick listens on ${here}\n`)
if (running.beginKey)
  process.stdout.write(
    `There is no firm yet: begin one there. From another machine, open /begin?key=${running.beginKey}\n`,
  )
let stopping = false
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    if (stopping) process.exit(1)
    stopping = true
    void running.stop().then(() => process.exit(0))
  })
