import { watch, type Ref } from 'vue'
import { usualFor } from '#core/people/usual.ts'
import type { Filling } from '#contract/clockwork.ts'
import type { ClientPage } from '#contract/clients.ts'
import { get } from '#web/api/client.ts'

type Roles = Record<string, Filling | undefined>

/**
 * Proposes a client's usual people for roles as the client is chosen; what somebody chose by hand
 * stays, what was proposed for another client goes.
 */
export function useUsual(
  client: Readonly<Ref<number | null>>,
  roles: Ref<Roles>,
  of: () => Parameters<typeof usualFor>[0],
): void {
  let proposed: Roles = {}
  watch(client, async (id) => {
    const page = id === null ? null : await get<ClientPage>(`/clients/${id}`).catch(() => null)
    // Another was chosen meanwhile.
    if (client.value !== id) return
    const usual = usualFor(of(), page?.usual ?? [])
    const next = Object.fromEntries([...usual].map(([key, person]) => [key, { person }]))
    const kept = Object.entries(roles.value).filter(
      ([key, filling]) => filling && JSON.stringify(filling) !== JSON.stringify(proposed[key]),
    )
    roles.value = { ...next, ...Object.fromEntries(kept) }
    proposed = next
  })
}
