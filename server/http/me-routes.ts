import type Router from '@koa/router'
import type Koa from 'koa'
import { Refusal, refuse } from '#core/refusal.ts'
import { accountOf } from '#contract/firm.ts'
import { codeBody, passwordBody, sureBody } from '#contract/people.ts'
import { personById } from '../areas/people/queries.ts'
import { patiently } from '../database/faults.ts'
import type { Engine } from '../engine/services.ts'
import type { Threads } from '../workers/threads.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import type { Guesses } from './guesses.ts'
import {
  beginFactor,
  confirmFactor,
  dropFactor,
  factorSheet,
} from '../areas/people/second-factor.ts'
import type { Cookies } from './session-cookie.ts'
import {
  changePassword,
  checkPassword,
  closeOtherSessions,
  hashed,
  sessionsOf,
} from './sessions.ts'

interface Parts {
  readonly engine: Engine
  readonly cookies: Cookies
  readonly threads: Threads
  readonly guesses: Guesses
}

/** One's own password, and the browsers one is signed in at. */
export function meRoutes(router: Router, { engine, cookies, threads, guesses }: Parts): void {
  router.get('/api/v1/sessions', (ctx) => {
    const { id } = cookies.viewer(ctx)
    ctx.body = sessionsOf(engine, id, cookies.secret(ctx) ?? '')
  })
  router.delete('/api/v1/sessions', async (ctx) => {
    const { id } = cookies.viewer(ctx)
    await patiently(() => closeOtherSessions(engine, id, cookies.secret(ctx) ?? ''))
    ctx.status = 204
  })
  /** Whoever sits there knows the password of who is signed in. @throws Refusal `not-yours` */
  async function needPassword(ctx: Koa.Context, password: string, place: string): Promise<number> {
    const { id } = cookies.viewer(ctx)
    const account = accountOf(personById.get(engine.reader, { id })?.email ?? '')
    await guesses.begin(account, ctx.ip)
    try {
      await checkPassword(engine, threads, { account, password })
    } catch (error) {
      // What took too long, or failed, says nothing about the password.
      if (!(error instanceof Refusal) || error.code !== 'wrong-password') throw error
      refuse('not-yours', 'That is not your password now.', place)
    }
    await guesses.right(account, ctx.ip)
    return id
  }
  router.get('/api/v1/second-factor', (ctx) => {
    ctx.body = factorSheet(engine, cookies.viewer(ctx))
  })
  router.post('/api/v1/second-factor', async (ctx) => {
    const { password } = checkedJson(sureBody, await readText(ctx, STRANGERS_LIMIT))
    const id = await needPassword(ctx, password, 'password')
    ctx.body = await patiently(() => beginFactor(engine, id))
  })
  router.post('/api/v1/second-factor/confirm', async (ctx) => {
    const { id } = cookies.viewer(ctx)
    const { code } = checkedJson(codeBody, await readText(ctx, STRANGERS_LIMIT))
    await guesses.begin(`code of ${id}`, ctx.ip)
    ctx.body = await patiently(() => confirmFactor(engine, id, code))
    await guesses.right(`code of ${id}`, ctx.ip)
  })
  router.post('/api/v1/second-factor/off', async (ctx) => {
    const { password } = checkedJson(sureBody, await readText(ctx, STRANGERS_LIMIT))
    const id = await needPassword(ctx, password, 'password')
    await patiently(() => dropFactor(engine, id))
    ctx.status = 204
  })
  router.put('/api/v1/password', async (ctx) => {
    cookies.viewer(ctx)
    const { now, password } = checkedJson(passwordBody, await readText(ctx, STRANGERS_LIMIT))
    const id = await needPassword(ctx, now, 'now')
    const hash = await hashed(threads, password)
    await patiently(() => changePassword(engine, id, cookies.secret(ctx) ?? '', hash))
    ctx.status = 204
  })
}
