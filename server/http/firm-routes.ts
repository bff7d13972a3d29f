import { randomUUID } from 'node:crypto'
import type Router from '@koa/router'
import Joi from 'joi'
import { refuse } from '#core/refusal.ts'
import type { Places } from '#contract/firm.ts'
import { countries, regionsOf } from '../areas/firm/holidays.ts'
import { personById } from '../areas/people/queries.ts'
import type { Mail } from '../engine/outbox.ts'
import type { Engine } from '../engine/services.ts'
import { needStructure } from '../engine/viewer.ts'
import { checked } from './route.ts'
import type { Cookies } from './session-cookie.ts'

interface Parts {
  readonly engine: Engine
  readonly cookies: Cookies
  readonly send: ((mail: Mail) => Promise<void>) | undefined
}

const placesShape = Joi.object<{ country: string | null }>({
  country: Joi.string()
    .pattern(/^[A-Z]{2}$/)
    .default(null),
})

/** What the firm’s own page asks beside its facts: where firms can be, and whether mail gets through. */
export function firmRoutes(router: Router, { engine, cookies, send }: Parts): void {
  router.get('/api/v1/firm/places', async (ctx) => {
    needStructure(cookies.viewer(ctx), 'say where the firm is')
    const { country } = checked(placesShape, { ...ctx.query })
    const regions = country === null ? [] : (await regionsOf(country)).regions
    ctx.body = { countries: await countries(), regions } satisfies Places
  })
  // Tried at once, to whoever asks; what is wrong with it is said as it says it.
  router.post('/api/v1/firm/mail/test', async (ctx) => {
    const { id, name, access } = cookies.viewer(ctx)
    if (access !== 'owner') refuse('forbidden', 'Only an owner may try the mail server.')
    if (!send) return refuse('no-mail', 'This server sends no mail.')
    const to = personById.get(engine.reader, { id })?.email ?? ''
    const firm = engine.firm.name()
    try {
      await send({
        ...{ key: `test-${randomUUID()}`, to, subject: `A test from Fernwick, for ${firm}` },
        body: `${name} tried the mail server of ${firm}. As you read this, mail gets through.`,
      })
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error)
      refuse(
        'mail-refused',
        `It was not taken. The mail server says: ${said.slice(0, 300)}`,
        'host',
      )
    }
    ctx.body = { to }
  })
}
