import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays, workingDaysBetween } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type {
  CloneBody,
  MilestoneBody,
  NewProject,
  PhasesBody,
  PostBody,
  ProjectPatch,
  ProjectView,
} from '#contract/projects.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { actorOf, needMember, type Viewer } from '../../engine/viewer.ts'
import { needNewest } from '../../engine/versions.ts'
import { isActive, personName } from '../people/queries.ts'
import { cleanRich, tellMentionedOn } from '../talk/rich.ts'
import { copyTask } from '../tasks/copy.ts'
import { taskRows } from '../tasks/queries.ts'
import { patchTask } from '../tasks/write.ts'
import { phaseNamed } from './phases.ts'
import { mayShape, needProject, projectView } from './queries.ts'

/** @throws Refusal `forbidden` unless the viewer leads the project or is a manager */
function needShape(engine: Engine, viewer: Viewer, id: number, what: string) {
  const project = needProject(engine, viewer, id)
  if (!mayShape(viewer, project))
    refuse('forbidden', `Only the project’s lead or a manager may ${what}.`)
  return project
}
function checkRefs(
  engine: Engine,
  body: { clientId?: number | null; leadId?: number | null; anchor?: string | null },
): void {
  if (body.clientId && !engine.db.prepare('select 1 from clients where id = ?').get(body.clientId))
    refuse('no-such-client', `There is no client ${body.clientId}.`, 'clientId')
  if (body.leadId && !isActive(engine, body.leadId))
    refuse(
      'person-left',
      `${personName(engine, body.leadId) ?? 'That person'} has left; choose another lead.`,
      'leadId',
    )
  if (body.anchor) isoDate(body.anchor, 'anchor')
}

/** A project without a template. */
export function makeProject(engine: Engine, viewer: Viewer, body: NewProject): ProjectView {
  needMember(viewer, 'make projects')
  checkRefs(engine, body)
  const id = engine.journal.change(actorOf(viewer), (write) => {
    const made = write.insert('projects', {
      name: body.name,
      clientId: body.clientId,
      leadId: body.leadId ?? viewer.id,
      anchor: body.anchor ?? null,
      createdAt: write.at,
    })
    ;(body.phases ?? []).forEach((name, position) =>
      write.insert('phases', { projectId: made, name, position }),
    )
    return made
  })
  return projectView(engine, viewer, id)
}

/** Columns of a project that only its lead or a manager changes. */
const SHAPE: readonly (keyof ProjectPatch)[] = [
  'name',
  'clientId',
  'leadId',
  'anchor',
  'archived',
  'closed',
]

export function editProject(
  engine: Engine,
  viewer: Viewer,
  id: number,
  patch: ProjectPatch,
  seen: number | null,
): ProjectView {
  needMember(viewer, 'change projects')
  if (SHAPE.some((field) => patch[field] !== undefined))
    needShape(engine, viewer, id, 'change that')
  const { version } = projectView(engine, viewer, id)
  needNewest(seen, version)
  checkRefs(engine, patch)
  if (patch.health && !patch.healthReason)
    refuse('reason-needed', 'Say in a few words why; it is shown with it.', 'healthReason')
  const { archived, closed, description, ...columns } = patch
  engine.journal.change(actorOf(viewer), (write) => {
    const now = engine.db
      .prepare('select archivedAt, closedAt from projects where id = ?')
      .get(id) as { archivedAt: number | null; closedAt: number | null }
    write.update('projects', id, {
      ...columns,
      ...(patch.health === null && { healthReason: '' }),
      ...(description !== undefined && { description: cleanRich(description) }),
      ...(archived !== undefined && { archivedAt: archived ? (now.archivedAt ?? write.at) : null }),
      ...(closed !== undefined && { closedAt: closed ? (now.closedAt ?? write.at) : null }),
      version: version + 1,
    })
  })
  return projectView(engine, viewer, id)
}

export function savePhases(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: PhasesBody,
): ProjectView {
  needShape(engine, viewer, id, 'change its phases')
  const { db } = engine
  const now = db.prepare('select id from phases where projectId = ?').all(id) as { id: number }[]
  for (const phase of body.phases)
    if (phase.id !== undefined && !now.some((p) => p.id === phase.id))
      refuse('phase-gone', `“${phase.name}” was removed in the meantime.`, 'phases')
  engine.journal.change(actorOf(viewer), (write) => {
    const kept = body.phases.map((phase, position) => {
      if (phase.id === undefined)
        return write.insert('phases', { projectId: id, name: phase.name, position })
      write.update('phases', phase.id, { name: phase.name, position })
      return phase.id
    })
    for (const gone of now.filter((p) => !kept.includes(p.id))) {
      for (const task of db.prepare('select id from tasks where phaseId = ?').all(gone.id) as {
        id: number
      }[])
        patchTask(engine, write, task.id, { phaseId: null })
      write.remove('phases', gone.id)
    }
  })
  return projectView(engine, viewer, id)
}

function milestoneColumns(
  engine: Engine,
  write: Writer,
  body: MilestoneBody,
  doneAt: number | null,
) {
  if (body.date) isoDate(body.date, 'date')
  if (body.ownerId && !isActive(engine, body.ownerId))
    refuse(
      'person-left',
      `${personName(engine, body.ownerId) ?? 'That person'} has left; choose another owner.`,
      'ownerId',
    )
  return {
    name: body.name,
    ownerId: body.ownerId,
    date: body.date,
    doneAt: body.done ? (doneAt ?? write.at) : null,
  }
}
export function makeMilestone(
  engine: Engine,
  viewer: Viewer,
  projectId: number,
  body: MilestoneBody,
): ProjectView {
  needShape(engine, viewer, projectId, 'set milestones')
  engine.journal.change(actorOf(viewer), (write) =>
    write.insert('milestones', { projectId, ...milestoneColumns(engine, write, body, null) }),
  )
  return projectView(engine, viewer, projectId)
}
const needMilestone = (engine: Engine, projectId: number, id: number) =>
  (engine.db
    .prepare('select ownerId, doneAt, name, date from milestones where id = ? and projectId = ?')
    .get(id, projectId) as
    | { ownerId: number | null; doneAt: number | null; name: string; date: string | null }
    | undefined) ?? refuse('not-found', 'That milestone is gone; someone removed it.')
/** Whoever owns a milestone may say that it is reached. */
export function editMilestone(
  engine: Engine,
  viewer: Viewer,
  projectId: number,
  id: number,
  patch: Partial<MilestoneBody>,
): ProjectView {
  const row = needMilestone(engine, projectId, id)
  const onlyDone = Object.keys(patch).every((field) => field === 'done')
  if (!(onlyDone && row.ownerId === viewer.id))
    needShape(engine, viewer, projectId, 'change milestones')
  engine.journal.change(actorOf(viewer), (write) =>
    write.update(
      'milestones',
      id,
      milestoneColumns(engine, write, { ...row, done: row.doneAt !== null, ...patch }, row.doneAt),
    ),
  )
  return projectView(engine, viewer, projectId)
}
export function removeMilestone(
  engine: Engine,
  viewer: Viewer,
  projectId: number,
  id: number,
): ProjectView {
  needShape(engine, viewer, projectId, 'remove milestones')
  needMilestone(engine, projectId, id)
  engine.journal.change(actorOf(viewer), (write) => write.remove('milestones', id))
  return projectView(engine, viewer, projectId)
}

/** Says something about a project; with a health it is a status update and sets the project's. */
export function addPost(
  engine: Engine,
  viewer: Viewer,
  projectId: number,
  body: PostBody,
): ProjectView {
  needMember(viewer, 'write about projects')
  const { version, name } = projectView(engine, viewer, projectId)
  const clean = cleanRich(body.body) || refuse('empty', 'There is nothing in this.', 'body')
  engine.journal.change(actorOf(viewer), (write) => {
    write.insert('posts', {
      projectId,
      authorId: viewer.id,
      health: body.health,
      body: clean,
      at: write.at,
    })
    tellMentionedOn(engine, write, name, clean)
    if (body.health)
      write.update('projects', projectId, {
        health: body.health,
        healthReason: 'As the last status update says.',
        version: version + 1,
      })
  })
  return projectView(engine, viewer, projectId)
}

/**
 * Rewords one's own post; an empty one is taken away. What it once said about the project's health
 * stays said.
 */
export function editPost(
  engine: Engine,
  viewer: Viewer,
  projectId: number,
  postId: number,
  body: string,
): ProjectView {
  needMember(viewer, 'write about projects')
  const { name } = needProject(engine, viewer, projectId)
  const row = engine.db
    .prepare('select authorId, body from posts where id = ? and projectId = ?')
    .get(postId, projectId) as { authorId: number | null; body: string } | undefined
  if (!row) refuse('not-found', 'That post is gone; someone removed it.')
  if (row.authorId !== viewer.id) refuse('forbidden', 'Only who wrote a post may change it.')
  const clean = cleanRich(body)
  engine.journal.change(actorOf(viewer), (write) => {
    if (!clean) return write.remove('posts', postId)
    write.update('posts', postId, { body: clean })
    tellMentionedOn(engine, write, name, clean, row.body)
  })
  return projectView(engine, viewer, projectId)
}

/** Copies a project with what is chosen; answers the copy. */
export function cloneProject(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: CloneBody,
): ProjectView {
  needMember(viewer, 'copy projects')
  const from = needProject(engine, viewer, id)
  const { db, firm } = engine
  const cal = firm.calendar()
  const old =
    from.anchor ??
    (
      db.prepare('select max(due) as d from tasks where projectId = ?').get(id) as {
        d: string | null
      }
    ).d
  if (body.anchor) isoDate(body.anchor, 'anchor')
  const forth =
    body.anchor && old ? workingDaysBetween(cal, old as IsoDate, body.anchor as IsoDate) : 0
  const date = (day: string): string =>
    forth === 0 ? day : addWorkingDays(cal, day as IsoDate, forth)
  const take = body.take.filter((t) => t !== 'milestones')
  const made = engine.journal.change(actorOf(viewer), (write) => {
    const row = db
      .prepare(
        'select clientId, leadId, templateId, templateVersion, stateSetId, description from projects where id = ?',
      )
      .get(id) as Record<string, never>
    const projectId = write.insert('projects', {
      ...row,
      name: body.name,
      anchor: body.anchor ?? from.anchor,
      createdAt: write.at,
    })
    const phases = new Map<number | null, number | null>([[null, null]])
    for (const ph of db
      .prepare('select id, name, position from phases where projectId = ?')
      .all(id) as { id: number; name: string; position: number }[])
      phases.set(ph.id, write.insert('phases', { projectId, name: ph.name, position: ph.position }))
    if (body.take.includes('milestones'))
      for (const m of db
        .prepare('select name, ownerId, date from milestones where projectId = ?')
        .all(id) as { name: string; ownerId: number | null; date: string | null }[])
        write.insert('milestones', { projectId, ...m, date: m.date && date(m.date) })
    const tops =
      'parentId is null or not exists (select 1 from tasks up where up.id = t.parentId and up.projectId = t.projectId)'
    for (const task of db
      .prepare(
        `select id, phaseId from tasks t where projectId = ? and archivedAt is null and (${tops}) order by position, id`,
      )
      .all(id) as {
      id: number
      phaseId: number | null
    }[])
      copyTask(engine, write, task.id, take, {
        projectId,
        phaseId: phases.get(task.phaseId) ?? null,
        parentId: null,
        creatorId: viewer.id,
        date,
      })
    return projectId
  })
  return projectView(engine, viewer, made)
}

function rehome(engine: Engine, write: Writer, ids: readonly number[], projectId: number): void {
  for (const id of ids) {
    const phase = engine.db
      .prepare('select ph.name from tasks t join phases ph on ph.id = t.phaseId where t.id = ?')
      .get(id) as { name: string } | undefined
    patchTask(engine, write, id, {
      projectId,
      phaseId: phase ? phaseNamed(engine, write, projectId, phase.name) : null,
    })
  }
}

/**
 * Makes a new project of some of the tasks of one, with their phases; client, lead and states stay
 * the same.
 */
export function splitProject(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: { name: string; ids: number[] },
): ProjectView {
  needShape(engine, viewer, id, 'split it')
  const rows = taskRows(engine, viewer, body.ids)
  if (rows.length < body.ids.length || rows.some((r) => r.project?.id !== id))
    refuse(
      'not-found',
      'Some of these tasks are not in this project any more; choose again.',
      'ids',
    )
  const made = engine.journal.change(actorOf(viewer), (write) => {
    const row = engine.db
      .prepare('select clientId, leadId, anchor, stateSetId from projects where id = ?')
      .get(id) as Record<string, never>
    const projectId = write.insert('projects', { ...row, name: body.name, createdAt: write.at })
    rehome(engine, write, body.ids, projectId)
    return projectId
  })
  return projectView(engine, viewer, made)
}

/**
 * Moves everything of a project into another (phases of one name become one) and archives what is
 * left.
 */
export function joinProjects(
  engine: Engine,
  viewer: Viewer,
  id: number,
  into: number,
): ProjectView {
  needShape(engine, viewer, id, 'merge it')
  needShape(engine, viewer, into, 'merge into it')
  if (id === into) refuse('same-project', 'Choose another project to merge this one into.', 'into')
  const { db, journal } = engine
  journal.change(actorOf(viewer), (write) => {
    const ids = (table: string) =>
      (
        db.prepare(`select id from ${table} where projectId = ? order by id`).all(id) as {
          id: number
        }[]
      ).map((r) => r.id)
    rehome(engine, write, ids('tasks'), into)
    for (const row of ids('milestones')) write.update('milestones', row, { projectId: into })
    for (const row of ids('posts')) write.update('posts', row, { projectId: into })
    for (const row of ids('attachments')) write.update('attachments', row, { projectId: into })
    const now = db.prepare('select closedAt, version from projects where id = ?').get(id) as {
      closedAt: number | null
      version: number
    }
    write.update('projects', id, {
      archivedAt: write.at,
      closedAt: now.closedAt ?? write.at,
      version: now.version + 1,
    })
  })
  return projectView(engine, viewer, into)
}
