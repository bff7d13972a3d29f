import type { PersonId } from '../brands.ts'

/** Whom people answer to, and who acts for them: chains from person to person that never close. */

/**
 * The ring that would close if somebody's next were `to`: whoever is on it, from `from` back to it;
 * null where none would. `next` answers who comes after a person.
 */
export function ringThrough(
  from: PersonId,
  to: PersonId,
  next: (id: PersonId) => PersonId | null,
): PersonId[] | null {
  const ring = [from]
  for (let at: PersonId | null = to; at !== null; at = next(at)) {
    ring.push(at)
    if (at === from) return ring
    // A ring that does not lead through this one is not closed by it.
    if (ring.indexOf(at) < ring.length - 1) return null
  }
  return null
}

/** Somebody as far as it matters who acts for them. */
export interface Present {
  readonly active: boolean
  /** Away for the whole of the day in question. */
  readonly away: boolean
  readonly standInId: PersonId | null
}
/**
 * Who acts for somebody on a day: they themselves unless they are away; then their stand-in, or the
 * stand-in's own. They themselves again where nobody on the way is there.
 */
export function actingFor(id: PersonId, find: (id: PersonId) => Present | undefined): PersonId {
  const seen = new Set<PersonId>()
  for (let at: PersonId | null = id; at !== null && !seen.has(at);) {
    seen.add(at)
    const one = find(at)
    if (!one?.active) return id
    if (!one.away) return at
    at = one.standInId
  }
  return id
}
