import type { IsoDate } from '#core/brands.ts'
import { daysLate } from '#core/calendar/calendar.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import { refuse } from '#core/refusal.ts'
import type { Milestone, PhaseRow, Post, ProjectView } from '#contract/projects.ts'
import type { ProjectRow } from '#contract/views.ts'
import type { Health } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../../engine/viewer.ts'
import { attachmentsOf } from '../attachments/queries.ts'
import { setOf } from '../states/queries.ts'

interface Raw {
  id: number
  name: string
  anchor: string | null
  anchorIs: 'start' | 'deadline'
  closedAt: number | null
  archivedAt: number | null
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
  oldestDue: string | null
  nextDue: string | null
  missed: string | null
  health: Health | null
  healthReason: string
}

/** Guests see projects they have a task in. */
const SEEN = (viewer: Viewer) =>
  isGuest(viewer)
    ? 'exists (select 1 from tasks g join taskAssignees a on a.taskId = g.id where g.projectId = p.id and a.personId = @viewer)'
    : '@viewer is not null'

/** Lateness from which a project is in trouble, in working days. */
const TROUBLE = 5

/** How a project stands by its dates, with the reason. */
function healthByDates(engine: Engine, r: Raw): { value: Health; reason: string } {
  const { firm } = engine
  const today = firm.today()
  const late = (due: string) => daysLate(firm.calendar(), due as IsoDate, today)
  if (r.closedAt !== null) return { value: 'steady', reason: 'It is finished.' }
  if (r.anchorIs === 'deadline' && r.anchor !== null && r.anchor < today && r.open > 0)
    return {
      value: 'trouble',
      reason: `Its date, ${sayDate(r.anchor, today)}, has passed with ${plural(r.open, 'task')} open.`,
    }
  if (r.missed !== null)
    return { value: 'trouble', reason: `The milestone “${r.missed}” was missed.` }
  if (r.oldestDue !== null && late(r.oldestDue) >= TROUBLE)
    return {
      value: 'trouble',
      reason: `${plural(r.late, 'task')} late, the oldest by ${plural(late(r.oldestDue), 'working day')}.`,
    }
  if (r.late > 0) return { value: 'watch', reason: `${plural(r.late, 'task')} late.` }
  return { value: 'steady', reason: r.open ? 'Nothing is late.' : 'Everything is done.' }
}

/**
 * The share of effort done counts every task that is not dropped; subtasks count, their parents do
 * not.
 */
export const EFFORT =
  "case when t.state = 'dropped' or t.archivedAt is not null or exists (select 1 from tasks k where k.parentId = t.id and k.archivedAt is null) then 0 else coalesce(t.estimate, 30) end"

function select(
  engine: Engine,
  viewer: Viewer,
  where: string,
  args: Record<string, unknown>,
): ProjectRow[] {
  const rows = engine.db
    .prepare(
      `select p.id, p.name, p.anchor, coalesce(json_extract(tp.definition, '$.anchor'), 'deadline') as anchorIs, p.closedAt, p.archivedAt, p.health, p.healthReason, p.clientId, c.name as client, c.short, p.leadId, w.name as lead, p.templateId, tp.name as template, p.templateVersion, p.seriesId, s.name as series,
       count(t.id) filter (where t.closedAt is null) as open, count(t.id) filter (where t.closedAt is not null) as done,
       coalesce(sum(${EFFORT}), 0) as effort, coalesce(sum(${EFFORT}) filter (where t.state = 'done'), 0) as effortDone,
       count(t.id) filter (where t.closedAt is null and t.due < @today) as late, min(t.due) filter (where t.closedAt is null) as nextDue, min(t.due) filter (where t.closedAt is null and t.due < @today) as oldestDue,
       (select m.name from milestones m where m.projectId = p.id and m.doneAt is null and m.date < @today order by m.date limit 1) as missed
       from projects p left join tasks t on t.projectId = p.id and t.archivedAt is null left join clients c on c.id = p.clientId left join people w on w.id = p.leadId left join templates tp on tp.id = p.templateId left join series s on s.id = p.seriesId
       where ${SEEN(viewer)} and ${where} group by p.id order by p.closedAt is not null, nextDue is null, nextDue, p.name`,
    )
    .all({ ...args, viewer: viewer.id, today: engine.firm.today() }) as Raw[]
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    anchor: r.anchor,
    anchorIs: r.anchorIs,
    closedAt: r.closedAt,
    archivedAt: r.archivedAt,
    open: r.open,
    done: r.done,
    late: r.late,
    nextDue: r.nextDue,
    client: r.clientId === null ? null : { id: r.clientId, name: r.client!, short: r.short! },
    lead: r.leadId === null ? null : { id: r.leadId, name: r.lead! },
    template:
      r.templateId === null
        ? null
        : { id: r.templateId, name: r.template!, version: r.templateVersion! },
    series: r.seriesId === null ? null : { id: r.seriesId, name: r.series! },
    progress: r.effort === 0 ? 0 : r.effortDone / r.effort,
    health:
      r.health === null
        ? { ...healthByDates(engine, r), byHand: false }
        : { value: r.health, reason: r.healthReason, byHand: true },
  }))
}

export const listProjects = (engine: Engine, viewer: Viewer): ProjectRow[] =>
  select(engine, viewer, '1', {})

/** @throws Refusal `not-found`, the same whether it is missing or not theirs to see. */
export const needProject = (engine: Engine, viewer: Viewer, id: number): ProjectRow =>
  select(engine, viewer, 'p.id = @id', { id })[0] ??
  refuse('not-found', `There is no project ${id} here, or it is not shared with you.`)

/** Phases and milestones are structure: managers change them, and whoever leads the project. */
export const mayShape = (viewer: Viewer, project: ProjectRow): boolean =>
  mayStructure(viewer) || project.lead?.id === viewer.id

/**
 * One project: how it stands, its phases and milestones, what was said, what is filed. Its tasks
 * are asked for apart.
 */
export function projectView(engine: Engine, viewer: Viewer, id: number): ProjectView {
  const row = needProject(engine, viewer, id)
  const { db, firm } = engine
  const more = db.prepare('select description, version from projects where id = ?').get(id) as {
    description: string
    version: number
  }
  const today = firm.today()
  const phases = db
    .prepare(
      `select ph.id, ph.name, count(t.id) filter (where t.closedAt is null) as open, count(t.id) filter (where t.closedAt is not null) as done,
       count(t.id) filter (where t.closedAt is null and t.due < ?) as late, coalesce(sum(${EFFORT}), 0) as effort, coalesce(sum(${EFFORT}) filter (where t.state = 'done'), 0) as effortDone
       from phases ph left join tasks t on t.phaseId = ph.id and t.archivedAt is null where ph.projectId = ? group by ph.id order by ph.position, ph.id`,
    )
    .all(today, id) as PhaseRow[]
  const guest = isGuest(viewer)
  const milestones = db
    .prepare(
      'select m.id, m.name, m.date, m.doneAt, m.ownerId, w.name as owner from milestones m left join people w on w.id = m.ownerId where m.projectId = ? order by m.date is null, m.date, m.id',
    )
    .all(id) as {
    id: number
    name: string
    date: string | null
    doneAt: number | null
    ownerId: number | null
    owner: string | null
  }[]
  const posts = guest
    ? []
    : (db
        .prepare(
          'select o.id, o.health, o.body, o.at, o.authorId, w.name as author from posts o left join people w on w.id = o.authorId where o.projectId = ? order by o.at desc, o.id desc limit 200',
        )
        .all(id) as {
        id: number
        health: Health | null
        body: string
        at: number
        authorId: number | null
        author: string | null
      }[])
  return {
    ...row,
    ...more,
    phases,
    milestones: milestones.map((m): Milestone => ({
      id: m.id,
      name: m.name,
      date: m.date,
      doneAt: m.doneAt,
      owner: m.ownerId === null ? null : { id: m.ownerId, name: m.owner! },
      late: m.doneAt === null && m.date !== null && m.date < today,
    })),
    posts: posts.map((o): Post => ({
      id: o.id,
      health: o.health,
      body: o.body,
      at: o.at,
      author: o.authorId === null ? null : { id: o.authorId, name: o.author! },
      mine: o.authorId === viewer.id,
    })),
    files: guest ? [] : attachmentsOf(engine, '(a.projectId = ? or t.projectId = ?)', [id, id]),
    stateSetId: setOf(db, id),
    hiddenFields: (
      db.prepare('select fieldId as id from hiddenFields where projectId = ?').all(id) as {
        id: number
      }[]
    ).map((f) => f.id),
    may: { structure: mayShape(viewer, row) },
  }
}
