import type { ClientId, PersonId, TokenId } from '#core/brands.ts'
import { isGuestAccess } from '#core/access/reach.ts'
import { refuse } from '#core/refusal.ts'
import type { Access, Scope } from '#contract/words.ts'
import { sight, type Sight } from '../database/sight.ts'
import type { Actor } from './journal.ts'

/** Who is asking. */
export interface Viewer {
  readonly id: PersonId
  readonly name: string
  readonly access: Access
  readonly clientId: ClientId | null
  /** The token by which a program asks in their name, and what it may. */
  readonly token?: { readonly id: TokenId; readonly scopes: readonly Scope[] }
  /** Said yes to what is asked about before it is done: managers alone. */
  readonly confirms?: true
}

export { isGuestAccess }
/** Guests see only what was handed to them, or shared with them. */
export const isGuest = (viewer: Viewer): boolean => isGuestAccess(viewer.access)
/** What the viewer may see of items. */
export const sightOf = (viewer: Viewer): Sight =>
  sight({ all: mayStructure(viewer), inside: !isGuest(viewer), me: viewer.id })
/**
 * Structure (templates, series, rules) is changed by managers and the owner; content by every
 * member.
 */
export const mayStructure = (viewer: Viewer): boolean =>
  viewer.access === 'owner' || viewer.access === 'manager'

/** @throws Refusal `forbidden` unless the viewer may change structure. */
export function needStructure(viewer: Viewer, what: string): void {
  if (!mayStructure(viewer)) refuse('forbidden', `Only a manager may ${what}.`)
}

/** @throws Refusal `forbidden` for guests. */
export function needMember(viewer: Viewer, what: string): void {
  if (isGuest(viewer)) refuse('forbidden', `Guests may not ${what}.`)
}

export const actorOf = ({ id, token }: Viewer): Actor => ({
  kind: 'person',
  id,
  ...(token && { token: token.id }),
})
