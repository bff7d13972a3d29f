import type { TaskId } from '#core/brands.ts'
import { workDay } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { ReminderBody, ReminderRow } from '#contract/reminders.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { reaches } from '#core/access/reach.ts'
import { levelOn, needOnTask } from '../access/levels.ts'
import { isActive, personName } from '../people/queries.ts'
import { needSight, taskSheet } from '../tasks/service.ts'
import { nextOf } from './alarms.ts'
import { reminderById, remindersOf, sentOf } from './queries.ts'

/** Reminders of a task: whoever changes it sets them for anybody, whoever sees it for themselves. */

/** Whether a reminder is for the viewer alone. */
const forMe = (
  viewer: Viewer,
  body: Pick<ReminderBody, 'assignees'> & { people: readonly number[] },
) => !body.assignees && body.people.length === 1 && body.people[0] === viewer.id

/** The reminders of a task as its sheet shows them. */
export function remindersOn(engine: Engine, viewer: Viewer, task: TaskId): ReminderRow[] {
  const { reader, clock } = engine
  const edits = reaches(levelOn(engine, viewer, task), 'edit')
  return remindersOf.all(reader, { task }).flatMap((row) => {
    const mine = forMe(viewer, row)
    // What somebody set for themselves alone is theirs.
    if (!mine && !edits) return []
    const whole = reminderById.get(reader, { id: row.id })
    const { taskId: _, creatorId: __, people, ...more } = row
    return {
      ...more,
      people: people.map((id) => ({ id, name: personName(reader, id) ?? '' })),
      next: whole ? nextOf(engine, whole, clock.now()) : null,
      sent: sentOf.all(reader, { reminder: row.id }),
      mayChange: true,
    }
  })
}

/** Who may set such a reminder, and whether it can come. @throws Refusal */
function check(engine: Engine, viewer: Viewer, task: TaskId, body: ReminderBody): void {
  needSight(engine, viewer, task)
  if (!forMe(viewer, body)) needOnTask(engine, viewer, task, 'edit', 'remind others of this task')
  for (const id of body.people)
    if (!isActive(engine.reader, id))
      refuse(
        'person-left',
        `${personName(engine.reader, id) ?? 'That person'} is not here; choose somebody else.`,
        'people',
      )
  if (body.when.kind === 'at') workDay(body.when.date, 'when.date')
}

const columns = ({ when, assignees, people, daily, text }: ReminderBody) => ({
  ...{ when, assignees, people, daily, text },
})
function changed(
  engine: Engine,
  viewer: Viewer,
  task: TaskId,
  work: (write: Writer) => void,
): Changed<TaskSheet> {
  const { change } = engine.journal.change(actorOf(viewer), work)
  return { result: taskSheet(engine, viewer, task), change }
}
export function addReminder(
  engine: Engine,
  viewer: Viewer,
  taskId: TaskId,
  body: ReminderBody,
): Changed<TaskSheet> {
  check(engine, viewer, taskId, body)
  if (remindersOf.all(engine.reader, { task: taskId }).length >= MOST)
    refuse('too-many', `A task has ${MOST} reminders at most; take one off first.`)
  return changed(engine, viewer, taskId, (write) => {
    write.insert('reminders', { taskId, ...columns(body), creatorId: viewer.id })
  })
}
/** As many as a task has. */
const MOST = 20

/** A reminder that the viewer may change. @throws Refusal `not-found`, `forbidden` */
function needMine(engine: Engine, viewer: Viewer, taskId: TaskId, id: number): void {
  needSight(engine, viewer, taskId)
  const row = remindersOf.all(engine.reader, { task: taskId }).find((one) => one.id === id)
  if (!row) return refuse('not-found', 'That reminder is gone; someone took it off.')
  if (!forMe(viewer, row)) needOnTask(engine, viewer, taskId, 'edit', 'change this reminder')
}
export function changeReminder(
  engine: Engine,
  viewer: Viewer,
  { taskId, id }: { readonly taskId: TaskId; readonly id: number },
  body: ReminderBody,
): Changed<TaskSheet> {
  needMine(engine, viewer, taskId, id)
  check(engine, viewer, taskId, body)
  return changed(engine, viewer, taskId, (write) => {
    write.update('reminders', id, columns(body))
  })
}
export function removeReminder(
  engine: Engine,
  viewer: Viewer,
  { taskId, id }: { readonly taskId: TaskId; readonly id: number },
): Changed<TaskSheet> {
  needMine(engine, viewer, taskId, id)
  return changed(engine, viewer, taskId, (write) => write.remove('reminders', id))
}
