import { refuse } from '#core/refusal.ts'

export type Access = 'owner' | 'manager' | 'member' | 'contractor' | 'client'

/** Who is asking. */
export interface Viewer {
  readonly id: number
  readonly name: string
  readonly access: Access
  readonly clientId: number | null
}

/** Guests see only what was handed to them. */
export const isGuest = (viewer: Viewer): boolean =>
  viewer.access === 'contractor' || viewer.access === 'client'
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

export const actorOf = (viewer: Viewer) => ({ kind: 'person' as const, id: viewer.id })
