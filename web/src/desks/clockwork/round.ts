import type { IsoDate } from '#core/brands.ts'
import { addDays, isoDate } from '#core/calendar/dates.ts'
import { nextPeriod, periodStart, PERIODS } from '#core/recurrence/schedule.ts'
import { formatPattern } from '#core/text/merge.ts'
import type { Round, RoundDate } from '#contract/series.ts'

/** The period that a round is over, and what is chosen in it. */

export type PeriodOf = (typeof PERIODS)[number]
export interface RoundPeriod {
  readonly of: PeriodOf
  readonly first: IsoDate
  readonly last: IsoDate
  readonly name: string
}
const PATTERNS: Readonly<Record<PeriodOf, string>> = {
  week: 'ww',
  month: 'MMMM yyyy',
  quarter: 'Q yyyy',
  year: 'yyyy',
}
const nameOf = (of: PeriodOf, first: IsoDate): string =>
  of === 'week'
    ? `Week ${formatPattern(first, PATTERNS.week)}, ${first.slice(0, 4)}`
    : formatPattern(first, PATTERNS[of])

const isPeriod = (text: unknown): text is PeriodOf => PERIODS.some((period) => period === text)
/** The period that an address names; this month, where it names none. */
export function periodIn(of: unknown, at: unknown, today: string): RoundPeriod {
  const kind = isPeriod(of) ? of : 'month'
  let day: IsoDate
  try {
    day = isoDate(at)
  } catch {
    day = isoDate(today)
  }
  const first = periodStart(day, kind)
  return { of: kind, first, last: addDays(nextPeriod(first, kind), -1), name: nameOf(kind, first) }
}

export const keyOf = ({ series, scheduled }: Pick<RoundDate, 'series' | 'scheduled'>): string =>
  `${series} ${scheduled}`
/** All dates of a round, in one list. */
export const datesOf = (round: Round): RoundDate[] =>
  round.rows.flatMap(({ cells }) => cells.flatMap(({ dates }) => dates))
