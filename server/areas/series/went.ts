import { workingDaysBetween } from '#core/calendar/calendar.ts'
import { localStamp, toLocal } from '#core/calendar/dates.ts'
import type { PastDate, Went } from '#contract/series.ts'
import type { Engine } from '../../engine/services.ts'
import { isLate } from '../tasks/late.ts'
import type { Dealt } from './queries.ts'

/** How it went with what a series made for a date. */

type How = Pick<PastDate, 'went' | 'lateBy'>
const plain = (went: Went): How => ({ went, lateBy: 0 })

/** Of closed work, by the day it was due and the moment it was closed. */
function closed({ firm }: Engine, due: string, closedAt: number): How {
  const day = localStamp(due).date
  const { date } = toLocal(closedAt, firm.zone())
  return date <= day
    ? plain('on-time')
    : { went: 'late', lateBy: workingDaysBetween(firm.calendar(), day, date) }
}
function open({ firm }: Engine, due: string, late: boolean): How {
  if (!late) return plain('under-way')
  const lateBy = workingDaysBetween(firm.calendar(), localStamp(due).date, firm.today())
  return { went: 'overdue', lateBy: Math.max(0, lateBy) }
}

function taskWent(engine: Engine, task: NonNullable<Dealt['task']>, date: string): How {
  if (task.state === 'dropped') return plain('dropped')
  const due = task.due ?? date
  const at = task.closedAt ?? task.archivedAt
  return at === null
    ? open(engine, due, isLate(engine.firm.nowLocal(), task))
    : closed(engine, due, at)
}
/** A project is late while any task of it is, and by its last date once it is closed. */
function projectWent(engine: Engine, project: NonNullable<Dealt['project']>, date: string): How {
  const due = project.last ?? project.due ?? date
  const at = project.closedAt ?? project.archivedAt
  if (at !== null) return closed(engine, due, at)
  return open(engine, project.behind ?? due, project.behind !== null)
}

/** How it went with one, by its work as it stands now. */
export function wentOf(engine: Engine, { occurrence, task, project, there }: Dealt): How {
  if (occurrence.state !== 'made') return plain(occurrence.state)
  if (!there) return plain('taken-back')
  if (task) return taskWent(engine, task, occurrence.date)
  return project ? projectWent(engine, project, occurrence.date) : plain('unseen')
}

/** A date that was dealt with, as it is shown. */
export function pastDate(engine: Engine, dealt: Dealt): PastDate {
  const { occurrence, task, project } = dealt
  const { scheduled, date, madeAt, why } = occurrence
  return {
    ...{ scheduled, date, at: madeAt, why },
    ...wentOf(engine, dealt),
    project: project && { id: project.id, name: project.name },
    task: task && { id: task.id, title: task.title },
  }
}
