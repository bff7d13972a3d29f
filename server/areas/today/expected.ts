import type { IsoDate, PersonId } from '#core/brands.ts'
import { addDays, localStamp } from '#core/calendar/dates.ts'
import type { Effort } from '#core/load/spread.ts'
import { plan } from '#core/templates/plan.ts'
import type { Template } from '#core/templates/template.ts'
import type { Makes } from '#contract/clockwork.ts'
import type { Engine } from '../../engine/services.ts'
import { comingOf, readAll } from '../series/coming.ts'
import { seriesOf } from '../series/queries.ts'
import { templateById } from '../templates/queries.ts'

/** How far past the window an anchor may lie and still have tasks inside it, in calendar days. */
const REACH = 60

type ProjectMakes = Extract<Makes, { kind: 'project' }>

/** What one project of a series asks of a person, on an anchor. */
function projectEfforts(
  { firm }: Engine,
  template: Template,
  makes: ProjectMakes,
  { anchor, person }: { anchor: IsoDate; person: PersonId },
): Effort[] {
  const roles = Object.fromEntries(
    Object.entries(makes.roles).flatMap(([role, filling]) =>
      'person' in filling ? [[role, String(filling.person)]] : [],
    ),
  )
  return plan({ template, anchor, roles, firm: firm.calendar() })
    .tasks.filter((task) => task.assignees.includes(String(person)))
    .map((task) => ({ minutes: task.effort ?? 0, start: task.start, due: task.due }))
}

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
        const of = { anchor: date, person }
        out.push(...projectEfforts(engine, template.definition, makes, of))
      }
    }
  }
  return out.filter((effort) => effort.due <= until)
}
