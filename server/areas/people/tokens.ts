import { and, desc, eq, gt } from 'drizzle-orm'
import type { PersonId, TokenId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { MOST_TOKENS, type MadeToken, type NewToken, type TokenRow } from '#contract/tokens.ts'
import { ready, within } from '../../database/query.ts'
import { people, tokens } from '../../database/tables/index.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import { digestOf, newLinkSecret } from '../../engine/secrets.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, mayStructure, needStructure, type Viewer } from '../../engine/viewer.ts'
import { personById } from './queries.ts'

/** By tokens programs ask in somebody's name: no more than that person may, and what it is scoped to. */

/** What every secret begins with, so that one that got out is known for what it is. */
const BEGINS = 'fernwick_'
const DAY = 86_400_000
/** That it was used is noted once in so long. */
const HOUR = 3_600_000

const row = {
  ...{ id: tokens.id, name: tokens.name, scopes: tokens.scopes },
  ...{ createdAt: tokens.createdAt, endsAt: tokens.endsAt, usedAt: tokens.usedAt },
}
const inForce = within((orm, a: { person: PersonId; now: number }) =>
  orm
    .select(row)
    .from(tokens)
    .where(and(eq(tokens.personId, a.person), gt(tokens.endsAt, a.now)))
    .orderBy(desc(tokens.id)),
)
const bearing = ready((orm, a: { digest: string; now: number }) =>
  orm
    .select({
      ...{ token: tokens.id, scopes: tokens.scopes, usedAt: tokens.usedAt },
      ...{ id: people.id, name: people.name, access: people.access, clientId: people.clientId },
    })
    .from(tokens)
    .innerJoin(people, and(eq(people.id, tokens.personId), eq(people.active, true)))
    .where(and(eq(tokens.digest, a.digest), gt(tokens.endsAt, a.now))),
)

/** Somebody's tokens in force, the newest first. */
export const tokensOf = ({ reader, clock }: Engine, person: PersonId): TokenRow[] =>
  inForce.all(reader, { person, now: clock.now() })
/** One's own. */
export const listTokens = (engine: Engine, viewer: Viewer): TokenRow[] =>
  tokensOf(engine, viewer.id)

/** Makes a token; its secret is answered this once. @throws Refusal `no-scope`, `too-many` */
export function makeToken(engine: Engine, viewer: Viewer, body: NewToken): MadeToken {
  const { name, scopes, days } = body
  if (scopes.includes('manage') && !mayStructure(viewer))
    refuse('no-scope', 'Only a manager’s token can do what managers do.', 'scopes')
  if (listTokens(engine, viewer).length >= MOST_TOKENS)
    refuse('too-many-tokens', `${MOST_TOKENS} tokens are the most; end one that is not used.`)
  const secret = BEGINS + newLinkSecret()
  return engine.journal.change({ kind: 'person', id: viewer.id }, (write) => {
    const made = { name, scopes, createdAt: write.at, endsAt: write.at + days * DAY }
    const digest = digestOf(secret)
    const id = write.insert('tokens', { personId: viewer.id, digest, ...made })
    return { id, ...made, usedAt: null, secret }
  }).result
}

/** Ends one of one's own tokens: from now on it opens nothing. @throws Refusal `not-found` */
export const endToken = (engine: Engine, viewer: Viewer, id: TokenId): Changed<void> =>
  end(engine, viewer, viewer.id, id)
/**
 * Ends a token of somebody: managers do, owners those of owners.
 * @throws Refusal `not-found`, `forbidden`, `owners-only`
 */
export function endTokenOf(
  engine: Engine,
  viewer: Viewer,
  person: PersonId,
  id: TokenId,
): Changed<void> {
  needStructure(viewer, 'end the tokens of others')
  const access = personById.get(engine.reader, { id: person })?.access
  if (access === 'owner' && viewer.access !== 'owner')
    refuse('owners-only', 'Only an owner may end the tokens of an owner.')
  return end(engine, viewer, person, id)
}
function end(engine: Engine, viewer: Viewer, person: PersonId, id: TokenId): Changed<void> {
  if (!tokensOf(engine, person).some((token) => token.id === id))
    refuse('not-found', 'That token has ended already.')
  return engine.journal.change(actorOf(viewer), (write) => {
    write.update('tokens', id, { endsAt: write.at })
  })
}
/** Ends every token of somebody. */
export function endTokens({ reader }: Engine, write: Writer, person: PersonId): void {
  for (const { id } of inForce.all(reader, { person, now: write.at }))
    write.update('tokens', id, { endsAt: write.at })
}

/** Who a token's secret asks for, and that it was used; null where it opens nothing. */
export function bearerOf(engine: Engine, secret: string): Viewer | null {
  const { reader, clock, journal } = engine
  const now = clock.now()
  const found = bearing.get(reader, { digest: digestOf(secret), now })
  if (!found) return null
  const { token: id, scopes, usedAt, ...person } = found
  if (usedAt === null || now - usedAt >= HOUR)
    journal.change({ kind: 'person', id: person.id }, (write) =>
      write.update('tokens', id, { usedAt: now }),
    )
  return { ...person, token: { id, scopes } }
}
