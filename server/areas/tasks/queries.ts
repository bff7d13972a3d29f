import type { IsoDate, LocalTime } from '#core/brands.ts'
import { daysLate } from '#core/calendar/calendar.ts'
import { missedAt } from '#core/rules/ladder.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { State } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'

interface Raw {
  id: number
  title: string
  state: State
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
  itemsDone: number
  items: number
  people: string | null
}

const SELECT = `select t.id, t.title, t.state, t.priority, t.start, t.due, t.dueTime, t.estimate, t.role, t.phaseId, t.closedAt, t.version, t.rung, t.rungOf,
  t.projectId, p.name as projectName, c.id as clientId, c.name as clientName, c.short as clientShort,
  s.id as seriesId, s.name as seriesName, r.name as ruleName, r.definition as ruleDefinition,
  (select count(*) from checklistItems i where i.taskId = t.id) as items,
  (select count(*) from checklistItems i where i.taskId = t.id and i.done = 1) as itemsDone,
  (select json_group_array(json_object('id', w.id, 'name', w.name)) from taskAssignees a join people w on w.id = a.personId where a.taskId = t.id) as people
  from tasks t
  left join projects p on p.id = t.projectId
  left join clients c on c.id = coalesce(t.clientId, p.clientId)
  left join series s on s.id = coalesce(t.seriesId, p.seriesId)
  left join rules r on r.id = t.rungOf`

function toRow(engine: Engine, raw: Raw): TaskRow {
  const { firm, clock } = engine
  const open = raw.closedAt === null
  const late = open && raw.due !== null && missedAt({ date: raw.due as IsoDate, time: raw.dueTime as LocalTime | null }, firm.zone()) <= clock.now()
  return {
    id: raw.id,
    title: raw.title,
    state: raw.state,
    priority: raw.priority,
    start: raw.start,
    due: raw.due,
    dueTime: raw.dueTime,
    estimate: raw.estimate,
    role: raw.role,
    project: raw.projectId === null ? null : { id: raw.projectId, name: raw.projectName! },
    phaseId: raw.phaseId,
    client: raw.clientId === null ? null : { id: raw.clientId, name: raw.clientName!, short: raw.clientShort! },
    assignees: JSON.parse(raw.people ?? '[]') as TaskRow['assignees'],
    checklist: { done: raw.itemsDone, of: raw.items },
    series: raw.seriesId === null ? null : { id: raw.seriesId, name: raw.seriesName! },
    rung:
      open && raw.rung > 0 && raw.rungOf !== null && raw.ruleName !== null
        ? { at: raw.rung, of: (JSON.parse(raw.ruleDefinition!) as RuleDefinition).rungs.length, ruleId: raw.rungOf, rule: raw.ruleName }
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
  return { sql: 'exists (select 1 from taskAssignees g where g.taskId = t.id and g.personId = ?)', args: [viewer.id] }
}

/** Tasks that a viewer may see and that meet a condition over `t`, in the order asked for. */
export function selectTasks(
  engine: Engine,
  viewer: Viewer,
  where: string,
  args: readonly unknown[],
  order = 't.due is null, t.due, t.dueTime is null, t.dueTime, t.position, t.id',
  limit = 2_000,
): TaskRow[] {
  const seen = visible(viewer)
  return (engine.db.prepare(`${SELECT} where ${seen.sql} and ${where} order by ${order} limit ${limit}`).all(...seen.args, ...args) as Raw[]).map((raw) => toRow(engine, raw))
}

export const taskRow = (engine: Engine, viewer: Viewer, id: number): TaskRow | undefined => selectTasks(engine, viewer, 't.id = ?', [id])[0]

export const ASSIGNED_TO = 'exists (select 1 from taskAssignees a where a.taskId = t.id and a.personId = ?)'
