import { watch, type Ref } from 'vue'
import type { Filling } from '#contract/clockwork.ts'
import type { ClientPage } from '#contract/clients.ts'
import { get } from '#web/api/client.ts'

interface Role {
  readonly key: string
  readonly name: string
}
type Roles = Record<string, Filling | undefined>

/** The people that a client usually has, for the roles that are called so. */
export function usualFor(
  roles: readonly Role[],
  usual: readonly { role: string; personId: number }[],
): Roles {
  const by = new Map(usual.map(({ role, personId }) => [role.toLowerCase(), personId]))
  return Object.fromEntries(
    roles.flatMap(({ key, name }) => {
      const person = by.get(name.toLowerCase())
      return person === undefined ? [] : [[key, { person }]]
    }),
  )
}

/**
 * Proposes a client's usual people for roles as the client is chosen; what somebody chose by hand
 * stays, what was proposed for another client goes.
 */
export function useUsual(
  client: Readonly<Ref<number | null>>,
  roles: Ref<Roles>,
  of: () => readonly Role[],
): void {
  let proposed: Roles = {}
  watch(client, async (id) => {
    const page = id === null ? null : await get<ClientPage>(`/clients/${id}`).catch(() => null)
    // Another was chosen meanwhile.
    if (client.value !== id) return
    const next = usualFor(of(), page?.usual ?? [])
    const kept = Object.entries(roles.value).filter(
      ([key, filling]) => filling && JSON.stringify(filling) !== JSON.stringify(proposed[key]),
    )
    roles.value = { ...next, ...Object.fromEntries(kept) }
    proposed = next
  })
}
