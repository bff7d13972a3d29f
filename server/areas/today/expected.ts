import type { IsoDate } from '#core/brands.ts'
import { localStamp } from '#core/calendar/dates.ts'
import type { Effort } from '#core/load/spread.ts'
import { occurrencesAfter, type Schedule } from '#core/recurrence/schedule.ts'
import { plan } from '#core/templates/plan.ts'
import type { Template } from '#core/templates/template.ts'
import type { LocalStamp } from '#core/brands.ts'
import type { Makes } from '#contract/clockwork.ts'
import type { Engine } from '../../engine/services.ts'
import type { SeriesRow } from '../series/service.ts'

/** How far past the window an anchor may lie and still have tasks inside it, in calendar days. */
const REACH = 60

/**
 * A person's work that series have not made yet, for occurrences near a window that ends on `last`.
 */
export function expectedEfforts(engine: Engine, personId: number, last: IsoDate): Effort[] {
  const out: Effort[] = []
  const { db, firm } = engine
  const until = new Date(Date.parse(last) + REACH * 86_400_000).toISOString().slice(0, 10)
  for (const row of db
    .prepare('select * from series where "on" = 1 and endedAt is null')
    .all() as SeriesRow[]) {
    const makes = JSON.parse(row.makes) as Makes
    const mine =
      makes.kind === 'task'
        ? makes.assignees.includes(personId)
        : Object.values(makes.roles).some((f) => 'person' in f && f.person === personId)
    if (!mine) continue
    for (const each of occurrencesAfter(
      JSON.parse(row.schedule) as Schedule,
      firm.calendar(),
      row.reached as LocalStamp | null,
    )) {
      const { date } = localStamp(each.date)
      if (date > until) break
      if (makes.kind === 'task') out.push({ minutes: makes.estimate ?? 0, start: null, due: date })
      else {
        const template = db
          .prepare('select definition from templates where id = ?')
          .get(makes.templateId) as { definition: string }
        const roles = Object.fromEntries(
          Object.entries(makes.roles).flatMap(([role, f]) =>
            'person' in f ? [[role, String(f.person)]] : [],
          ),
        )
        for (const task of plan({
          template: JSON.parse(template.definition) as Template,
          anchor: date,
          roles,
          firm: firm.calendar(),
        }).tasks)
          if (task.assignees.includes(String(personId)))
            out.push({ minutes: task.effort ?? 0, start: task.start, due: task.due })
      }
    }
  }
  return out.filter((e) => e.due <= until)
}
