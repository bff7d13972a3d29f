import { sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import { customId, customSpec, enteredId, enteredSpec, TASK_FIELDS } from '#contract/fields.ts'
import type { FieldSpec, TaskField } from '#contract/fields.ts'
import type { Reader } from '../../database/query.ts'
import { caseless, counted } from '../../database/sql.ts'
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
import { fieldRow } from '../fields/queries.ts'

/** Tables that a field's expression needs beside the tasks. */
export type Join = 'project' | 'client' | 'state'
export const JOINS: Readonly<Record<Join, SQL>> = {
  project: sql`left join ${projects} on ${projects.id} = ${tasks.projectId}`,
  client: sql`left join ${clients} on ${clients.id} = coalesce(${tasks.clientId}, ${projects.clientId})`,
  state: sql`left join ${states} on ${states.id} = ${tasks.stateId}`,
}
/** In the order they must stand: a client may be the project's. */
export const JOIN_ORDER: readonly Join[] = ['project', 'client', 'state']

/** Rows of another table of which a task may have several: the table, and its link to the task. */
export interface Many {
  readonly table: SQLWrapper
  readonly taskId: SQLWrapper
}

/** A field as SQL: one value, or one of `many` on rows of another table. */
export interface FieldSql {
  readonly spec: FieldSpec
  readonly needs: readonly Join[]
  /** The value that tests compare and groups are keyed by. */
  readonly value: SQLWrapper
  /** What orders rows where that is not the value; nulls last. */
  readonly order?: readonly SQLWrapper[]
  readonly many?: Many
}

const PRIORITY_ORDER = sql`case ${tasks.priority} when 'urgent' then 0 when 'high' then 1 when 'normal' then 2
  else 3 end`
const FIRST_ASSIGNEE = sql`(select min(${people.name}) from ${taskAssignees}
  join ${people} on ${people.id} = ${taskAssignees.personId} where ${taskAssignees.taskId} = ${tasks.id})`
const PHASE_ORDER = sql`(select ${phases.position} from ${phases} where ${phases.id} = ${tasks.phaseId})`
const entered = (stateId?: number) =>
  sql`(select max(${stateDates.at}) from ${stateDates} where ${stateDates.taskId} = ${tasks.id}
    ${stateId === undefined ? sql`` : sql`and ${stateDates.stateId} = ${stateId}`})`

const one = (value: SQLWrapper, needs: readonly Join[] = [], ...order: SQLWrapper[]) => ({
  needs,
  value,
  ...(order.length && { order }),
})

type Asked = Exclude<TaskField, 'words' | 'late'>
/** `words` and `late` are tests and no values: filter.ts knows them. */
const ASKED: Readonly<Record<Asked, Omit<FieldSql, 'spec'>>> = {
  id: one(tasks.id),
  title: one(tasks.title, [], caseless(tasks.title)),
  state: one(tasks.stateId, ['state'], states.setId, states.position),
  kind: one(tasks.state),
  priority: one(tasks.priority, [], PRIORITY_ORDER),
  assignee: {
    ...one(taskAssignees.personId, [], FIRST_ASSIGNEE),
    many: { table: taskAssignees, taskId: taskAssignees.taskId },
  },
  follower: {
    ...one(taskFollowers.personId),
    many: { table: taskFollowers, taskId: taskFollowers.taskId },
  },
  creator: one(tasks.creatorId),
  client: one(
    sql`coalesce(${tasks.clientId}, ${projects.clientId})`,
    ['project', 'client'],
    clients.name,
  ),
  tier: one(clients.tier, ['project', 'client']),
  project: one(tasks.projectId, ['project'], projects.name),
  phase: one(tasks.phaseId, [], PHASE_ORDER),
  tag: { ...one(taskTags.tagId), many: { table: taskTags, taskId: taskTags.taskId } },
  template: one(projects.templateId, ['project']),
  series: one(sql`coalesce(${tasks.seriesId}, ${projects.seriesId})`, ['project']),
  start: one(tasks.start),
  due: one(tasks.due, [], tasks.due, sql`${tasks.dueTime} is null`, tasks.dueTime),
  week: one(tasks.due),
  month: one(tasks.due),
  created: one(tasks.createdAt),
  closed: one(tasks.closedAt),
  entered: one(entered()),
  estimate: one(tasks.estimate),
  open: one(sql`(${tasks.closedAt} is null)`),
  archived: one(sql`(${tasks.archivedAt} is not null)`),
  subtask: one(sql`(${tasks.parentId} is not null)`),
  parent: one(tasks.parentId),
  rung: one(tasks.rung),
  files: one(counted(sql`from ${attachments} where ${attachments.taskId} = ${tasks.id}`)),
  comments: one(counted(sql`from ${comments} where ${comments.taskId} = ${tasks.id}`)),
  steps: one(counted(sql`from ${checklistItems} where ${checklistItems.taskId} = ${tasks.id}`)),
}
const isAsked = (name: string): name is Asked => Object.hasOwn(ASKED, name)

/** Types of custom fields whose values are kept as text. */
const AS_TEXT: ReadonlySet<string> = new Set(['text', 'link', 'date', 'choice'])

function customSql(reader: Reader, id: number): FieldSql | undefined {
  const field = fieldRow(reader, id)
  if (!field) return undefined
  const spec = customSpec(field)
  const column = AS_TEXT.has(spec.type) ? fieldValues.text : fieldValues.number
  const value = sql`(select ${column} from ${fieldValues} where ${fieldValues.taskId} = ${tasks.id}
    and ${fieldValues.fieldId} = ${id})`
  return { spec, needs: [], value: spec.type === 'flag' ? sql`coalesce(${value}, 0)` : value }
}

/** The SQL of a field by its name; undefined for one that is not (or no longer) there. */
export function fieldSql(reader: Reader, name: string): FieldSql | undefined {
  const id = customId(name)
  if (id !== null) return customSql(reader, id)
  const stateId = enteredId(name)
  if (stateId !== null) return { spec: enteredSpec(''), needs: [], value: entered(stateId) }
  return isAsked(name) ? { spec: TASK_FIELDS[name], ...ASKED[name] } : undefined
}
