import type Router from '@koa/router'
import Joi from 'joi'
import type Koa from 'koa'
import { refuse } from '#core/refusal.ts'
import { line, shape } from '#contract/common.ts'
import type { Access } from '#contract/words.ts'
import { whoAmI } from '../areas/people/directory.ts'
import type { Engine } from '../engine/services.ts'
import { readJson } from './body.ts'
import { checked } from './route.ts'
import type { Cookies } from './session-cookie.ts'
import {
  checkPassword,
  closeSession,
  createLimiter,
  firstWith,
  openSession,
  viewerOf,
} from './sessions.ts'

const credentials = shape<{ email: string; password: string }>({
  email: line(200).required(),
  password: Joi.string().min(1).max(200).required(),
})
const DEMO = ['manager', 'member', 'contractor', 'client'] as const satisfies readonly Access[]
const demoWho = shape<{ who: (typeof DEMO)[number] }>({ who: Joi.valid(...DEMO).required() })

/** Signing in and out: the addresses that are open to everybody. */
export function sessionRoutes(router: Router, engine: Engine, cookies: Cookies): void {
  const limiter = createLimiter(() => engine.clock.now())
  const signIn = (ctx: Koa.Context, personId: number) => {
    const secret = openSession(engine, personId)
    const viewer = viewerOf(engine, secret) ?? refuse('not-signed-in', 'Sign in first.')
    cookies.set(ctx, secret)
    ctx.body = whoAmI(engine, viewer)
  }

  router.get('/api/v1/session', (ctx) => {
    const viewer = cookies.visitor(ctx)
    const { firm } = engine
    ctx.body = { demo: firm.demo(), firm: firm.name(), me: viewer && whoAmI(engine, viewer) }
  })
  router.post('/api/v1/session', async (ctx) => {
    const { email, password } = checked(credentials, await readJson(ctx))
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
    if (!engine.firm.demo()) refuse('not-found', 'This firm has no one-click sign-in.')
    const { who } = checked(demoWho, await readJson(ctx))
    const found = firstWith.get(engine.reader, { access: who })
    signIn(ctx, found?.id ?? refuse('not-found', 'The demo has nobody like that.'))
  })
  router.delete('/api/v1/session', (ctx) => {
    const secret = cookies.secret(ctx)
    if (secret) closeSession(engine, secret)
    cookies.set(ctx, null)
    ctx.status = 204
  })
}
