import { and, asc, eq, gte, isNull, lte, max } from 'drizzle-orm'
import type { IsoDate, PersonId, TaskId } from '#core/brands.ts'
import { actingFor } from '#core/people/stand-in.ts'
import type { Who } from '#contract/rules.ts'
import { ready, within, type Reader } from '../../database/query.ts'
import { people, projects, taskAssignees, tasks, timeOff } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { leastLoaded, personById } from './queries.ts'

/** Whom an action of a rule is about, as people; and who acts for them while they are away. */

const assigneesOf = within((orm, a: { task: TaskId }) =>
  orm
    .select({ id: taskAssignees.personId, managerId: people.managerId })
    .from(taskAssignees)
    .innerJoin(people, eq(people.id, taskAssignees.personId))
    .where(eq(taskAssignees.taskId, a.task))
    .orderBy(asc(taskAssignees.id)),
)
const leadOf = within((orm, a: { task: TaskId }) =>
  orm
    .select({ id: projects.leadId })
    .from(tasks)
    .innerJoin(projects, eq(projects.id, tasks.projectId))
    .where(eq(tasks.id, a.task)),
)

function named(
  { reader }: Engine,
  who: Who,
  task: TaskId,
  owner: PersonId | null,
): (PersonId | null)[] {
  switch (who.is) {
    case 'assignees':
      return assigneesOf.all(reader, { task }).map((a) => a.id)
    case 'manager':
      return assigneesOf.all(reader, { task }).map((a) => a.managerId)
    case 'lead':
      return [leadOf.get(reader, { task })?.id ?? null]
    case 'owner':
      return [owner]
    case 'person':
      return [who.id]
    case 'team':
      return [leastLoaded(reader, who.id)]
  }
}

/** Who an action of a rule is about, for one task; people who left are named apart. */
export function resolveWho(
  engine: Engine,
  who: Who,
  task: TaskId,
  owner: PersonId | null,
): { people: PersonId[]; left: string[] } {
  const found = { people: new Set<PersonId>(), left: new Set<string>() }
  for (const id of named(engine, who, task, owner)) {
    if (id === null) continue
    const person = personById.get(engine.reader, { id })
    if (person?.active) found.people.add(id)
    else found.left.add(person?.name ?? `person ${id}`)
  }
  return { people: [...found.people], left: [...found.left] }
}

const standingOf = ready((orm, a: { id: PersonId }) =>
  orm
    .select({ active: people.active, standInId: people.standInId })
    .from(people)
    .where(eq(people.id, a.id)),
)
/** Time off that takes the whole of a day. */
const wholeDays = (day: IsoDate) =>
  and(
    ...[gte(timeOff.lastDay, day), lte(timeOff.firstDay, day)],
    ...[eq(timeOff.half, false), isNull(timeOff.minutes)],
  )
const wholeDayOff = ready((orm, a: { id: PersonId; day: IsoDate }) =>
  orm
    .select({ id: timeOff.id })
    .from(timeOff)
    .where(and(eq(timeOff.personId, a.id), wholeDays(a.day))),
)
/** Who is away for the whole of a day, and until when. */
export const awayOn = ready((orm, a: { day: IsoDate }) =>
  orm
    .select({ id: timeOff.personId, until: max(timeOff.lastDay).mapWith(String) })
    .from(timeOff)
    .where(wholeDays(a.day))
    .groupBy(timeOff.personId),
)
/** Who acts for somebody on a day: themselves, unless they are away for the whole of it. */
export const actingOn = (reader: Reader, id: PersonId, day: IsoDate): PersonId =>
  actingFor(id, (one) => {
    const found = standingOf.get(reader, { id: one })
    return found && { ...found, away: wholeDayOff.get(reader, { id: one, day }) !== undefined }
  })
