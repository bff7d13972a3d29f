import { and, eq, inArray, isNotNull, isNull, sql, type SQL } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import { daysLate } from '#core/calendar/calendar.ts'
import type { TaskId } from '#core/brands.ts'
import type { Assignee, Cover, TaskRow } from '#contract/tasks.ts'
import { STATE_NAMES } from '#contract/words.ts'
import { ready, type Row } from '../../database/query.ts'
import { seesTask } from '../../database/sees.ts'
import { sight, type Sight } from '../../database/sight.ts'
import { counted, listed, objects, parsed } from '../../database/sql.ts'
import {
  attachments,
  checklistItems,
  clients,
  comments,
  fields,
  fieldValues,
  people,
  phases,
  projects,
  rules,
  series,
  stateDates,
  states,
  tags,
  taskAssignees,
  tasks,
  taskTags,
} from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { mayWorkOn } from '../access/rows.ts'
import { plainColumns } from './fields.ts'
import { isLate, type LocalNow } from './late.ts'

const child = alias(tasks, 'child')
const subtasks = (more?: ReturnType<typeof isNotNull>) =>
  counted(
    sql`from ${tasks} "child" where ${and(eq(child.parentId, tasks.id), isNull(child.archivedAt), more)}`,
  )
/** The moment a task last entered each state. JSON, since its keys are the states' numbers. */
const entered = parsed<Record<number, number>>(
  sql`(select json_group_object(coalesce("d"."stateId", 0), "d"."at") from
    (select ${stateDates.stateId}, max(${stateDates.at}) as "at" from ${stateDates}
     where ${stateDates.taskId} = ${tasks.id} group by ${stateDates.stateId}) "d")`,
)
/** Values of the fields that are the viewer's to read. */
const fieldsOfTask = ({ all, inside }: Sight) =>
  parsed<Record<string, string | number>>(
    sql`(select json_group_object(${fieldValues.fieldId}, coalesce(${fieldValues.text}, ${fieldValues.number}))
    from ${fieldValues} where ${fieldValues.taskId} = ${tasks.id} and (${all} or ${fieldValues.fieldId} not in
      (select "kept"."id" from ${fields} "kept" where "kept"."readers" <> 'everyone'
        and not ("kept"."readers" = 'members' and ${inside}))))`,
  )
const checklist = objects<TaskRow['checklist'][number]>(
  {
    id: sql`"i"."id"`,
    title: sql`"i"."title"`,
    done: sql`json(iif("i"."done", 'true', 'false'))`,
  },
  sql`from (select ${checklistItems.id}, ${checklistItems.title}, ${checklistItems.done} from ${checklistItems}
    where ${checklistItems.taskId} = ${tasks.id} order by ${checklistItems.position}, ${checklistItems.id}) "i"`,
)
const assignees = objects<Assignee>(
  {
    id: people.id,
    name: people.name,
    estimate: taskAssignees.estimate,
    doneAt: taskAssignees.doneAt,
  },
  sql`from ${taskAssignees} join ${people} on ${people.id} = ${taskAssignees.personId}
    where ${taskAssignees.taskId} = ${tasks.id}`,
)
const tagsOfTask = objects<TaskRow['tags'][number]>(
  { id: tags.id, name: tags.name, colour: tags.colour },
  sql`from ${taskTags} join ${tags} on ${tags.id} = ${taskTags.tagId} where ${taskTags.taskId} = ${tasks.id}`,
)

const cover = parsed<Cover | null>(
  sql`(select json_object('id', ${attachments.id}, 'name', ${attachments.name}, 'url', ${attachments.url},
      'type', ${attachments.type})
    from ${attachments} where ${attachments.taskId} = ${tasks.id} and ${attachments.onBoard}
    order by ${attachments.id} desc limit 1)`,
)

type Values = TaskRow['values']
/** Values of fields that are a column and nothing more, by the field's name; null where none are. */
function plainValues(): SQL<Values | null> {
  const columns = plainColumns().flatMap(([name, column]) => [sql.raw(`'${name}'`), column])
  return columns.length
    ? parsed<Values>(sql`json_object(${sql.join(columns, sql`, `)})`)
    : sql<null>`null`
}
const NONE: Values = {}

/** Everything a row shows, by one question; lists of what belongs to a task are JSON aggregates. */
const rowsOf = ready((orm, a: { ids: string; sight: Sight }) =>
  orm
    .select({
      id: tasks.id,
      title: tasks.title,
      state: tasks.state,
      stateId: tasks.stateId,
      stateName: states.name,
      stateColour: states.colour,
      stateDates: entered,
      parentId: tasks.parentId,
      subtasks: { done: subtasks(isNotNull(child.closedAt)), of: subtasks() },
      doneBy: tasks.doneBy,
      tags: tagsOfTask,
      fields: fieldsOfTask(a.sight),
      values: plainValues(),
      files: counted(sql`from ${attachments} where ${attachments.taskId} = ${tasks.id}`),
      cover,
      comments: counted(sql`from ${comments} where ${comments.taskId} = ${tasks.id}`),
      archivedAt: tasks.archivedAt,
      createdAt: tasks.createdAt,
      priority: tasks.priority,
      start: tasks.start,
      due: tasks.due,
      dueTime: tasks.dueTime,
      firstDue: tasks.firstDue,
      postponed: tasks.postponed,
      reviewedAt: tasks.reviewedAt,
      estimate: tasks.estimate,
      role: tasks.role,
      project: { id: projects.id, name: projects.name },
      phaseId: tasks.phaseId,
      phaseName: phases.name,
      client: { id: clients.id, name: clients.name, short: clients.short },
      assignees,
      checklist,
      series: { id: series.id, name: series.name },
      rung: {
        at: tasks.rung,
        of: sql<number>`json_array_length(${rules.definition}, '$.rungs')`,
        ruleId: rules.id,
        rule: rules.name,
      },
      closedAt: tasks.closedAt,
      version: tasks.version,
    })
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .leftJoin(phases, eq(phases.id, tasks.phaseId))
    .leftJoin(clients, eq(clients.id, sql`coalesce(${tasks.clientId}, ${projects.clientId})`))
    .leftJoin(states, eq(states.id, tasks.stateId))
    .leftJoin(series, eq(series.id, sql`coalesce(${tasks.seriesId}, ${projects.seriesId})`))
    .leftJoin(rules, eq(rules.id, tasks.rungOf))
    .where(and(inArray(tasks.id, listed(a.ids)), seesTask(a.sight, tasks.id))),
)

interface Seen {
  readonly now: LocalNow
  readonly mayWork: (row: Row<typeof rowsOf>) => boolean
}
function toRow(engine: Engine, { now, mayWork }: Seen, raw: Row<typeof rowsOf>): TaskRow {
  const moments = Object.values(raw.stateDates)
  const late = isLate(now, raw)
  const { at, of, ruleId, rule } = raw.rung
  const climbing = raw.closedAt === null && at > 0 && ruleId !== null && rule !== null
  return {
    ...raw,
    mayWork: mayWork(raw),
    values: raw.values ?? NONE,
    stateName: raw.stateName ?? STATE_NAMES[raw.state],
    entered: moments.length ? Math.max(...moments) : null,
    rung: climbing ? { at, of, ruleId, rule } : null,
    late,
    daysLate: late && raw.due ? daysLate(engine.firm.calendar(), raw.due, now.date) : 0,
  }
}

/** The rows of some tasks, in the order of the ids; what is gone or not theirs to see is left out. */
export function taskRows(engine: Engine, viewer: Viewer, ids: readonly TaskId[]): TaskRow[] {
  const now = engine.firm.nowLocal()
  const raw = rowsOf.all(engine.reader, { ids: JSON.stringify(ids), sight: sightOf(viewer) })
  const found = new Map(raw.map((row) => [row.id, row]))
  const seen = { now, mayWork: mayWorkOn(engine, viewer, raw) }
  return ids.flatMap((id) => {
    const row = found.get(id)
    return row ? [toRow(engine, seen, row)] : []
  })
}

const EVERYTHING = sight({ all: true, inside: true, me: 0 })

/** The row of a task as the engine itself sees it; undefined for one that is gone. */
export function rowFor(engine: Engine, id: TaskId): TaskRow | undefined {
  const raw = rowsOf.get(engine.reader, { ids: JSON.stringify([id]), sight: EVERYTHING })
  return raw && toRow(engine, { now: engine.firm.nowLocal(), mayWork: () => true }, raw)
}

export const taskRow = (engine: Engine, viewer: Viewer, id: TaskId): TaskRow | undefined =>
  taskRows(engine, viewer, [id])[0]
