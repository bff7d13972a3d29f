import { existsSync } from 'node:fs'
import { join } from 'node:path'
import Router from '@koa/router'
import Koa from 'koa'
import compress from 'koa-compress'
import helmet from 'koa-helmet'
import send from 'koa-send'
import type Joi from 'joi'
import { refuse } from '#core/refusal.ts'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'
import type { Tray } from '../delivery/stand-in-mail.ts'
import { Download } from './download.ts'
import { liveStream } from './live.ts'
import { openApi } from './openapi.ts'
import { problems } from './problem.ts'
import type { Route } from './route.ts'
import { credentials, demoWho, me, ROUTES } from './routes.ts'
import {
  checkPassword,
  closeSession,
  createLimiter,
  openSession,
  SESSION_DAYS,
  viewerOf,
} from './sessions.ts'

export interface AppOptions {
  /** The built interface; left out in tests of the API alone. */
  readonly web?: string
  readonly tray?: Tray
  /** Routes that only tests switch on. */
  readonly extra?: (router: Router) => void
  /** Told after every request that may have changed something. */
  readonly changed?: () => void
}

const COOKIE = 'fernwick'
const BODY_LIMIT = 2 * 1024 * 1024
const SAFE = new Set(['GET', 'HEAD', 'OPTIONS'])
const DEMO_ACCESS = {
  manager: "access = 'manager'",
  member: "access = 'member'",
  contractor: "access = 'contractor'",
  client: "access = 'client'",
}

/**
 * Writes come from our own pages only: the browser says where from, and anything that does not say
 * is refused.
 */
const sameOrigin: Koa.Middleware = async (ctx, next) => {
  if (!SAFE.has(ctx.method)) {
    const origin = ctx.get('Origin')
    const site = ctx.get('Sec-Fetch-Site')
    const own = origin
      ? URL.canParse(origin) && new URL(origin).host === ctx.host
      : site === 'same-origin'
    if (!own) refuse('cross-site', 'Changes are taken from Fernwick’s own pages only.')
  }
  await next()
}

async function readBytes(ctx: Koa.Context, limit: number): Promise<Buffer> {
  const tooLarge = (): never =>
    refuse(
      'too-large',
      `What was sent is over ${Math.round(limit / 1024 / 1024)} MB; send less at a time.`,
    )
  if (Number(ctx.get('Content-Length') || 0) > limit) tooLarge()
  const parts: Buffer[] = []
  let size = 0
  for await (const part of ctx.req as AsyncIterable<Buffer>) {
    size += part.length
    if (size > limit) tooLarge()
    parts.push(part)
  }
  return Buffer.concat(parts)
}

async function readJson(ctx: Koa.Context): Promise<unknown> {
  if (!ctx.is('json')) refuse('wrong-type', 'Send JSON, with Content-Type: application/json.')
  const bytes = await readBytes(ctx, BODY_LIMIT)
  try {
    return JSON.parse(bytes.toString('utf8')) as unknown
  } catch {
    return refuse('bad-json', 'The body is not JSON.')
  }
}

function checked(schema: Joi.Schema, value: unknown, convert: boolean): unknown {
  const { error, value: clean } = schema.validate(value, { abortEarly: false, convert }) as {
    error?: Error
    value: unknown
  }
  if (error) throw error
  return clean
}

/** Answers a repeated creation with what the first one answered. */
function once(
  engine: Engine,
  viewer: Viewer,
  key: string,
  request: string,
  work: () => unknown,
): unknown {
  return engine.journal.together(() => {
    const found = engine.db
      .prepare('select request, answer from idempotency where personId = ? and key = ?')
      .get(viewer.id, key) as { request: string; answer: string } | undefined
    if (found)
      return found.request === request
        ? (JSON.parse(found.answer) as unknown)
        : refuse(
            'key-reused',
            'This idempotency key was used for something else; use a new one.',
            'Idempotency-Key',
          )
    const answer = work()
    engine.journal.change({ kind: 'person', id: viewer.id }, (write) =>
      write.insert('idempotency', {
        key,
        personId: viewer.id,
        request,
        answer: JSON.stringify(answer ?? null),
        at: write.at,
      }),
    )
    return answer
  })
}

/**
 * A file is data, whatever it holds: nothing in it may run or reach out, and only our own pages may
 * frame it.
 */
function sendBytes(ctx: Koa.Context, { name, type, bytes, inline }: Download): void {
  ctx.set({
    'Content-Type': !inline
      ? type.split(';')[0]!
      : type.startsWith('text/')
        ? 'text/plain; charset=utf-8'
        : type,
    'Content-Disposition': `${inline ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}`,
    'Content-Security-Policy': `default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'${type === 'application/pdf' ? '' : '; sandbox'}`,
    'X-Frame-Options': 'SAMEORIGIN',
    'Cache-Control': 'private, no-cache',
  })
  ctx.body = bytes
}

/**
 * The Koa application over an engine: security headers, errors, sessions, the API and the
 * interface.
 */
export function createApp(engine: Engine, options: AppOptions = {}): Koa {
  const app = new Koa()
  const limiter = createLimiter(() => engine.clock.now())
  app.on('error', (error: { code?: string; expose?: boolean }) => {
    if (
      error.code !== 'ERR_STREAM_PREMATURE_CLOSE' &&
      error.code !== 'ECONNRESET' &&
      error.code !== 'EPIPE' &&
      !error.expose
    )
      engine.log.error({ err: error }, 'request failed')
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use(compress({ threshold: 1024 }))
  app.use(problems)
  app.use(sameOrigin)

  const router = new Router()
  const cookie = (ctx: Koa.Context, secret: string | null) =>
    ctx.cookies.set(COOKIE, secret, {
      httpOnly: true,
      sameSite: 'lax',
      secure: ctx.secure,
      maxAge: secret === null ? 0 : SESSION_DAYS * 86_400_000,
      overwrite: true,
    })
  const asker = (ctx: Koa.Context): Viewer =>
    viewerOf(engine, ctx.cookies.get(COOKIE)) ?? refuse('not-signed-in', 'Sign in first.')
  const signIn = (ctx: Koa.Context, personId: number) => {
    const secret = openSession(engine, personId)
    cookie(ctx, secret)
    ctx.body = me(engine, viewerOf(engine, secret)!)
  }
  const isDemo = () =>
    (engine.db.prepare('select demo from firm where id = 1').get() as { demo: number } | undefined)
      ?.demo === 1

  router.get('/healthz', (ctx) => {
    engine.db.prepare('select 1').get()
    ctx.body = { ok: true }
  })
  router.get('/api/v1/openapi.json', (ctx) => {
    ctx.body = openApi(ROUTES)
  })
  router.get('/api/v1/session', (ctx) => {
    const viewer = viewerOf(engine, ctx.cookies.get(COOKIE))
    ctx.body = { demo: isDemo(), firm: engine.firm.name(), me: viewer && me(engine, viewer) }
  })
  router.post('/api/v1/session', async (ctx) => {
    const { email, password } = checked(credentials, await readJson(ctx), false) as {
      email: string
      password: string
    }
    const keys = [`ip ${ctx.ip}`, `mail ${email.toLowerCase()}`]
    keys.forEach(limiter.check)
    try {
      const personId = await checkPassword(engine, email, password)
      keys.forEach(limiter.clear)
      signIn(ctx, personId)
    } catch (error) {
      keys.forEach(limiter.failed)
      throw error
    }
  })
  router.post('/api/v1/session/demo', async (ctx) => {
    if (!isDemo()) refuse('not-found', 'This firm has no one-click sign-in.')
    const { who } = checked(demoWho, await readJson(ctx), false) as {
      who: keyof typeof DEMO_ACCESS
    }
    const found = engine.db
      .prepare(`select id from people where ${DEMO_ACCESS[who]} and active = 1 order by id limit 1`)
      .get() as { id: number } | undefined
    signIn(ctx, found?.id ?? refuse('not-found', 'The demo has nobody like that.'))
  })
  router.delete('/api/v1/session', (ctx) => {
    const secret = ctx.cookies.get(COOKIE)
    if (secret) closeSession(engine, secret)
    cookie(ctx, null)
    ctx.status = 204
  })
  router.get('/api/v1/live', (ctx) => {
    const viewer = asker(ctx)
    ctx.set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache, no-transform',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    })
    ctx.compress = false
    ctx.body = liveStream(engine, viewer)
  })
  router.get('/api/v1/mail', async (ctx) => {
    asker(ctx)
    if (!isDemo() || !options.tray) refuse('not-found', 'The mail tray is part of the demo only.')
    ctx.body = await options.tray.list()
  })

  const serve =
    (def: Route): Koa.Middleware =>
    async (ctx) => {
      const viewer = asker(ctx)
      const params: Record<string, number> = {}
      for (const [name, text] of Object.entries(ctx['params'] as Record<string, string>))
        params[name] = /^\d{1,15}$/.test(text)
          ? Number(text)
          : refuse('not-found', `There is nothing at ${ctx.path}.`)
      const query = def.query ? checked(def.query, { ...ctx.query }, true) : {}
      const raw = def.raw
        ? await readBytes(ctx, def.raw.limit)
        : def.body
          ? await readJson(ctx)
          : undefined
      const body = def.body ? checked(def.body, raw, false) : raw
      const match = /^(?:W\/)?"?(\d+)"?$/.exec(ctx.get('If-Match'))
      const work = () =>
        def.handle({
          engine,
          viewer,
          params,
          query: query as never,
          body: body as never,
          seen: match ? Number(match[1]) : null,
        })
      const key = ctx.get('Idempotency-Key')
      const before = engine.journal.latest()
      const given =
        key && def.method === 'post' && !def.raw
          ? once(engine, viewer, key.slice(0, 100), `${ctx.path} ${JSON.stringify(body)}`, work)
          : work()
      // Which change this made, so that it can be taken back whole.
      if (engine.journal.latest() > before)
        ctx.set('Fernwick-Change', String(engine.journal.latest()))
      const answer: unknown = await given
      if (answer instanceof Download) return sendBytes(ctx, answer)
      if (answer === undefined || answer === null) ctx.status = 204
      else {
        ctx.status = def.status ?? 200
        ctx.body = answer
        const version = (answer as { version?: unknown }).version
        if (typeof version === 'number') ctx.set('ETag', `"${version}"`)
      }
      ctx.set('Cache-Control', 'no-store')
      if (def.method !== 'get') options.changed?.()
    }
  for (const def of ROUTES) router[def.method](`/api/v1${def.path}`, serve(def))
  options.extra?.(router)
  app.use(router.routes())
  app.use(router.allowedMethods())

  const { web } = options
  if (web && existsSync(join(web, 'index.html')))
    app.use(async (ctx) => {
      if (ctx.method !== 'GET' && ctx.method !== 'HEAD') return
      if (ctx.path.startsWith('/api/')) return
      const asset = ctx.path.startsWith('/assets/')
      if (asset || /\.[a-z0-9]+$/i.test(ctx.path))
        await send(ctx, ctx.path, {
          root: web,
          ...(asset && { maxage: 365 * 86_400_000, immutable: true }),
        })
      else await send(ctx, 'index.html', { root: web, maxage: 0 })
    })
  return app
}
