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
type How = Pick<PastDate, 'went' | 'lateBy' | 'date' | 'project'>
/** A project may have work that is overdue before its own date has come. */
const isWithin = ({ went, date, project }: How, today: string) =>
  went === 'overdue' && project !== null && date >= today
export function sayWent(how: How, today: string): string {
  const { went, lateBy } = how
  const said = isWithin(how, today) ? `work in it is ${SAID.overdue}` : SAID[went]
  if (lateBy === 0) return said
  const days = plural(lateBy, 'working day')
  return went === 'late' ? `${days} late` : `${said} by ${days}`
}

/** A date of a round, and how it stands. */
export const sayStood = (one: RoundDate, today: string): string => {
  const { date, stand } = one
  const how = stand === 'expected' ? SAID.expected : sayWent({ ...one, went: stand }, today)
  return `${sayDate(date, today)}: ${how}`
}
