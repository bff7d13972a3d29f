import type { ClientList } from '#contract/clients.ts'
import { useResource } from '#web/state/resource.ts'

const OF = ['clients', 'clientStates', 'clientTags', 'tags']
/** Every client with where it stands, and where they can stand. */
export const useClientList = () =>
  useResource<ClientList>(
    () => '/clients',
    (change) => change.entities.some((entity) => OF.includes(entity)),
    { keep: true },
  )
