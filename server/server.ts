import { createServer, type Server } from 'node:http'
import { mkdirSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import pino, { type Logger } from 'pino'
import { openDatabase, type Database } from './database/open.ts'
import { smtpSender } from './delivery/smtp.ts'
import { startStandInMail, type Tray } from './delivery/stand-in-mail.ts'
import { handClock, systemClock, type HandClock } from './engine/clock.ts'
import { assemble } from './assembly.ts'
import { folderFiles } from './engine/files.ts'
import { createLoop } from './engine/loop.ts'
import type { Engine } from './engine/services.ts'
import { createApp } from './http/app.ts'
import { testControls } from './http/test-controls.ts'
import { startThreads } from './workers/threads.ts'

export interface ServerOptions {
  /** Folder of the database and files. */
  readonly data: string
  readonly port: number
  readonly host?: string
  readonly web?: string
  /** Mail goes to this server; left out, to the stand-in, which is started with the application. */
  readonly smtp?: { host: string; port: number; from: string }
  /** Stands still at this moment and adds the test-only controls. */
  readonly testNow?: number
  readonly log?: Logger
}

export interface Running {
  readonly port: number
  readonly engine: Engine
  readonly db: Database
  stop(): Promise<void>
}

/** Starts everything: database, engine loop, mail, HTTP. */
export async function startServer(options: ServerOptions): Promise<Running> {
  mkdirSync(options.data, { recursive: true })
  const log = options.log ?? pino({ level: process.env['FERNWICK_LOG'] ?? 'warn' })
  const db = openDatabase(join(options.data, 'fernwick.sqlite'))
  const hand: HandClock | null = options.testNow === undefined ? null : handClock(options.testNow)
  const clock = hand ?? systemClock
  const { engine, runner } = assemble(db, clock, log, folderFiles(join(options.data, 'files')))
  let tray: Tray | undefined
  if (!options.smtp) tray = await startStandInMail(join(options.data, 'mail'), () => clock.now())
  const mail = smtpSender(
    options.smtp ?? {
      host: '127.0.0.1',
      port: tray!.port,
      from: '"Fernwick" <fernwick@quillhaven.example>',
    },
  )

  const threads = startThreads(engine, options.data)
  const loop = createLoop({ engine, db, runner, send: mail.send, byHand: hand !== null })

  const app = createApp(engine, {
    ...(options.web && { web: options.web }),
    ...(tray && { tray }),
    threads,
    changed: loop.changed,
    ...(hand && {
      extra: testControls({ engine, runner, clock: hand, settle: loop.settle }),
    }),
  })
  const handle = app.callback()
  const server: Server = createServer((request, response) => void handle(request, response))
  // Longer than clients and proxies keep an idle connection: the side that closes first must not be
  // this one, in the middle of a request.
  server.keepAliveTimeout = 75_000
  server.headersTimeout = 80_000
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(options.port, options.host ?? '127.0.0.1', resolve)
  })
  void loop.settle()
  return {
    port: (server.address() as AddressInfo).port,
    engine,
    db,
    async stop() {
      loop.stop()
      const closed = new Promise<void>((resolve) => server.close(() => resolve()))
      server.closeAllConnections()
      await closed
      await loop.idle()
      await threads.close()
      mail.close()
      await tray?.close()
      db.close()
    },
  }
}
