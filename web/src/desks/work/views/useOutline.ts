import { computed, type Ref } from 'vue'
import type { Outline, ViewDefinition } from '#contract/query.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import { queryOf } from './definition.ts'
import { fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/**
 * What a view finds, kept fresh; nothing is asked while there is no definition. `days` narrows it
 * to what touches them.
 */
export function useOutline(
  def: Readonly<Ref<ViewDefinition | null>>,
  known: Readonly<Ref<Known>>,
  days?: Readonly<Ref<{ first: string; last: string }>>,
) {
  const session = useSession()
  const sums = computed(() =>
    (def.value?.columns ?? [])
      .map((c) => c.field)
      .filter((field) => field !== 'estimate' && fieldOf(known.value, field)?.sums),
  )
  return useResource<Outline>(
    () =>
      session.me && def.value
        ? `/tasks/outline?q=${encodeURIComponent(JSON.stringify(queryOf(def.value, sums.value, days?.value)))}`
        : null,
    (change) =>
      change.tasks.length > 0 ||
      change.entities.some(
        (e) => e === 'states' || e === 'phases' || e === 'tags' || e === 'fields',
      ),
    { keep: true },
  )
}
