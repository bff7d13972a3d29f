import { and, asc, eq } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { ringThrough } from '#core/people/stand-in.ts'
import { refuse } from '#core/refusal.ts'
import type { PersonPatch } from '#contract/people.ts'
import { ready, within, type Reader } from '../../database/query.ts'
import { people } from '../../database/tables/index.ts'
import { isGuestAccess } from '../../engine/viewer.ts'
import { personName } from './queries.ts'

/** Whom people answer to and who stands in for them: who may be named, and that no ring closes. */

export type Link = 'managerId' | 'standInId'
const SAID: Readonly<Record<Link, string>> = { managerId: 'manager', standInId: 'stand-in' }

const linksOf = ready((orm, a: { id: PersonId }) =>
  orm
    .select({
      ...{ access: people.access, active: people.active, clientId: people.clientId },
      ...{ managerId: people.managerId, standInId: people.standInId },
    })
    .from(people)
    .where(eq(people.id, a.id)),
)

const namedBy = (link: Link) =>
  within((orm, a: { id: PersonId }) =>
    orm
      .select({ id: people.id, name: people.name })
      .from(people)
      .where(and(eq(people[link], a.id), eq(people.active, true)))
      .orderBy(asc(people.name)),
  )
const NAMED = { managerId: namedBy('managerId'), standInId: namedBy('standInId') }
/** Who names somebody as their manager, or as their stand-in. */
export const whoNames = (
  reader: Reader,
  link: Link,
  id: PersonId,
): { id: PersonId; name: string }[] => NAMED[link].all(reader, { id })

/** Why somebody cannot be another's manager or stand-in; null where they can. */
export function unfit(reader: Reader, of: PersonId, link: Link, to: PersonId): string | null {
  const [one, other] = [linksOf.get(reader, { id: of }), linksOf.get(reader, { id: to })]
  if (!other) return `There is nobody with the number ${to}.`
  if (!other.active) return `${personName(reader, to)} has left.`
  if (link === 'managerId' && isGuestAccess(other.access))
    return `${personName(reader, to)} is a guest, and guests are nobody’s manager.`
  // What a client is told goes to nobody outside that client.
  if (other.access === 'client' && one?.clientId !== other.clientId)
    return `${personName(reader, to)} is a client’s contact: they stand in for their own colleagues.`
  return null
}

/** Who is on the ring that naming somebody would close, from them back to them; null: none would. */
export const ringOf = (reader: Reader, of: PersonId, link: Link, to: PersonId): PersonId[] | null =>
  ringThrough(of, to, (id) => linksOf.get(reader, { id })?.[link] ?? null)

/** @throws Refusal `unfit`, `ring`, which names everybody on it */
export function checkChains(reader: Reader, of: PersonId, patch: PersonPatch): void {
  for (const link of ['managerId', 'standInId'] as const) {
    const to = patch[link]
    if (to === undefined || to === null) continue
    const why = unfit(reader, of, link, to)
    if (why) refuse('unfit', why, link)
    const ring = ringOf(reader, of, link, to)
    if (!ring) continue
    const names = ring.map((id) => personName(reader, id)).join(' → ')
    refuse(
      'ring',
      `That would be a ring, where each is the ${SAID[link]} of the last: ${names}.`,
      link,
    )
  }
}
