import {
  customId,
  customSpec,
  enteredId,
  enteredSpec,
  TASK_FIELDS,
  type FieldSpec,
  type TaskField,
} from '#contract/fields.ts'
import type { Engine } from '../../engine/services.ts'
import { fieldRow } from '../fields/queries.ts'

/** Tables that a field's expression needs beside `t`, the tasks. */
export type Join = 'p' | 'c' | 'st'
export const JOINS: Readonly<Record<Join, string>> = {
  p: 'left join projects p on p.id = t.projectId',
  c: 'left join clients c on c.id = coalesce(t.clientId, p.clientId)',
  st: 'left join states st on st.id = t.stateId',
}
/** In the order they must stand: a client may be the project's. */
export const JOIN_ORDER: readonly Join[] = ['p', 'c', 'st']

/**
 * A field as SQL: one value, or one of many on rows of another table (`from`, joined by `many`).
 */
export interface FieldSql {
  readonly spec: FieldSpec
  readonly needs: readonly Join[]
  /** The value that tests compare and groups are keyed by. */
  readonly value: string
  /** What orders rows where that is not the value; nulls last. */
  readonly order?: string
  /** Where a task may have several: the table with its alias `m`, linked by `m.taskId`. */
  readonly many?: string
}

const PRIORITY_ORDER =
  "case t.priority when 'urgent' then 0 when 'high' then 1 when 'normal' then 2 else 3 end"
const CLIENT = 'coalesce(t.clientId, p.clientId)'
const first = (column: string, table: string) => `(select ${column} from ${table})`

const SQL: Readonly<Record<Exclude<TaskField, 'words' | 'late'>, Omit<FieldSql, 'spec'>>> = {
  id: { needs: [], value: 't.id' },
  title: { needs: [], value: 't.title', order: 't.title collate nocase' },
  state: { needs: ['st'], value: 't.stateId', order: 'st.setId, st.position' },
  kind: { needs: [], value: 't.state' },
  priority: { needs: [], value: 't.priority', order: PRIORITY_ORDER },
  assignee: {
    needs: [],
    value: 'm.personId',
    many: 'taskAssignees',
    order: first(
      'min(w.name)',
      'taskAssignees a join people w on w.id = a.personId where a.taskId = t.id',
    ),
  },
  follower: { needs: [], value: 'm.personId', many: 'taskFollowers' },
  creator: { needs: [], value: 't.creatorId' },
  client: { needs: ['p', 'c'], value: CLIENT, order: 'c.name' },
  tier: { needs: ['p', 'c'], value: 'c.tier' },
  project: { needs: ['p'], value: 't.projectId', order: 'p.name' },
  phase: {
    needs: [],
    value: 't.phaseId',
    order: first('ph.position', 'phases ph where ph.id = t.phaseId'),
  },
  tag: { needs: [], value: 'm.tagId', many: 'taskTags' },
  template: { needs: ['p'], value: 'p.templateId' },
  series: { needs: ['p'], value: 'coalesce(t.seriesId, p.seriesId)' },
  start: { needs: [], value: 't.start' },
  due: { needs: [], value: 't.due', order: 't.due, t.dueTime is null, t.dueTime' },
  week: { needs: [], value: 't.due' },
  month: { needs: [], value: 't.due' },
  created: { needs: [], value: 't.createdAt' },
  closed: { needs: [], value: 't.closedAt' },
  entered: { needs: [], value: first('max(d.at)', 'stateDates d where d.taskId = t.id') },
  estimate: { needs: [], value: 't.estimate' },
  open: { needs: [], value: '(t.closedAt is null)' },
  archived: { needs: [], value: '(t.archivedAt is not null)' },
  subtask: { needs: [], value: '(t.parentId is not null)' },
  parent: { needs: [], value: 't.parentId' },
  rung: { needs: [], value: 't.rung' },
  files: { needs: [], value: first('count(*)', 'attachments x where x.taskId = t.id') },
  comments: { needs: [], value: first('count(*)', 'comments x where x.taskId = t.id') },
  steps: { needs: [], value: first('count(*)', 'checklistItems x where x.taskId = t.id') },
}

/** The SQL of a field by its name; undefined for one that is not (or no longer) there. */
export function fieldSql(engine: Engine, name: string): FieldSql | undefined {
  const id = customId(name)
  if (id !== null) {
    const field = fieldRow(engine.db, id)
    if (!field) return undefined
    const spec = customSpec(field)
    const column =
      spec.type === 'text' || spec.type === 'link' || spec.type === 'date' || spec.type === 'choice'
        ? 'text'
        : 'number'
    const value = `(select v.${column} from fieldValues v where v.taskId = t.id and v.fieldId = ${id})`
    return { spec, needs: [], value: spec.type === 'flag' ? `coalesce(${value}, 0)` : value }
  }
  const stateId = enteredId(name)
  if (stateId !== null)
    return {
      spec: enteredSpec(''),
      needs: [],
      value: first('max(d.at)', `stateDates d where d.taskId = t.id and d.stateId = ${stateId}`),
    }
  if (!Object.hasOwn(SQL, name)) return undefined
  return { spec: TASK_FIELDS[name as TaskField], ...SQL[name as keyof typeof SQL] }
}
