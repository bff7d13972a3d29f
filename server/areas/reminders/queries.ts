import { and, asc, desc, eq } from 'drizzle-orm'
import type { IsoDate, PersonId, TaskId } from '#core/brands.ts'
import { most, ready, within, type Row } from '../../database/query.ts'
import { people, reminded, reminders, taskAssignees, tasks } from '../../database/tables/index.ts'

/** What is asked about reminders. */

const row = {
  ...{ id: reminders.id, taskId: reminders.taskId, when: reminders.when, text: reminders.text },
  ...{ assignees: reminders.assignees, people: reminders.people, daily: reminders.daily },
  creatorId: reminders.creatorId,
}
export const remindersOf = within((orm, a: { task: TaskId }) =>
  orm.select(row).from(reminders).where(eq(reminders.taskId, a.task)).orderBy(asc(reminders.id)),
)
export const reminderById = within((orm, a: { id: number }) =>
  orm
    .select({
      ...row,
      task: {
        ...{ title: tasks.title, due: tasks.due, dueTime: tasks.dueTime, start: tasks.start },
        ...{ closedAt: tasks.closedAt, archivedAt: tasks.archivedAt },
      },
    })
    .from(reminders)
    .innerJoin(tasks, eq(tasks.id, reminders.taskId))
    .where(eq(reminders.id, a.id)),
)
export type Reminder = Row<typeof reminderById>
export const onTask = within((orm, a: { task: TaskId }) =>
  orm
    .select({ id: taskAssignees.personId })
    .from(taskAssignees)
    .where(eq(taskAssignees.taskId, a.task))
    .orderBy(asc(taskAssignees.id)),
)
/** How somebody's time is their own. */
export const ownWays = ready((orm, a: { id: PersonId }) =>
  orm.select({ active: people.active, ways: people.ways }).from(people).where(eq(people.id, a.id)),
)
export const wasReminded = within((orm, a: { reminder: number; person: PersonId; day: IsoDate }) =>
  orm
    .select({ id: reminded.id })
    .from(reminded)
    .where(
      and(
        eq(reminded.reminderId, a.reminder),
        eq(reminded.personId, a.person),
        eq(reminded.day, a.day),
      ),
    ),
)
/** The last few times that a reminder went out. */
export const sentOf = within((orm, a: { reminder: number }) =>
  orm
    .select({ name: people.name, at: reminded.at })
    .from(reminded)
    .innerJoin(people, eq(people.id, reminded.personId))
    .where(eq(reminded.reminderId, a.reminder))
    .orderBy(desc(reminded.id))
    .limit(most(5)),
)
