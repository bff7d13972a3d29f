import type { TaskId } from '#core/brands.ts'
import { isoDate, localTime, toInstant } from '#core/calendar/dates.ts'
import { icalendar, type CalendarEntry } from '#core/formats/icalendar.ts'
import { plainText } from '#core/text/rich.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { descriptionOf } from '../tasks/queries.ts'
import { everything, rowsTold } from './sheet.ts'

/** Minutes that a task without an estimate takes in a calendar. */
const UNESTIMATED = 30

/** When a task stands in a calendar: at its time, or on its days. */
function whenOf({ firm }: Engine, task: TaskRow, due: string): CalendarEntry['when'] {
  const { dueTime, start, estimate } = task
  if (dueTime === null || (start !== null && start !== due))
    return { first: start ?? due, last: due }
  return {
    at: toInstant(isoDate(due), localTime(dueTime), firm.zone()),
    minutes: estimate ?? UNESTIMATED,
  }
}

function entryOf(engine: Engine, task: TaskRow, description: string): CalendarEntry[] {
  const { due, client, title } = task
  if (due === null) return []
  const people = task.assignees.map((assignee) => assignee.name).join(', ')
  return [
    {
      uid: `task-${task.id}@fernwick`,
      summary: client && !title.includes(client.short) ? `${title} (${client.short})` : title,
      description: [plainText(description), people].filter(Boolean).join('\n\n'),
      categories: task.tags.map((tag) => tag.name),
      when: whenOf(engine, task, due),
      stamp: engine.clock.now(),
    },
  ]
}

/** What a view finds that has a due date, as entries of a calendar. */
export function calendarEntries(engine: Engine, viewer: Viewer, query: TaskQuery): CalendarEntry[] {
  const flat: TaskQuery = { ...query, group: null, tree: false }
  const ids = [...new Set<TaskId>(everything(engine, viewer, flat).flatMap((g) => g.ids))]
  const sight = sightOf(viewer)
  return rowsTold(engine, viewer, ids, (task) => {
    if (task.due === null) return []
    const found = descriptionOf.get(engine.reader, { id: task.id, sight })
    return entryOf(engine, task, found?.description ?? '')
  }).flat()
}
/** The same as an iCalendar file (RFC 5545). */
export const toIcs = (engine: Engine, viewer: Viewer, name: string, query: TaskQuery): Buffer =>
  Buffer.from(icalendar(name, calendarEntries(engine, viewer, query)), 'utf8')
