import type Router from '@koa/router'
import Joi from 'joi'
import type Koa from 'koa'
import { refuse } from '#core/refusal.ts'
import { line, shape } from '#contract/common.ts'
import { accountOf } from '#contract/firm.ts'
import { AT_HEADER } from '#contract/headers.ts'
import type { Access } from '#contract/words.ts'
import { whoAmI } from '../areas/people/directory.ts'
import { hasBegun } from '../areas/firm/begin.ts'
import { patiently } from '../database/faults.ts'
import type { Engine } from '../engine/services.ts'
import type { Threads } from '../workers/threads.ts'
import { beginRoutes } from './begin-routes.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import { forgottenRoutes } from './forgotten-routes.ts'
import { countGuesses } from './guesses.ts'
import { joinRoutes } from './join-routes.ts'
import { meRoutes } from './me-routes.ts'
import { tokenRoutes } from './token-routes.ts'
import { takeCode } from '../areas/people/second-factor.ts'
import type { Cookies } from './session-cookie.ts'
import { checkPassword, closeSession, firstWith, openSession, viewerOf } from './sessions.ts'

const credentials = shape<{ email: string; password: string; code?: string }>({
  email: line(200).required(),
  password: Joi.string().min(1).max(200).required(),
  code: line(40),
})
const DEMO = ['manager', 'member', 'contractor', 'client'] as const satisfies readonly Access[]
const demoWho = shape<{ who: (typeof DEMO)[number] }>({ who: Joi.valid(...DEMO).required() })

interface Parts {
  readonly engine: Engine
  readonly cookies: Cookies
  readonly threads: Threads
  /** What a server without a firm says as it starts. */
  readonly beginKey: string | null
  readonly changed: (() => void) | undefined
}

/** Signing in and out: the addresses that are open to everybody. */
export function sessionRoutes(router: Router, parts: Parts): void {
  const { engine, cookies, threads, beginKey, changed } = parts
  const guesses = countGuesses()
  const signIn = async (ctx: Koa.Context, personId: number) => {
    const secret = await patiently(() => openSession(engine, personId))
    const viewer = viewerOf(engine, secret) ?? refuse('not-signed-in', 'Sign in first.')
    cookies.set(ctx, secret)
    ctx.body = whoAmI(engine, viewer)
  }

  router.get('/api/v1/session', (ctx) => {
    const viewer = cookies.visitor(ctx)
    const { firm } = engine
    ctx.set(AT_HEADER, String(engine.journal.told))
    const me = viewer && whoAmI(engine, viewer)
    const mayForget = engine.address !== null
    ctx.body = { begun: hasBegun(engine), demo: firm.demo(), firm: firm.name(), mayForget, me }
  })
  beginRoutes(router, { engine, threads, signIn, changed, key: beginKey })
  meRoutes(router, { engine, cookies, threads, guesses })
  tokenRoutes(router, { engine, cookies })
  forgottenRoutes(router, { engine, threads, changed })
  joinRoutes(router, { engine, threads, signIn, changed })
  router.post('/api/v1/session', async (ctx) => {
    const body = checkedJson(credentials, await readText(ctx, STRANGERS_LIMIT))
    const account = accountOf(body.email)
    await guesses.begin(account, ctx.ip)
    const personId = await checkPassword(engine, threads, { account, password: body.password })
    // A right password without its code counts as a guess: codes are short.
    await patiently(() => takeCode(engine, personId, body.code))
    await guesses.right(account, ctx.ip)
    await signIn(ctx, personId)
  })
  router.post('/api/v1/session/demo', async (ctx) => {
    if (!engine.firm.demo()) refuse('not-found', 'This firm has no one-click sign-in.')
    const { who } = checkedJson(demoWho, await readText(ctx, STRANGERS_LIMIT))
    const found = firstWith.get(engine.reader, { access: who })
    await signIn(ctx, found?.id ?? refuse('not-found', 'The demo has nobody like that.'))
  })
  router.delete('/api/v1/session', async (ctx) => {
    const secret = cookies.secret(ctx)
    if (secret) await patiently(() => closeSession(engine, secret))
    cookies.set(ctx, null)
    ctx.status = 204
  })
}
