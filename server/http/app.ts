import { constants } from 'node:zlib'
import Router from '@koa/router'
import Koa from 'koa'
import compress from 'koa-compress'
import helmet from 'koa-helmet'
import { refuse } from '#core/refusal.ts'
import type { Tray } from '../delivery/stand-in-mail.ts'
import { personById } from '../areas/people/queries.ts'
import { needFactor } from '../areas/people/second-factor.ts'
import { firmRow } from '../engine/queries.ts'
import type { Mail } from '../engine/outbox.ts'
import type { Engine } from '../engine/services.ts'
import { isGuest } from '../engine/viewer.ts'
import { withoutThreads, type Threads } from '../workers/threads.ts'
import type { Live } from './live.ts'
import { feedRoute } from './feed-route.ts'
import { firmRoutes } from './firm-routes.ts'
import { openApi } from './openapi.ts'
import { sameOrigin } from './origin.ts'
import { ROUTES } from './routes/index.ts'
import { problems, serve } from './serve.ts'
import { answerTogether, TOGETHER } from './together.ts'
import { nameOf } from './route.ts'
import { sessionCookies } from './session-cookie.ts'
import { sessionRoutes } from './session-routes.ts'
import type { UnderWay } from './under-way.ts'
import { serveInterface } from './static.ts'

export interface AppOptions {
  /** The built interface; left out in tests of the API alone. */
  readonly web?: string
  readonly tray?: Tray
  /** Where what takes long is done; left out, on the spot. */
  readonly threads?: Threads
  readonly live: Live
  readonly underWay?: UnderWay
  /** The address people open, where somebody said. */
  readonly address?: URL
  /** What a server without a firm says as it starts: asked of who begins one from elsewhere. */
  readonly beginKey?: string | null
  /** Sends a mail at once; left out, none can be tried. */
  readonly send?: (mail: Mail) => Promise<void>
  /** How many proxies in front are believed. */
  readonly proxies?: number
  /** Routes that only tests switch on. */
  readonly extra?: (router: Router) => void
  /** Told after every request that may have changed something. */
  readonly changed?: () => void
}

/** Connections that ended before their answer did: nothing went wrong here. */
const GONE = new Set(['ERR_STREAM_PREMATURE_CLOSE', 'ECONNRESET', 'EPIPE'])

/**
 * Answers are packed quickly, not tightly: on the way of a request, most of what packing saves is
 * saved by its first step.
 */
const QUICK = {
  gzip: { level: 1 },
  br: { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } },
}

const headers = helmet({
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
})

/** The Koa application over an engine: security headers, errors, sessions, API and interface. */
export function createApp(engine: Engine, options: AppOptions): Koa {
  const { web, tray, extra, changed, live, underWay, address, proxies = 0 } = options
  const { threads = withoutThreads(engine) } = options
  // Who came, and by what, is believed of so many proxies and of nobody else.
  const app = new Koa(proxies ? { proxy: true, maxIpsCount: proxies } : {})
  app.on('error', (error: { code?: string; expose?: boolean }) => {
    if (!GONE.has(error.code ?? '') && !error.expose)
      engine.log.error({ err: error }, 'request failed')
  })
  // The firm may say so itself, where the server was not told.
  app.use((_, next) => {
    const believed = proxies || (engine.firm.proxies() ?? 0)
    app.proxy = believed > 0
    app.maxIpsCount = believed
    return next()
  })
  if (underWay) app.use(underWay.count)
  app.use(headers)
  app.use(compress({ threshold: 1024, ...QUICK }))
  app.use(problems)
  app.use(sameOrigin(address))

  const router = new Router()
  const cookies = sessionCookies(engine, address)
  router.get('/healthz', (ctx) => {
    firmRow.get(engine.reader)
    ctx.body = { ok: true }
  })
  router.get('/api/v1/openapi.json', (ctx) => {
    ctx.body = openApi(ROUTES, { '/together': TOGETHER })
  })
  sessionRoutes(router, { engine, cookies, threads, beginKey: options.beginKey ?? null, changed })
  router.get('/api/v1/live', (ctx) => {
    needFactor(engine, cookies.viewer(ctx))
    ctx.set({
      'Content-Type': 'text/event-stream',
      'Cache-Control': 'no-cache, no-transform',
      Connection: 'keep-alive',
      'X-Accel-Buffering': 'no',
    })
    ctx.compress = false
    ctx.body = live.open(() => cookies.visitor(ctx))
  })
  router.get('/api/v1/mail', async (ctx) => {
    const viewer = cookies.viewer(ctx)
    if (!engine.firm.demo() || !tray) refuse('not-found', 'The mail tray is part of the demo only.')
    const mails = await tray.list()
    // Guests read what came to them, and nothing else.
    const own = personById.get(engine.reader, { id: viewer.id })?.email
    ctx.body = isGuest(viewer) ? mails.filter((mail) => mail.to === own) : mails
  })
  firmRoutes(router, { engine, cookies, send: options.send })
  const serving = { engine, cookies, threads, ...(changed && { changed }) }
  for (const route of ROUTES)
    router[route.method](nameOf(route), `/api/v1${route.path}`, serve(serving, route))
  feedRoute(router, serving)
  router.get('/api/v1/together', answerTogether({ serving, router, routes: ROUTES }))
  extra?.(router)
  app.use(router.routes())
  app.use(router.allowedMethods())
  if (web) serveInterface(app, web)
  return app
}
