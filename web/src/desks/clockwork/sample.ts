import { computed, type InjectionKey, type Ref } from 'vue'
import type { About } from '#contract/actions/action.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { useResource } from '#web/state/resource.ts'

/** Something real that texts of a rule are shown with while they are written. */
export interface Sample {
  readonly about: About
  readonly item: number
}
export const SAMPLE: InjectionKey<Readonly<Ref<Sample | null>>> = Symbol('sample')

const OPEN = { filter: { match: 'all', of: [{ field: 'open', op: 'is', value: true }] } }
/** Open tasks, soonest due first. */
export const SOONEST = `/tasks?limit=8&q=${encodeURIComponent(JSON.stringify(OPEN))}`

/** What was chosen; else the open task due soonest, or the first project or client. */
export function useSample(of: {
  about: () => About
  chosen: () => number | null
  known: () => Known
  /** Whether anything is written at all. */
  may: () => boolean
}): Readonly<Ref<Sample | null>> {
  const { about, chosen, known, may } = of
  // One of them serves as well as another: what changes meanwhile is not asked for.
  const { data } = useResource<{ tasks: readonly TaskRow[] }>(
    () => (may() && about() === 'task' ? SOONEST : null),
    () => false,
  )
  const first = () => {
    if (about() === 'task') return data.value?.tasks[0]
    return about() === 'project' ? known().projects[0] : known().directory.clients[0]
  }
  return computed(() => {
    const item = chosen() ?? first()?.id
    return item === undefined ? null : { about: about(), item }
  })
}
