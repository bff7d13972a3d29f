import { computed } from 'vue'
import type { Condition, Group } from '#core/conditions/condition.ts'
import type { ExpectedWork } from '#contract/series.ts'
import type { Scope } from '#contract/query.ts'
import { useResource } from '#web/state/resource.ts'
import { plusDays } from './span.ts'

/** As far as what is expected is asked for at once, in calendar days. */
const MOST = 366
/** What narrows work to what is open hides nothing that is still to come. */
const PLAIN = new Set(['open', 'archived', 'closed'])
const isPlain = (part: Condition | Group): boolean =>
  'of' in part ? part.of.every(isPlain) : PLAIN.has(part.field)

interface Asked {
  readonly scope: Scope
  readonly filter: Group
  readonly today: string
  /** Guests are not told what repeats. */
  readonly member: boolean
}
/**
 * What series will make on the days in sight and have not made yet; nothing, where the view is
 * narrowed to some work, since what is not there yet has neither state nor tags.
 */
export function useExpected(
  asked: () => Asked,
  days: () => { readonly first: string; readonly last: string },
) {
  const path = (): string | null => {
    const { scope, filter, today, member } = asked()
    const first = days().first > today ? days().first : today
    const furthest = plusDays(first, MOST)
    const last = days().last < furthest ? days().last : furthest
    if (!member || last < first || !isPlain(filter)) return null
    const id = scope.of === 'firm' ? '' : `&id=${scope.id}`
    return `/series/expected?from=${first}&to=${last}&of=${scope.of}${id}`
  }
  const { data } = useResource<ExpectedWork[]>(
    path,
    ({ entities }) =>
      ['series', 'seriesDates', 'templates', 'holidays'].some((e) => entities.includes(e)),
    { keep: true },
  )
  const all = computed(() => (path() === null ? [] : (data.value ?? [])))
  const byDay = computed(() => {
    const found = new Map<string, ExpectedWork[]>()
    for (const work of all.value) {
      const own = found.get(work.due)
      if (own) own.push(work)
      else found.set(work.due, [work])
    }
    return found
  })
  /** The same by series, each in the order of its dates. */
  const bySeries = computed(() => {
    const found = new Map<number, ExpectedWork[]>()
    for (const work of all.value) {
      const own = found.get(work.series)
      if (own) own.push(work)
      else found.set(work.series, [work])
    }
    return [...found.values()]
  })
  return { on: (day: string): readonly ExpectedWork[] => byDay.value.get(day) ?? [], bySeries }
}
