import type { IsoDate, LocalTime } from '#core/brands.ts'
import { daysLate } from '#core/calendar/calendar.ts'
import { missedAt } from '#core/rules/ladder.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { STATE_NAMES, type State } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'

interface Raw {
  id: number
  title: string
  state: State
  stateId: number | null
  stateName: string | null
  stateColour: string | null
  parentId: number | null
  subtasks: number
  subtasksDone: number
  doneBy: 'any' | 'all'
  dates: string | null
  files: number
  comments: number
  archivedAt: number | null
  createdAt: number
  tags: string | null
  fields: string | null
  priority: TaskRow['priority']
  start: string | null
  due: string | null
  dueTime: string | null
  estimate: number | null
  role: string | null
  phaseId: number | null
  closedAt: number | null
  version: number
  rung: number
  rungOf: number | null
  projectId: number | null
  projectName: string | null
  clientId: number | null
  clientName: string | null
  clientShort: string | null
  seriesId: number | null
  seriesName: string | null
  ruleName: string | null
  ruleDefinition: string | null
  items: string | null
  people: string | null
}

const count = (from: string) => `(select count(*) from ${from})`
const list = (object: string, from: string) =>
  `(select json_group_array(json_object(${object})) from ${from})`
/** Everything a row shows, by one statement. */
export const SELECT = `select t.id, t.title, t.state, t.stateId, st.name as stateName, st.colour as stateColour, t.parentId, t.doneBy, t.priority, t.start, t.due, t.dueTime, t.estimate, t.role, t.phaseId,
  t.closedAt, t.archivedAt, t.createdAt, t.version, t.rung, t.rungOf, t.projectId, p.name as projectName, c.id as clientId, c.name as clientName, c.short as clientShort,
  s.id as seriesId, s.name as seriesName, r.name as ruleName, r.definition as ruleDefinition,
  ${count('tasks k where k.parentId = t.id and k.archivedAt is null')} as subtasks, ${count('tasks k where k.parentId = t.id and k.archivedAt is null and k.closedAt is not null')} as subtasksDone,
  ${count('attachments x where x.taskId = t.id')} as files, ${count('comments x where x.taskId = t.id')} as comments,
  (select json_group_object(coalesce(d.stateId, 0), d.at) from (select stateId, max(at) as at from stateDates where taskId = t.id group by stateId) d) as dates,
  ${list("'id', i.id, 'title', i.title, 'done', i.done", '(select id, title, done from checklistItems where taskId = t.id order by position, id) i')} as items,
  ${list("'id', w.id, 'name', w.name, 'estimate', a.estimate, 'doneAt', a.doneAt", 'taskAssignees a join people w on w.id = a.personId where a.taskId = t.id')} as people,
  ${list("'id', g.id, 'name', g.name, 'colour', g.colour", 'taskTags m join tags g on g.id = m.tagId where m.taskId = t.id')} as tags,
  (select json_group_object(v.fieldId, coalesce(v.text, v.number)) from fieldValues v where v.taskId = t.id) as fields
  from tasks t
  left join projects p on p.id = t.projectId
  left join clients c on c.id = coalesce(t.clientId, p.clientId)
  left join states st on st.id = t.stateId
  left join series s on s.id = coalesce(t.seriesId, p.seriesId)
  left join rules r on r.id = t.rungOf`

function toRow(engine: Engine, raw: Raw): TaskRow {
  const { firm, clock } = engine
  const open = raw.closedAt === null
  const items = JSON.parse(raw.items ?? '[]') as { id: number; title: string; done: number }[]
  const dates = JSON.parse(raw.dates ?? '{}') as Record<number, number>
  const moments = Object.values(dates)
  const late =
    open &&
    raw.due !== null &&
    missedAt({ date: raw.due as IsoDate, time: raw.dueTime as LocalTime | null }, firm.zone()) <=
      clock.now()
  return {
    id: raw.id,
    title: raw.title,
    state: raw.state,
    stateId: raw.stateId,
    stateName: raw.stateName ?? STATE_NAMES[raw.state],
    stateColour: raw.stateColour,
    entered: moments.length ? Math.max(...moments) : null,
    stateDates: dates,
    parentId: raw.parentId,
    subtasks: { done: raw.subtasksDone, of: raw.subtasks },
    doneBy: raw.doneBy,
    tags: JSON.parse(raw.tags ?? '[]') as TaskRow['tags'],
    fields: JSON.parse(raw.fields ?? '{}') as TaskRow['fields'],
    files: raw.files,
    comments: raw.comments,
    archivedAt: raw.archivedAt,
    createdAt: raw.createdAt,
    priority: raw.priority,
    start: raw.start,
    due: raw.due,
    dueTime: raw.dueTime,
    estimate: raw.estimate,
    role: raw.role,
    project: raw.projectId === null ? null : { id: raw.projectId, name: raw.projectName! },
    phaseId: raw.phaseId,
    client:
      raw.clientId === null
        ? null
        : { id: raw.clientId, name: raw.clientName!, short: raw.clientShort! },
    assignees: JSON.parse(raw.people ?? '[]') as TaskRow['assignees'],
    checklist: items.map((i) => ({ ...i, done: i.done === 1 })),
    series: raw.seriesId === null ? null : { id: raw.seriesId, name: raw.seriesName! },
    rung:
      open && raw.rung > 0 && raw.rungOf !== null && raw.ruleName !== null
        ? {
            at: raw.rung,
            of: (JSON.parse(raw.ruleDefinition!) as RuleDefinition).rungs.length,
            ruleId: raw.rungOf,
            rule: raw.ruleName,
          }
        : null,
    late,
    daysLate: late ? daysLate(firm.calendar(), raw.due as IsoDate, firm.today()) : 0,
    closedAt: raw.closedAt,
    version: raw.version,
  }
}

/** Guests see what is assigned to them; a condition over `t` with its parameters. */
export function visible(viewer: Viewer): { sql: string; args: number[] } {
  if (!isGuest(viewer)) return { sql: '1', args: [] }
  return {
    sql: 'exists (select 1 from taskAssignees g where g.taskId = t.id and g.personId = ?)',
    args: [viewer.id],
  }
}

/** The order of lists that name none: by due, what has none last. */
export const DUE_ORDER = 't.due is null, t.due, t.dueTime is null, t.dueTime, t.position, t.id'

/** Tasks that a viewer may see and that meet a condition over `t`, in the order asked for. */
export function selectTasks(
  engine: Engine,
  viewer: Viewer,
  where: string,
  args: readonly unknown[],
  order = DUE_ORDER,
  limit = 2_000,
): TaskRow[] {
  const seen = visible(viewer)
  return (
    engine.db
      .prepare(`${SELECT} where ${seen.sql} and ${where} order by ${order} limit ${limit}`)
      .all(...seen.args, ...args) as Raw[]
  ).map((raw) => toRow(engine, raw))
}

/**
 * The rows of some tasks, in the order of the ids; those that are gone or not theirs to see are
 * left out.
 */
export function taskRows(engine: Engine, viewer: Viewer, ids: readonly number[]): TaskRow[] {
  const found = new Map(
    selectTasks(
      engine,
      viewer,
      't.id in (select value from json_each(?))',
      [JSON.stringify(ids)],
      't.id',
    ).map((row) => [row.id, row]),
  )
  return ids.flatMap((id) => found.get(id) ?? [])
}

export const taskRow = (engine: Engine, viewer: Viewer, id: number): TaskRow | undefined =>
  taskRows(engine, viewer, [id])[0]

export const ASSIGNED_TO =
  't.archivedAt is null and exists (select 1 from taskAssignees a where a.taskId = t.id and a.personId = ?)'
