import type { PastDate, RoundDate, Went } from '#contract/series.ts'
import { plural, sayDate } from '#web/parts/say.ts'

/** How it went with a date of a series, in words. */
export type Stand = Went | 'expected'

const SAID: Readonly<Record<Stand, string>> = {
  'on-time': 'on time',
  late: 'late',
  'under-way': 'under way',
  overdue: 'overdue',
  dropped: 'dropped',
  'taken-back': 'taken back',
  unseen: 'made',
  held: 'held',
  missed: 'missed',
  skipped: 'skipped',
  expected: 'expected',
}
export const WENT_LIST: readonly Stand[] = [
  ...(['on-time', 'under-way', 'late', 'overdue', 'held'] as const),
  ...(['missed', 'skipped', 'expected'] as const),
]
export const sayStand = (stand: Stand): string => SAID[stand]
export const sayWent = ({ went, lateBy }: Pick<PastDate, 'went' | 'lateBy'>): string => {
  if (lateBy === 0) return SAID[went]
  return went === 'late'
    ? `${plural(lateBy, 'working day')} late`
    : `overdue by ${plural(lateBy, 'working day')}`
}

/** A date of a round, and how it stands. */
export const sayStood = ({ date, stand, lateBy }: RoundDate, today: string): string =>
  `${sayDate(date, today)}: ${stand === 'expected' ? SAID.expected : sayWent({ went: stand, lateBy })}`
