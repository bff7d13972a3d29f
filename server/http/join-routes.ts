import type Router from '@koa/router'
import Joi from 'joi'
import type Koa from 'koa'
import { line } from '#contract/common.ts'
import { joinFirmBody } from '#contract/people.ts'
import { invitation, takeUp } from '../areas/people/invite.ts'
import { patiently } from '../database/faults.ts'
import type { Engine } from '../engine/services.ts'
import type { Threads } from '../workers/threads.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import { checked } from './route.ts'
import { hashed } from './sessions.ts'

const keyShape = Joi.object<{ key: string }>({ key: line(100).required() })

interface Parts {
  readonly engine: Engine
  readonly threads: Threads
  readonly signIn: (ctx: Koa.Context, personId: number) => Promise<void>
  readonly changed: (() => void) | undefined
}

/** Taking up an invitation: open to whoever has its link. */
export function joinRoutes(router: Router, { engine, threads, signIn, changed }: Parts): void {
  router.get('/api/v1/join', (ctx) => {
    ctx.body = invitation(engine, checked(keyShape, { ...ctx.query }).key)
  })
  router.post('/api/v1/join', async (ctx) => {
    const { key, password } = checkedJson(joinFirmBody, await readText(ctx, STRANGERS_LIMIT))
    // Only a link that opens is worth a hash.
    invitation(engine, key)
    const hash = await hashed(threads, password)
    await signIn(ctx, await patiently(() => takeUp(engine, key, hash)))
    changed?.()
  })
}
