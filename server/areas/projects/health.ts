import { daysLate } from '#core/calendar/calendar.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type { ProjectRow } from '#contract/desks.ts'
import type { Engine } from '../../engine/services.ts'
import type { ProjectRecord } from './queries.ts'

/** Lateness from which a project is in trouble, in working days. */
const TROUBLE = 5

type Health = Omit<ProjectRow['health'], 'byHand'>

/** Why a project that stands still does so; null where it runs. */
function atRest({ firm }: Engine, r: ProjectRecord): string | null {
  const names = firm.projectNames()
  const said = (name: string) => name.charAt(0).toLowerCase() + name.slice(1)
  if (r.closedAt !== null) return `It is ${said(names.finished)}.`
  if (r.state === 'running') return null
  const since = r.heldOn ? ` since ${sayDate(r.heldOn, firm.today())}` : ''
  return `It is ${said(names[r.state])}${since}.`
}

/** How a project stands by its dates, with the reason. */
function byDates(engine: Engine, r: ProjectRecord): Health {
  const { firm } = engine
  const today = firm.today()
  const rests = atRest(engine, r)
  if (rests !== null) return { value: 'steady', reason: rests }
  if (r.anchorIs === 'deadline' && r.anchor !== null && r.anchor < today && r.open > 0)
    return {
      value: 'trouble',
      reason: `Its date, ${sayDate(r.anchor, today)}, has passed with ${plural(r.open, 'task')} open.`,
    }
  if (r.missed !== null)
    return { value: 'trouble', reason: `The milestone “${r.missed}” was missed.` }
  const oldest = r.oldestDue === null ? 0 : daysLate(firm.calendar(), r.oldestDue, today)
  if (oldest >= TROUBLE)
    return {
      value: 'trouble',
      reason: `${plural(r.late, 'task')} late, the oldest by ${plural(oldest, 'working day')}.`,
    }
  if (r.late > 0) return { value: 'watch', reason: `${plural(r.late, 'task')} late.` }
  return { value: 'steady', reason: r.open ? 'Nothing is late.' : 'Everything is done.' }
}

/** How a project stands: as somebody said, or judged by its dates. */
export const healthOf = (engine: Engine, r: ProjectRecord): ProjectRow['health'] =>
  r.health === null
    ? { ...byDates(engine, r), byHand: false }
    : { value: r.health, reason: r.healthReason, byHand: true }
