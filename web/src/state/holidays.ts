import { computed } from 'vue'
import type { Holiday } from '#contract/desks.ts'
import { useResource } from './resource.ts'
import { useSession } from './session.ts'

/** The firm's holidays among the days in sight, by day. */
export function useHolidays(days: () => { readonly first: string; readonly last: string }) {
  const session = useSession()
  const { data } = useResource<Holiday[]>(
    () => (session.me ? `/holidays?from=${days().first}&to=${days().last}` : null),
    ({ entities }) => entities.includes('holidays') && 'now',
    { keep: true },
  )
  const byDay = computed(() => new Map(data.value?.map((holiday) => [holiday.date, holiday])))
  return (day: string): Holiday | undefined => byDay.value.get(day)
}
