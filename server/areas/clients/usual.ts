import type { ClientId } from '#core/brands.ts'
import { usualFor } from '#core/people/usual.ts'
import type { Filling } from '#contract/clockwork.ts'
import type { Engine } from '../../engine/services.ts'
import { isActive } from '../people/queries.ts'
import { rolesOf } from './queries.ts'

/**
 * Whoever usually fills roles in what is done for a client, for those that nobody fills; who has left
 * fills none.
 */
export function withUsual(
  { reader }: Engine,
  client: ClientId | null,
  roles: readonly { readonly key: string; readonly name: string }[],
  filled: Readonly<Record<string, Filling>>,
): Record<string, Filling> {
  const open = roles.filter(({ key }) => !filled[key])
  if (client === null || open.length === 0) return { ...filled }
  const usual = [...usualFor(open, rolesOf.all(reader, { client }))]
  const here = usual.filter(([, person]) => isActive(reader, person))
  return { ...filled, ...Object.fromEntries(here.map(([key, person]) => [key, { person }])) }
}
