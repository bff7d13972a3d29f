import { LEVELS, type Access, type Audience, type Level, type SharedLevel } from '../words.ts'

/**
 * Who sees a project or a task, what they may do with it, and why: docs/access.md in code. The SQL
 * that lists are asked with says the same of seeing (server/database/sees.ts); a property test holds
 * both against a third reading of that page.
 */

/** Who looks. */
export interface Looker {
  readonly id: number
  readonly access: Access
  readonly active: boolean
}
/** Something shared with somebody by name. */
export interface Share {
  readonly personId: number
  readonly may: SharedLevel
}
/** A project, or where there is none, what stands in none. */
export interface Place {
  readonly audience: Audience
  /** Who is in its team, where it has one. */
  readonly team: readonly number[]
  readonly leadId: number | null
  /** Shared itself, and with its client. */
  readonly shares: readonly Share[]
  readonly clientShares: readonly Share[]
}
/** A task in its place. */
export interface Spot {
  /** Null for a task in no project; `clientShares` are then those of its own client. */
  readonly place: Place | null
  readonly clientShares: readonly Share[]
  readonly phaseShares: readonly Share[]
  readonly assignees: readonly number[]
}

/** Why somebody sees something, each kind of reason once. */
export const REASONS = [
  'owner',
  'manager',
  'lead',
  'firm',
  'team',
  'shared',
  'client',
  'phase',
  'assigned',
] as const
export type Reason = (typeof REASONS)[number]
/** One reason, and what one may do by it. */
export interface Reach {
  readonly why: Reason
  readonly may: Level
}

export const isGuestAccess = (access: Access): boolean =>
  access === 'contractor' || access === 'client'
const rank = (level: Level): number => LEVELS.indexOf(level)
/** Whether a level allows what another names. */
export const reaches = (has: Level | null, needs: Level): boolean =>
  has !== null && rank(has) >= rank(needs)
/** The most that some reasons allow; null where there is none. */
export const mostOf = (all: readonly Reach[]): Level | null =>
  all.reduce<Level | null>((most, { may }) => (reaches(most, may) ? most : may), null)

/** Guests are never given the structure of things. */
const within = (looker: Looker, may: Level): Level =>
  isGuestAccess(looker.access) && rank(may) > rank('edit') ? 'edit' : may
const sharedWith = (looker: Looker, shares: readonly Share[], why: Reason): Reach[] =>
  shares.flatMap(({ personId, may }) =>
    personId === looker.id ? [{ why, may: within(looker, may) }] : [],
  )
/** What comes with who one is; null where that is not enough. */
function byAccess({ access }: Looker): Reach | null {
  return access === 'owner' || access === 'manager' ? { why: access, may: 'structure' } : null
}

/** Everything for which somebody sees the whole of a project. Who has left sees nothing. */
export function reachOfPlace(looker: Looker, place: Place): Reach[] {
  if (!looker.active) return []
  const found: Reach[] = []
  const own = byAccess(looker)
  if (own) found.push(own)
  if (place.leadId === looker.id) found.push({ why: 'lead', may: within(looker, 'structure') })
  if (!isGuestAccess(looker.access)) {
    if (place.audience === 'firm') found.push({ why: 'firm', may: 'edit' })
    if (place.audience === 'team' && place.team.includes(looker.id))
      found.push({ why: 'team', may: 'edit' })
  }
  found.push(...sharedWith(looker, place.shares, 'shared'))
  // Only those named means it: who has the client shared does not have this.
  if (place.audience !== 'named') found.push(...sharedWith(looker, place.clientShares, 'client'))
  return found
}

/** What stands in no project is the firm's. */
function reachOfLoose(looker: Looker, { clientShares }: Spot): Reach[] {
  const own = byAccess(looker)
  return [
    ...(own ? [own] : []),
    ...(isGuestAccess(looker.access) ? [] : [{ why: 'firm', may: 'edit' } as const]),
    ...sharedWith(looker, clientShares, 'client'),
  ]
}

/** Everything for which somebody sees a task. */
export function reachOfTask(looker: Looker, spot: Spot): Reach[] {
  if (!looker.active) return []
  const { place, phaseShares, assignees } = spot
  const found = place ? reachOfPlace(looker, place) : reachOfLoose(looker, spot)
  found.push(...sharedWith(looker, phaseShares, 'phase'))
  if (assignees.includes(looker.id))
    found.push({ why: 'assigned', may: isGuestAccess(looker.access) ? 'work' : 'edit' })
  return found
}
