import type { LocalStamp } from '#core/brands.ts'
import { addDays, localStamp, stamp } from '#core/calendar/dates.ts'
import { recurring, type RecurringEntry } from '#core/formats/icalendar.ts'
import { occurrencesFrom, type Schedule } from '#core/recurrence/schedule.ts'
import { isByDates } from '#core/recurrence/course.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { readAll } from './coming.ts'
import { allSeries } from './queries.ts'

/** Series as an iCalendar file (RFC 5545): what has a rule by it, what has none by its dates. */

/** So far ahead dates are named where no rule of RFC 5545 says them, in calendar days. */
const AHEAD = 730

const written = (text: string): LocalStamp => {
  const { date, time } = localStamp(text)
  return stamp(date, time)
}
/** Working days and rolling are not known to RFC 5545: such dates are named one by one. */
function datesOf(
  { firm }: Engine,
  schedule: Schedule,
): Pick<RecurringEntry, 'start' | 'rule' | 'exclude' | 'include'> | null {
  const { rule, roll = 'none', exclude = [], include = [] } = schedule
  if (typeof rule === 'string' && roll === 'none')
    return {
      ...{ start: schedule.start, rule },
      ...{ exclude: exclude.map(written), include: include.map(written) },
    }
  const last = addDays(firm.today(), AHEAD)
  const dates: LocalStamp[] = []
  for (const { date } of occurrencesFrom(schedule, firm.calendar(), firm.today())) {
    if (localStamp(date).date > last) break
    if (dates.at(-1) !== date) dates.push(date)
  }
  const [start, ...more] = dates
  return start === undefined ? null : { start, rule: null, exclude: [], include: more }
}

/** All series that run by dates. What follows completions has none to write. */
export function seriesCalendar(engine: Engine, viewer: Viewer): Buffer {
  needMember(viewer, 'take out series')
  const read = readAll(engine)
  const year = Number(engine.firm.today().slice(0, 4))
  const entries = allSeries
    .all(engine.reader)
    .flatMap(({ series: row, client }): RecurringEntry[] => {
      const { schedule, name } = row
      if (!row.on || row.archivedAt !== null || row.endedAt !== null || !isByDates(schedule))
        return []
      const dates = datesOf(engine, schedule)
      if (!dates) return []
      return [
        {
          ...{ uid: `series-${row.id}@fernwick`, summary: name, description: client?.name ?? '' },
          ...{ zone: schedule.zone, stamp: engine.clock.now() },
          ...dates,
          byHand: dates.rule === null ? [] : read(row).byHand,
        },
      ]
    })
  return Buffer.from(recurring('Fernwick: series', entries, [year - 1, year + 4]), 'utf8')
}
