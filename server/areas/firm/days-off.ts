import { asc, gte } from 'drizzle-orm'
import type { HolidayId, IsoDate } from '#core/brands.ts'
import { isoDate, workDay } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { HolidayRow, HolidaysBody } from '#contract/firm.ts'
import { ready, within } from '../../database/query.ts'
import { holidays } from '../../database/tables/index.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'

/** The days on which the firm does not work: those of its place, and those entered here. */

/** As many as a firm keeps: some thirty a year, over a lifetime. */
const MOST = 3_000

export const holidaysFrom = ready((orm, a: { date: IsoDate }) =>
  orm.select().from(holidays).where(gte(holidays.date, a.date)).orderBy(asc(holidays.date)),
)
const everyHoliday = within((orm) =>
  orm.select({ id: holidays.id, date: holidays.date, own: holidays.own }).from(holidays),
)

/** From the beginning of this year on. */
export function listHolidays({ reader, firm }: Engine, viewer: Viewer): HolidayRow[] {
  needStructure(viewer, 'see how the firm’s holidays are kept')
  return holidaysFrom.all(reader, { date: isoDate(`${firm.today().slice(0, 4)}-01-01`) })
}

/**
 * Enters holidays; what is entered for a day takes the place of what stood on it.
 * @throws Refusal `bad-date`, `too-many`
 */
export function enterHolidays(
  engine: Engine,
  viewer: Viewer,
  { days }: HolidaysBody,
): Changed<HolidayRow[]> {
  needStructure(viewer, 'enter holidays')
  const given = new Map(
    days.map((day, i) => [workDay(day.date, `days[${i}].date`), { ...day, own: true }]),
  )
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const there = new Map(everyHoliday.all(engine.reader).map(({ id, date }) => [date, id]))
    const more = [...given.keys()].filter((date) => !there.has(date)).length
    if (there.size + more > MOST)
      refuse('too-many', `A firm keeps ${MOST} holidays at the most; take old ones out.`, 'days')
    for (const [date, { name, half, own }] of given) {
      const id = there.get(date)
      if (id === undefined) write.insert('holidays', { date, name, half, own })
      else write.update('holidays', id, { name, half, own })
    }
  })
  return { result: listHolidays(engine, viewer), change }
}

/** Takes a holiday out: the firm works on it. @throws Refusal `not-found` */
export function removeHoliday(
  engine: Engine,
  viewer: Viewer,
  id: HolidayId,
): Changed<HolidayRow[]> {
  needStructure(viewer, 'take holidays out')
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    if (!everyHoliday.all(engine.reader).some((one) => one.id === id))
      refuse('not-found', `There is no holiday ${id}.`)
    write.remove('holidays', id)
  })
  return { result: listHolidays(engine, viewer), change }
}
