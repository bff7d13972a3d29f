import { computed } from 'vue'
import type { SavedView } from '#contract/query.ts'
import { useResource } from './resource.ts'
import { useSession } from './session.ts'

/** Views that one saved or may open; guests have none. */
export function useViews() {
  const session = useSession()
  const { data, reload } = useResource<SavedView[]>(
    () => (session.me?.may.member ? '/views' : null),
    (change) => change.entities.includes('views'),
  )
  const all = computed(() => data.value ?? [])
  return {
    all,
    known: computed(() => data.value !== null),
    reload,
    one: (id: number) => all.value.find((v) => v.id === id) ?? null,
  }
}
