import { refuse } from '#core/refusal.ts'
import type { ProjectRow, ProjectView } from '#contract/views.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'
import { selectTasks } from '../tasks/queries.ts'

interface Raw {
  id: number
  name: string
  anchor: string | null
  closedAt: number | null
  clientId: number | null
  client: string | null
  short: string | null
  leadId: number | null
  lead: string | null
  templateId: number | null
  template: string | null
  templateVersion: number | null
  seriesId: number | null
  series: string | null
  open: number
  done: number
  effort: number
  effortDone: number
  late: number
  nextDue: string | null
}

/** Guests see projects they have a task in. */
const SEEN = (viewer: Viewer) =>
  isGuest(viewer) ? 'exists (select 1 from tasks g join taskAssignees a on a.taskId = g.id where g.projectId = p.id and a.personId = @viewer)' : '@viewer is not null'

function select(engine: Engine, viewer: Viewer, where: string, args: Record<string, unknown>): ProjectRow[] {
  const rows = engine.db
    .prepare(
      `select p.id, p.name, p.anchor, p.closedAt, p.clientId, c.name as client, c.short, p.leadId, w.name as lead, p.templateId, tp.name as template, p.templateVersion, p.seriesId, s.name as series,
       count(t.id) filter (where t.closedAt is null) as open, count(t.id) filter (where t.closedAt is not null) as done,
       coalesce(sum(coalesce(t.estimate, 30)) filter (where t.state <> 'dropped'), 0) as effort, coalesce(sum(coalesce(t.estimate, 30)) filter (where t.state = 'done'), 0) as effortDone,
       count(t.id) filter (where t.closedAt is null and t.due < @today) as late, min(t.due) filter (where t.closedAt is null) as nextDue
       from projects p left join tasks t on t.projectId = p.id left join clients c on c.id = p.clientId left join people w on w.id = p.leadId left join templates tp on tp.id = p.templateId left join series s on s.id = p.seriesId
       where ${SEEN(viewer)} and ${where} group by p.id order by p.closedAt is not null, nextDue is null, nextDue, p.name`,
    )
    .all({ ...args, viewer: viewer.id, today: engine.firm.today() }) as Raw[]
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    anchor: r.anchor,
    closedAt: r.closedAt,
    open: r.open,
    done: r.done,
    late: r.late,
    nextDue: r.nextDue,
    client: r.clientId === null ? null : { id: r.clientId, name: r.client!, short: r.short! },
    lead: r.leadId === null ? null : { id: r.leadId, name: r.lead! },
    template: r.templateId === null ? null : { id: r.templateId, name: r.template!, version: r.templateVersion! },
    series: r.seriesId === null ? null : { id: r.seriesId, name: r.series! },
    progress: r.effort === 0 ? 0 : r.effortDone / r.effort,
  }))
}

export const listProjects = (engine: Engine, viewer: Viewer): ProjectRow[] => select(engine, viewer, '1', {})

/** One project with its tasks by phase; what is in no phase stands apart. */
export function projectView(engine: Engine, viewer: Viewer, id: number): ProjectView {
  const row = select(engine, viewer, 'p.id = @id', { id })[0] ?? refuse('not-found', `There is no project ${id} here, or it is not shared with you.`)
  const tasks = selectTasks(engine, viewer, 't.projectId = ?', [id], 't.position, t.due, t.id')
  const phases = (engine.db.prepare('select id, name from phases where projectId = ? order by position').all(id) as { id: number; name: string }[]).map((phase) => ({
    ...phase,
    tasks: tasks.filter((t) => t.phaseId === phase.id),
  }))
  return { ...row, phases, loose: tasks.filter((t) => t.phaseId === null) }
}
