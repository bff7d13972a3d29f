import type { ClientId, ProjectId } from '#core/brands.ts'
import { reaches } from '#core/access/reach.ts'
import { refuse } from '#core/refusal.ts'
import type { ClosedProjects, PhaseChoice, ProjectSheet } from '#contract/projects.ts'
import type { ProjectRow } from '#contract/desks.ts'
import { anywhere } from '../../database/sql.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { levelIn, seesAllOf, teamNamed } from '../access/levels.ts'
import { attachmentsIn } from '../attachments/queries.ts'
import { hiddenIn } from '../fields/queries.ts'
import { detailsOf } from '../fields/values.ts'
import { setOf } from '../states/queries.ts'
import { healthOf } from './health.ts'
import {
  archivedProjects,
  finishedProjects,
  milestonesIn,
  PAGE,
  phaseChoices,
  phaseChoicesIn,
  phasesIn,
  postsIn,
  projectById,
  projectRows,
  runningFor,
  runningProjects,
  type ProjectRecord,
} from './queries.ts'

function toRow(engine: Engine, record: ProjectRecord): ProjectRow {
  const { healthReason: _, effort, effortDone, oldestDue: __, missed: ___, ...known } = record
  const { whole, ...row } = known
  const { templateVersion, ...shown } = row
  return {
    ...shown,
    // What stands still is not late.
    late: row.state === 'running' ? row.late : 0,
    template: row.template && { ...row.template, version: templateVersion ?? 1 },
    progress: effort === 0 ? 0 : effortDone / effort,
    // Why a project stands as it does speaks of work that not all see.
    health: whole ? healthOf(engine, record) : { ...healthOf(engine, record), reason: '' },
  }
}

/** Some projects as they stand, in the order of their numbers given. */
function rowsOf(engine: Engine, viewer: Viewer, ids: readonly ProjectId[]): ProjectRow[] {
  const { date, time } = engine.firm.nowLocal()
  const found = projectRows.all(engine.reader, {
    ids: JSON.stringify(ids),
    sight: sightOf(viewer),
    date,
    time,
  })
  const rows = new Map(found.map((record) => [record.id, toRow(engine, record)]))
  return ids.flatMap((id) => rows.get(id) ?? [])
}

/** By what is due next, then by name. */
function soonest(rows: ProjectRow[]): ProjectRow[] {
  const key = (p: ProjectRow) => `${p.nextDue ?? '9999'} ${p.name}`
  return rows.sort((a, b) => (key(a) < key(b) ? -1 : 1))
}
/** Projects that run, by what is due next; of some alone, those that still run. */
export function listProjects(engine: Engine, viewer: Viewer, only?: number[]): ProjectRow[] {
  const running = runningProjects.all(engine.reader, { sight: sightOf(viewer) }).map((p) => p.id)
  const ids = only ? running.filter((id) => only.includes(id)) : running
  return soonest(rowsOf(engine, viewer, ids))
}

/** Projects of a client that run, by what is due next. */
export const projectsOf = (engine: Engine, viewer: Viewer, client: ClientId): ProjectRow[] =>
  soonest(
    rowsOf(
      engine,
      viewer,
      runningFor.all(engine.reader, { client, sight: sightOf(viewer) }).map((p) => p.id),
    ),
  )

/** Phases to choose from: of one project, or of all that run. */
export function listPhases({ reader }: Engine, viewer: Viewer, project?: ProjectId): PhaseChoice[] {
  const sight = sightOf(viewer)
  return project === undefined
    ? phaseChoices.all(reader, { sight })
    : phaseChoicesIn.all(reader, { project, sight })
}

const CURSOR = /^(\d{1,16})-(\d{1,15})$/

/** Finished or archived projects, newest first, a page at a time. */
export function closedProjects(
  engine: Engine,
  viewer: Viewer,
  asked: { part: 'finished' | 'archived'; cursor?: string; words?: string },
): ClosedProjects {
  const from = asked.cursor === undefined ? null : CURSOR.exec(asked.cursor)
  if (asked.cursor !== undefined && !from)
    refuse('bad-cursor', 'The cursor is not one that this list gave.', 'cursor')
  const question: typeof finishedProjects =
    asked.part === 'finished' ? finishedProjects : archivedProjects
  const found = question.all(engine.reader, {
    sight: sightOf(viewer),
    before: from ? Number(from[1]) : Number.MAX_SAFE_INTEGER,
    beforeId: from ? Number(from[2]) : 0,
    pattern: anywhere(asked.words ?? ''),
  })
  const shown = found.slice(0, PAGE)
  const last = shown.at(-1)
  return {
    projects: rowsOf(
      engine,
      viewer,
      shown.map((p) => p.id),
    ),
    next: found.length > PAGE && last ? `${last.at ?? 0}-${last.id}` : null,
  }
}

/** @throws Refusal `not-found`, the same whether it is missing or not theirs to see. */
export const needProject = (engine: Engine, viewer: Viewer, id: ProjectId): ProjectRow =>
  rowsOf(engine, viewer, [id])[0] ??
  refuse('not-found', `There is no project ${id} here, or it is not shared with you.`)

/**
 * One project: how it stands, its phases and milestones, what was said, what is filed. Its tasks are
 * asked for apart.
 */
export function projectSheet(engine: Engine, viewer: Viewer, id: ProjectId): ProjectSheet {
  const row = needProject(engine, viewer, id)
  const { reader, firm } = engine
  const { date, time } = firm.nowLocal()
  const sight = sightOf(viewer)
  const itself = projectById.get(reader, { id })
  const level = levelIn(engine, viewer, id)
  const of = { project: id, sight }
  return {
    ...row,
    description: itself?.description ?? '',
    version: itself?.version ?? 1,
    phases: phasesIn.all(reader, { ...of, date, time }),
    milestones: milestonesIn.all(reader, of).map((milestone) => ({
      ...milestone,
      late: milestone.doneAt === null && milestone.date !== null && milestone.date < date,
    })),
    posts: postsIn
      .all(reader, of)
      .map((post) => ({ ...post, mine: post.author?.id === viewer.id })),
    files: attachmentsIn(reader, sight, id),
    team: teamNamed(reader, viewer, itself?.teamId ?? null),
    // Figures of the whole are for who sees the whole.
    ...(seesAllOf(engine, viewer, id)
      ? detailsOf(engine, viewer, 'project', id)
      : { customFields: [], fields: {} }),
    stateSetId: setOf(reader, id),
    view: itself?.view ? { ...itself.view, scope: { of: 'project', id } } : null,
    hiddenFields: hiddenIn.all(reader, { project: id }).map((field) => field.id),
    may: {
      structure: reaches(level, 'structure'),
      edit: reaches(level, 'edit'),
      comment: reaches(level, 'comment'),
    },
  }
}
