import type Router from '@koa/router'
import { refuse } from '#core/refusal.ts'
import { accountOf } from '#contract/firm.ts'
import { passwordBody } from '#contract/people.ts'
import { personById } from '../areas/people/queries.ts'
import { patiently } from '../database/faults.ts'
import type { Engine } from '../engine/services.ts'
import type { Threads } from '../workers/threads.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import type { Guesses } from './guesses.ts'
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
  router.put('/api/v1/password', async (ctx) => {
    const { id } = cookies.viewer(ctx)
    const { now, password } = checkedJson(passwordBody, await readText(ctx, STRANGERS_LIMIT))
    const account = accountOf(personById.get(engine.reader, { id })?.email ?? '')
    await guesses.begin(account, ctx.ip)
    try {
      await checkPassword(engine, threads, { account, password: now })
    } catch {
      refuse('not-yours', 'That is not your password now.', 'now')
    }
    await guesses.right(account, ctx.ip)
    const hash = await hashed(threads, password)
    await patiently(() => changePassword(engine, id, cookies.secret(ctx) ?? '', hash))
    ctx.status = 204
  })
}
