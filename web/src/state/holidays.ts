import { computed } from 'vue'
import type { Holiday } from '#contract/desks.ts'
import { useResource } from './resource.ts'
import { useSession } from './session.ts'

/** The firm's holidays in the years of the days in sight, by day: leafing on asks for nothing new. */
export function useHolidays(days: () => { readonly first: string; readonly last: string }) {
  const session = useSession()
  const { data } = useResource<Holiday[]>(
    () => {
      const [first, last] = [days().first.slice(0, 4), days().last.slice(0, 4)]
      return session.me ? `/holidays?from=${first}-01-01&to=${last}-12-31` : null
    },
    ({ entities }) => entities.includes('holidays') && 'now',
    { keep: true },
  )
  const byDay = computed(() => new Map(data.value?.map((holiday) => [holiday.date, holiday])))
  return (day: string): Holiday | undefined => byDay.value.get(day)
}
