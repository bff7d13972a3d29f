import type Router from '@koa/router'
import { and, eq, gt, isNotNull } from 'drizzle-orm'
import Joi from 'joi'
import { RateLimiterMemory } from 'rate-limiter-flexible'
import { refuse } from '#core/refusal.ts'
import { line, shape } from '#contract/common.ts'
import { accountOf, mailAddress } from '#contract/firm.ts'
import { joinFirmBody, type Invitation } from '#contract/people.ts'
import { patiently } from '../database/faults.ts'
import { ready } from '../database/query.ts'
import { passwordResets, people } from '../database/tables/index.ts'
import { ENGINE } from '../engine/journal.ts'
import { digestOf, newLinkSecret } from '../engine/secrets.ts'
import type { Engine } from '../engine/services.ts'
import type { Threads } from '../workers/threads.ts'
import { readText, STRANGERS_LIMIT } from './body.ts'
import { checkedJson } from './calls.ts'
import { checked } from './route.ts'
import { changePassword, hashed } from './sessions.ts'

/**
 * A forgotten password: whoever reads the mail of an address sets another. The link leads to where
 * the firm says it is opened, never to where the request says it came: that is a stranger's to choose.
 */

/** For so long the link of a mail opens, in milliseconds. */
const HOUR = 3_600_000
/** As many mails to one account, and from one address, within an hour. */
const MOST = { account: 3, address: 30 }

const forgottenBody = shape<{ email: string }>({ email: mailAddress.required() })
const keyShape = Joi.object<{ key: string }>({ key: line(100).required() })

const accountsOf = ready((orm, a: { email: string }) =>
  orm
    .select({ id: people.id, name: people.name, email: people.email })
    .from(people)
    .where(and(eq(people.email, a.email), eq(people.active, true), isNotNull(people.passwordHash))),
)
const resetOf = ready((orm, a: { person: number }) =>
  orm
    .select({ id: passwordResets.id })
    .from(passwordResets)
    .where(eq(passwordResets.personId, a.person)),
)
const opening = ready((orm, a: { digest: string; now: number }) =>
  orm
    .select({ id: passwordResets.id, personId: people.id, name: people.name, email: people.email })
    .from(passwordResets)
    .innerJoin(people, and(eq(people.id, passwordResets.personId), eq(people.active, true)))
    .where(and(eq(passwordResets.id, a.digest), gt(passwordResets.expiresAt, a.now))),
)

/** Writes the link to whoever has an address, where somebody here has. */
function sendLink(engine: Engine, address: URL, email: string): void {
  const { reader, firm, journal } = engine
  const person = accountsOf.get(reader, { email })
  if (!person) return
  const secret = newLinkSecret()
  const link = new URL(`/new-password?key=${secret}`, address).href
  const id = digestOf(secret)
  journal.change(ENGINE, (write) => {
    for (const old of resetOf.all(reader, { person: person.id }))
      write.remove('passwordResets', old.id)
    write.insert('passwordResets', { id, personId: person.id, expiresAt: write.at + HOUR })
    write.insert('outbox', {
      ...{ key: `password-${id}`, recipient: person.email, nextAt: write.at, createdAt: write.at },
      subject: `Another password for ${firm.name()}`,
      body:
        `Somebody, you most likely, asked to set another password for ${firm.name()} in Fernwick.` +
        `\n\nChoose it here, within an hour:\n${link}\n\nIf it was not you, do nothing: your ` +
        'password stays as it is.',
      change: write.change,
    })
  })
}
const needOpen = ({ reader, clock }: Engine, key: string) =>
  opening.get(reader, { digest: digestOf(key), now: clock.now() }) ??
  refuse('not-found', 'This link was used, or has run out; ask for another one.', 'key')

interface Parts {
  readonly engine: Engine
  readonly threads: Threads
  readonly changed: (() => void) | undefined
}

/** Open to everybody; what is answered never says whether somebody has an account. */
export function forgottenRoutes(router: Router, { engine, threads, changed }: Parts): void {
  const counter = (points: number) => new RateLimiterMemory({ points, duration: HOUR / 1000 })
  const [accounts, addresses] = [counter(MOST.account), counter(MOST.address)]
  const mayAsk = async (account: string, ip: string): Promise<boolean> => {
    const counts = await Promise.all([accounts.penalty(account), addresses.penalty(ip)])
    const [of, from] = counts.map(({ consumedPoints }) => consumedPoints)
    if (from! > MOST.address)
      refuse('too-many', 'Too many links were asked for from there; wait an hour and try again.')
    return of! <= MOST.account
  }
  router.post('/api/v1/forgotten', async (ctx) => {
    const { email } = checkedJson(forgottenBody, await readText(ctx, STRANGERS_LIMIT))
    const { address } = engine
    if (!address)
      return refuse('no-address', 'This server sends no links yet; ask a manager of the firm.')
    const account = accountOf(email)
    if (await mayAsk(account, ctx.ip)) await patiently(() => sendLink(engine, address, account))
    ctx.status = 204
    changed?.()
  })
  router.get('/api/v1/forgotten', (ctx) => {
    const { name, email } = needOpen(engine, checked(keyShape, { ...ctx.query }).key)
    ctx.body = { firm: engine.firm.name(), name, email } satisfies Invitation
  })
  router.post('/api/v1/forgotten/password', async (ctx) => {
    const { key, password } = checkedJson(joinFirmBody, await readText(ctx, STRANGERS_LIMIT))
    // Only a link that opens is worth a hash.
    needOpen(engine, key)
    const hash = await hashed(threads, password)
    await patiently(() =>
      engine.journal.together(() => {
        const { id, personId } = needOpen(engine, key)
        engine.journal.change(ENGINE, (write) => write.remove('passwordResets', id))
        // Whoever is in by the old one is out everywhere.
        changePassword(engine, personId, '', hash)
      }),
    )
    ctx.status = 204
    changed?.()
  })
}
