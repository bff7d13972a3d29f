import { sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core'
import { customId, enteredId } from '#contract/fields.ts'
import type { Asked, Now } from '#core/conditions/ask.ts'
import type { Field } from '#core/fields/field.ts'
import { caseless, counted } from '../../database/sql.ts'
import type { clientValues, projectValues } from '../../database/tables/index.ts'
import {
  attachments,
  checklistItems,
  clients,
  comments,
  fieldValues,
  people,
  phases,
  projects,
  stateDates,
  states,
  taskAssignees,
  taskFollowers,
  tasks,
  taskTags,
} from '../../database/tables/index.ts'
import { atLeastDaysLate, lateOn } from './late.ts'
import { PLACES, type Place } from './places.ts'

/** Fields of tasks as SQL: what each is asked by, ordered by and kept in. */

/** Tables that a field's expression needs beside the tasks. */
export type Join = 'project' | 'client' | 'state'
export const JOINS: Readonly<Record<Join, SQL>> = {
  project: sql`left join ${projects} on ${projects.id} = ${tasks.projectId}`,
  client: sql`left join ${clients} on ${clients.id} = coalesce(${tasks.clientId}, ${projects.clientId})`,
  state: sql`left join ${states} on ${states.id} = ${tasks.stateId}`,
}
/** In the order they must stand: a client may be the project's. */
export const JOIN_ORDER: readonly Join[] = ['project', 'client', 'state']

/** Rows of another table of which a task may have several: where they are, and which are its own. */
export interface Many {
  readonly table: SQLWrapper
  readonly link: SQLWrapper
}

/** A field as SQL: one value, or one of `many` on rows of another table. */
export interface FieldSql {
  readonly needs: readonly Join[]
  /** The value that tests compare and groups are keyed by. */
  readonly value: SQLWrapper
  /** What orders rows where that is not the value; nulls last. */
  readonly order?: readonly SQLWrapper[]
  readonly many?: Many
  /** Decides a test where comparing the value does not. */
  readonly test?: (asked: Asked) => SQL
}
/** What is told of a field: much of it follows from the firm's day. */
type Told = FieldSql | ((now: Now & { readonly time: string }) => FieldSql)

const one = (value: SQLWrapper, needs: readonly Join[] = [], ...order: SQLWrapper[]): FieldSql => ({
  needs,
  value,
  ...(order.length && { order }),
})
const many = (value: SQLWrapper, table: Many['table'], taskId: SQLWrapper): FieldSql => ({
  ...{ needs: [], value },
  many: { table, link: sql`${taskId} = ${tasks.id}` },
})

const PRIORITY_ORDER = sql`case ${tasks.priority} when 'urgent' then 0 when 'high' then 1 when 'normal' then 2
  else 3 end`
const FIRST_ASSIGNEE = sql`(select min(${people.name}) from ${taskAssignees}
  join ${people} on ${people.id} = ${taskAssignees.personId} where ${taskAssignees.taskId} = ${tasks.id})`
const PHASE_ORDER = sql`(select ${phases.position} from ${phases} where ${phases.id} = ${tasks.phaseId})`
const entered = (stateId?: number) =>
  sql`(select max(${stateDates.at}) from ${stateDates} where ${stateDates.taskId} = ${tasks.id}
    ${stateId === undefined ? sql`` : sql`and ${stateDates.stateId} = ${stateId}`})`
const items = sql`from ${checklistItems} where ${checklistItems.taskId} = ${tasks.id}`
const subtasks = (more: SQL = sql``) =>
  counted(
    sql`from ${tasks} "child" where "child"."parentId" = ${tasks.id} and "child"."archivedAt" is null ${more}`,
  )
/** The Monday of a date's week, in days. */
const monday = (date: SQLWrapper | string) => sql`julianday(date(${date}, '-6 days', 'weekday 1'))`
const due = sql`${tasks.due}`

const TASK_SQL: Readonly<Record<string, Told>> = {
  id: one(tasks.id),
  title: one(tasks.title, [], caseless(tasks.title)),
  description: one(sql`plain_text(${tasks.description})`),
  state: one(tasks.stateId, ['state'], states.setId, states.position),
  kind: one(tasks.state),
  priority: one(tasks.priority, [], PRIORITY_ORDER),
  assignee: {
    ...many(taskAssignees.personId, taskAssignees, taskAssignees.taskId),
    order: [FIRST_ASSIGNEE],
  },
  follower: many(taskFollowers.personId, taskFollowers, taskFollowers.taskId),
  creator: one(tasks.creatorId),
  client: one(
    sql`coalesce(${tasks.clientId}, ${projects.clientId})`,
    ['project', 'client'],
    clients.name,
  ),
  project: one(tasks.projectId, ['project'], projects.name),
  phase: one(tasks.phaseId, [], PHASE_ORDER),
  tag: many(taskTags.tagId, taskTags, taskTags.taskId),
  template: one(projects.templateId, ['project']),
  series: one(sql`coalesce(${tasks.seriesId}, ${projects.seriesId})`, ['project']),
  parent: one(tasks.parentId),
  subtask: one(sql`(${tasks.parentId} is not null)`),
  start: one(tasks.start),
  due: one(tasks.due, [], tasks.due, sql`${tasks.dueTime} is null`, tasks.dueTime),
  week: one(tasks.due),
  month: one(tasks.due),
  'first-due': one(tasks.firstDue),
  created: one(tasks.createdAt),
  closed: one(tasks.closedAt),
  entered: one(entered()),
  reviewed: one(tasks.reviewedAt),
  late: (now) => one(lateOn(now)),
  // The calendar is not in the tables: days are counted as a bound on the due.
  'days-late': (now) => ({
    ...one(sql`iif(${lateOn(now)}, julianday(${now.today}) - julianday(${due}), 0)`),
    test: atLeastDaysLate(now),
  }),
  'days-left': ({ today }) => one(sql`cast(julianday(${due}) - julianday(${today}) as integer)`),
  'weeks-left': ({ today }) => one(sql`cast((${monday(due)} - ${monday(today)}) / 7 as integer)`),
  postponed: one(tasks.postponed),
  rung: one(tasks.rung),
  open: one(sql`(${tasks.closedAt} is null)`),
  archived: one(sql`(${tasks.archivedAt} is not null)`),
  estimate: one(tasks.estimate),
  steps: one(counted(items)),
  ticked: one(sql`(select 100 * sum(${checklistItems.done}) / count(*) ${items})`),
  'count:people': one(
    counted(sql`from ${taskAssignees} where ${taskAssignees.taskId} = ${tasks.id}`),
  ),
  'count:open-subtasks': one(subtasks(sql`and "child"."closedAt" is null`)),
  'count:subtasks': one(subtasks()),
  files: one(counted(sql`from ${attachments} where ${attachments.taskId} = ${tasks.id}`)),
  comments: one(counted(sql`from ${comments} where ${comments.taskId} = ${tasks.id}`)),
}

/** The columns of fields that are a column and nothing more, by the field's name. */
const COLUMNS = new Map<string, SQLiteColumn>()
/** Says which column a field is kept in that is nothing more. */
export const keptIn = (name: string, column: SQLiteColumn): void => void COLUMNS.set(name, column)
/** Fields that rows carry among their values. */
export const plainColumns = (): [string, SQLiteColumn][] => [...COLUMNS]

/** Types of custom fields whose values are kept as text. */
const AS_TEXT: ReadonlySet<string> = new Set(['text', 'link', 'date', 'choice'])
type Values = typeof fieldValues | typeof projectValues | typeof clientValues
/** The value that a custom field has on a thing: of the rows that belong to it, the field's. */
function ownValue({ type }: Pick<Field, 'type'>, id: number, values: Values, own: SQL): SQL {
  const column = AS_TEXT.has(type) ? values.text : values.number
  const value = sql`(select ${column} from ${values} where ${own} and ${values.fieldId} = ${id})`
  return type === 'yes-no' ? sql`coalesce(${value}, 0)` : value
}

/** A field of a place, reached by the number of the place: `name`, `client.tier`, `field:3`. */
function placed(
  place: Place,
  at: SQLWrapper,
  path: readonly string[],
  field: Field<'task'>,
): Pick<FieldSql, 'value' | 'many'> | undefined {
  const [name = '', ...rest] = path
  const id = rest.length ? null : customId(name)
  if (id !== null && place.own)
    return {
      value: ownValue(field, id, place.own.values, sql`${place.own.owner} = ${at}`),
    }
  const found = place.fields[name]
  if (!found) return undefined
  if (found.many)
    return {
      value: found.value,
      many: { table: found.many.table, link: sql`${found.many.of} = ${at}` },
    }
  const value = sql`(select ${found.value} from ${place.table} where ${place.id} = ${at})`
  if (rest.length === 0) return { value }
  const next = found.to === undefined ? undefined : PLACES[found.to]
  return next && placed(next, value, rest, field)
}

/** What a task belongs to, by the field that leads there; the people on it are several. */
function walkedSql(
  path: readonly string[],
  field: Field<'task'>,
  now: SqlNow,
): FieldSql | undefined {
  const [first = '', ...rest] = path
  const from = told(first, now)
  const place = PLACES[LEADS[first] ?? '']
  const inner = from && place && placed(place, from.value, rest, field)
  if (!from || !inner) return undefined
  // Of several people, each by its own row.
  if (from.many) return { needs: from.needs, value: inner.value, many: from.many }
  const order = field.type === 'text' ? { order: [caseless(inner.value)] } : {}
  return { needs: from.needs, ...inner, ...order }
}
const LEADS: Readonly<Record<string, string>> = {
  ...{
    project: 'project',
    client: 'client',
    phase: 'phase',
    creator: 'person',
    assignee: 'person',
  },
}

export type SqlNow = Now & { readonly time: string }
function told(name: string, now: SqlNow): FieldSql | undefined {
  const known = Object.hasOwn(TASK_SQL, name) ? TASK_SQL[name] : undefined
  if (known) return typeof known === 'function' ? known(now) : known
  const column = COLUMNS.get(name)
  return column && one(column)
}

/** The SQL of a field; undefined for one that SQL cannot ask. */
export function fieldSql(field: Field<'task'>, now: SqlNow): FieldSql | undefined {
  const { name } = field
  const id = customId(name)
  if (id !== null)
    return one(ownValue(field, id, fieldValues, sql`${fieldValues.taskId} = ${tasks.id}`))
  const stateId = enteredId(name)
  if (stateId !== null) return one(entered(stateId))
  return (
    told(name, now) ?? (name.includes('.') ? walkedSql(name.split('.'), field, now) : undefined)
  )
}
