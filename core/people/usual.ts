import type { PersonId } from '../brands.ts'

/** A role as a template names it. */
interface Role {
  readonly key: string
  readonly name: string
}

/**
 * Who fills the roles of a template for a client: whoever usually fills a role that is called so, in
 * whatever letters. Roles for which nobody usually stands are left out.
 */
export function usualFor(
  roles: readonly Role[],
  usual: readonly { readonly role: string; readonly personId: PersonId }[],
): ReadonlyMap<string, PersonId> {
  const by = new Map(usual.map(({ role, personId }) => [role.toLowerCase(), personId]))
  return new Map(
    roles.flatMap(({ key, name }) => {
      const person = by.get(name.toLowerCase())
      return person === undefined ? [] : [[key, person]]
    }),
  )
}
