import { randomBytes } from 'node:crypto'
import type { Server } from 'node:http'
import { mkdirSync } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import pino, { type Logger } from 'pino'
import { holdFolder } from './database/lock.ts'
import { openDatabase, type Database } from './database/open.ts'
import { firmSender } from './delivery/firm-mail.ts'
import { smtpSender } from './delivery/smtp.ts'
import { startStandInMail } from './delivery/stand-in-mail.ts'
import { handClock, systemClock, type HandClock } from './engine/clock.ts'
import { assemble } from './assembly.ts'
import { hasBegun } from './areas/firm/begin.ts'
import { dropUnfinished, folderFiles } from './engine/files.ts'
import { createLoop } from './engine/loop.ts'
import type { Engine, Told } from './engine/services.ts'
import { createApp } from './http/app.ts'
import { createListener } from './http/listener.ts'
import { createLive } from './http/live.ts'
import { createNightly, type Nightly } from './nightly.ts'
import { countRequests } from './http/under-way.ts'
import { testControls } from './http/test-controls.ts'
import { startThreads, type Threads } from './workers/threads.ts'

export interface ServerOptions {
  /** Folder of the database and files. */
  readonly data: string
  readonly port: number
  readonly host?: string
  readonly web?: string
  /** Mail goes to this server; left out, to the stand-in, which is started with the application. */
  readonly smtp?: { host: string; port: number; from: string }
  /** The address people open. */
  readonly address?: URL
  /** How many proxies stand in front. */
  readonly proxies?: number
  /** How long requests and mails under way may still take when it stops, in milliseconds. */
  readonly grace?: number
  /** Copies of the firm, once a night; left out, none are made. */
  readonly nightly?: Nightly
  /** Stands still at this moment and adds the test-only controls. */
  readonly testNow?: number
  readonly log?: Logger
}

export interface Running {
  readonly port: number
  /** Asked of who begins a firm from another machine; null where there is one. */
  readonly beginKey: string | null
  readonly engine: Engine
  readonly db: Database
  /** Whether somebody waits for an answer. */
  busy(): boolean
  /** Takes nothing new, lets what is under way end within its grace, and closes everything. */
  stop(): Promise<void>
}

/** How long requests and mails under way may still take when a server stops. */
const GRACE = 8_000
const within = (wait: number, work: Promise<unknown>): Promise<unknown> => {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise((resolve) => {
    timer = setTimeout(resolve, wait)
  })
  return Promise.race([work, late]).finally(() => clearTimeout(timer))
}

/** Takes no new requests, lets those under way end, and cuts off what takes longer than the grace. */
async function closeServer(server: Server, grace: number): Promise<void> {
  const closed = new Promise<void>((resolve) => server.close(() => resolve()))
  const sweep = setInterval(() => server.closeIdleConnections(), 50)
  await within(grace, closed)
  clearInterval(sweep)
  server.closeAllConnections()
  await closed
}

/** An application listening, with how many of its requests are under way. */
async function listen(app: ReturnType<typeof createApp>, { port, host }: ServerOptions) {
  const server = createListener(app)
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, host ?? '127.0.0.1', resolve)
  })
  return server
}

/** Where mail goes: to the server named, to the firm’s own, or to the stand-in, started for it. */
async function startMail({ smtp, data }: ServerOptions, { reader, clock }: Engine) {
  if (smtp) return { sender: smtpSender(smtp), tray: undefined }
  const tray = await startStandInMail(join(data, 'mail'), () => clock.now())
  const from = '"Fernwick" <fernwick@quillhaven.example>'
  return { sender: firmSender(reader, { host: '127.0.0.1', port: tray.port, from }), tray }
}

/** Starts everything: database, engine loop, mail, HTTP. @throws Error that says what is in the way */
export async function startServer(options: ServerOptions): Promise<Running> {
  mkdirSync(options.data, { recursive: true })
  const letGo = holdFolder(options.data)
  try {
    const db = openDatabase(join(options.data, 'fernwick.sqlite'))
    return await startOn(db, options, letGo)
  } catch (error) {
    letGo()
    throw error
  }
}

/** What goes beside the loop: the nightly copy, where one is wanted. */
function besideOf(engine: Engine, threads: Threads, nightly?: Nightly): { beside?: () => void } {
  if (!nightly) return {}
  const copies = createNightly(engine, threads.copy, nightly)
  return { beside: () => void copies.look() }
}

/** What is asked of who begins a firm from another machine; null where there is one. */
const keyFor = (engine: Engine): string | null =>
  hasBegun(engine) ? null : randomBytes(18).toString('base64url')

const toldOf = ({ address, proxies = 0, smtp }: ServerOptions): Told => ({
  ...{ address: address ?? null, proxies, mail: smtp !== undefined },
})

async function startOn(db: Database, options: ServerOptions, letGo: () => void): Promise<Running> {
  const { data, web, address, proxies, testNow, nightly, grace = GRACE } = options
  const log = options.log ?? pino({ level: process.env['FERNWICK_LOG'] ?? 'warn' })
  const hand: HandClock | null = testNow === undefined ? null : handClock(testNow)
  const clock = hand ?? systemClock
  const folder = join(data, 'files')
  dropUnfinished(folder)
  const around = { log, files: folderFiles(folder), told: toldOf(options) }
  const { engine, runner, chores } = assemble(db, clock, around)
  const mail = await startMail(options, engine)
  const threads = startThreads(engine, data)
  const underWay = countRequests()
  const loop = createLoop({
    ...besideOf(engine, threads, nightly),
    ...{ engine, db, runner, chores, send: mail.sender.send },
    ...{ byHand: hand !== null, busy: underWay.some },
  })
  const live = createLive(engine)
  const beginKey = keyFor(engine)
  const app = createApp(engine, {
    ...{ threads, live, underWay, changed: loop.changed },
    ...(web && { web }),
    beginKey,
    send: mail.sender.send,
    ...(mail.tray && { tray: mail.tray }),
    ...(address && { address }),
    ...(proxies && { proxies }),
    ...(hand && { extra: testControls({ engine, runner, clock: hand, settle: loop.settle }) }),
  })
  const server = await listen(app, options)
  void loop.settle()
  return {
    beginKey,
    port: (server.address() as AddressInfo).port,
    engine,
    db,
    busy: underWay.some,
    async stop() {
      loop.stop()
      live.closeAll()
      await closeServer(server, grace)
      await within(grace, loop.idle())
      mail.sender.close()
      await within(grace, Promise.all([mail.tray?.close(), threads.close()]))
      db.close()
      letGo()
    },
  }
}
