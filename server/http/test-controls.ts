import type Router from '@koa/router'
import type { HandClock } from '../engine/clock.ts'
import { inTurn } from '../engine/loop.ts'
import type { Runner } from '../engine/runner.ts'
import type { Engine } from '../engine/services.ts'

interface Parts {
  readonly engine: Engine
  readonly runner: Runner
  readonly clock: HandClock
  readonly settle: () => Promise<void>
}

/**
 * Controls that only a server started for tests has: the clock is moved from alarm to alarm up to a
 * moment, so that everything happens at its own time, as it would have.
 */
export const testControls =
  ({ engine, runner, clock, settle }: Parts) =>
  (router: Router): void => {
    router.post('/api/test/clock', async (ctx) => {
      const to = Number(ctx.query['to'])
      if (!Number.isFinite(to)) ctx.throw(400, 'to must be epoch milliseconds')
      // Let other requests (and a kill) in between alarms.
      for await (const _ of inTurn(engine, runner.stepsUntil(to)))
        await new Promise((next) => setImmediate(next))
      await settle()
      ctx.body = { now: clock.now() }
    })
  }
