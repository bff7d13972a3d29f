import type { IsoDate, PersonId } from '#core/brands.ts'
import { addDays, localStamp } from '#core/calendar/dates.ts'
import type { Effort } from '#core/load/spread.ts'
import type { Engine } from '../../engine/services.ts'
import { comingOf, readAll } from '../series/coming.ts'
import { plannedOf } from '../series/expected.ts'
import { seriesOf } from '../series/queries.ts'
import { templateById } from '../templates/queries.ts'

/** How far past the window an anchor may lie and still have tasks inside it, in calendar days. */
const REACH = 60

/**
 * A person's work that series have not made yet, near a window of days: what is due before it, and
 * later than today, is nothing to it.
 */
export function expectedEfforts(
  engine: Engine,
  person: PersonId,
  { first, last }: { first: IsoDate; last: IsoDate },
): Effort[] {
  const { reader, firm } = engine
  const today = firm.today()
  const from = addDays(first > today ? first : today, -REACH)
  const until = addDays(last, REACH)
  const out: Effort[] = []
  const read = readAll(engine)
  for (const row of seriesOf.all(reader, { person })) {
    const { makes } = row
    const template =
      makes.kind === 'project' ? templateById.get(reader, { id: makes.templateId }) : undefined
    for (const each of comingOf(engine, row, read(row), from)) {
      const { date } = localStamp(each.date)
      if (date > until) break
      if (makes.kind === 'task') out.push({ minutes: makes.estimate ?? 0, start: null, due: date })
      else if (template) {
        const tasks = plannedOf(engine, template.definition, makes, date)
        for (const { effort, start, due, assignees } of tasks)
          if (assignees.includes(String(person))) out.push({ minutes: effort ?? 0, start, due })
      }
    }
  }
  return out.filter((effort) => effort.due <= until)
}
