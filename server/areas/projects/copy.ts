import type { IsoDate, PhaseId, ProjectId, TaskId } from '#core/brands.ts'
import { addWorkingDays, workingDaysBetween } from '#core/calendar/calendar.ts'
import { workDay } from '#core/calendar/dates.ts'
import { testsOf } from '#core/conditions/condition.ts'
import { refuse } from '#core/refusal.ts'
import type { CloneBody, ProjectSheet } from '#contract/projects.ts'
import type { ViewDefinition } from '#contract/query.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, type Viewer } from '../../engine/viewer.ts'
import { needInProject } from '../access/levels.ts'
import { copyShares } from '../access/shares.ts'
import { copyDetails } from '../fields/values.ts'
import { needOwnContacts, peopleIn } from '../people/contacts.ts'
import { copyTask } from '../tasks/copy.ts'
import { lastDueIn } from '../tasks/queries.ts'
import { taskRows } from '../tasks/rows.ts'
import { needContext, patchTask } from '../tasks/write.ts'
import { phaseNamed } from './phases.ts'
import {
  attachmentIds,
  milestoneRows,
  phaseById,
  phaseRows,
  postIds,
  tasksIn,
  topTasksIn,
} from './queries.ts'
import { needRecord, needShape } from './service.ts'
import { needProject, projectSheet } from './sheet.ts'

type Shift = (date: IsoDate) => IsoDate

/** How the dates of a copy move: what was on the old anchor falls on the new one. */
export function shiftTo(engine: Engine, id: ProjectId, to: IsoDate | null): Shift {
  const from =
    needRecord(engine, id).anchor ?? lastDueIn.get(engine.reader, { project: id })?.due ?? null
  if (!to || !from) return (date) => date
  const calendar = engine.firm.calendar()
  const days = workingDaysBetween(calendar, from, to)
  return days === 0 ? (date) => date : (date) => workDay(addWorkingDays(calendar, date, days))
}

/** Phases of a project made again in another; answers which became which. */
function copyPhases(engine: Engine, write: Writer, project: ProjectId, into: ProjectId) {
  const phases = new Map<PhaseId | null, PhaseId | null>([[null, null]])
  for (const { id, name, position } of phaseRows.all(engine.reader, { project }))
    phases.set(id, write.insert('phases', { projectId: into, name, position }))
  return phases
}

/** What comes out of a project is seen by nobody who did not see that. */
const seenLike = ({ audience, teamId }: ReturnType<typeof needRecord>) => ({ audience, teamId })

/** The view of a copy: what it asks of phases would ask for those of the original. */
function copiedView(view: ViewDefinition | null): ViewDefinition | null {
  const ofPhases = view && [...testsOf(view.filter)].some((test) => test.field === 'phase')
  return ofPhases ? { ...view, filter: { match: 'all', of: [] } } : view
}

/** Copies a project with what is chosen; answers the copy. */
export function cloneProject(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  body: CloneBody,
): Large<ProjectSheet> {
  needMember(viewer, 'copy projects')
  needProject(engine, viewer, id)
  needInProject(engine, viewer, id, 'edit', 'copy it')
  const { reader } = engine
  const anchor = body.anchor ? workDay(body.anchor, 'anchor') : null
  const date = shiftTo(engine, id, anchor)
  const take = body.take.filter((each) => each !== 'milestones')
  function* copy(write: Writer): Steps<ProjectSheet> {
    const from = needRecord(engine, id)
    const projectId = write.insert('projects', {
      clientId: from.clientId,
      leadId: from.leadId,
      templateId: from.templateId,
      templateVersion: from.templateVersion,
      stateSetId: from.stateSetId,
      description: from.description,
      category: from.category,
      view: copiedView(from.view),
      ...seenLike(from),
      name: body.name,
      anchor: anchor ?? from.anchor,
      createdAt: write.at,
    })
    copyShares(engine, write, id, projectId)
    copyDetails(engine, write, id, projectId)
    const phases = copyPhases(engine, write, id, projectId)
    if (body.take.includes('milestones'))
      for (const m of milestoneRows.all(reader, { project: id }))
        write.insert('milestones', {
          projectId,
          name: m.name,
          ownerId: m.ownerId,
          date: m.date && date(m.date),
        })
    for (const task of topTasksIn.all(reader, { project: id }))
      yield* copyTask(
        engine,
        write,
        { id: task.id, take },
        {
          projectId,
          phaseId: phases.get(task.phaseId) ?? null,
          parentId: null,
          creatorId: viewer.id,
          date,
        },
      )
    return projectSheet(engine, viewer, projectId)
  }
  const size = tasksIn.all(reader, { project: id }).length
  return engine.journal.large({ actor: actorOf(viewer), size, work: copy })
}

/** Puts tasks into another project, each in the phase of the same name there. */
export function* rehome(
  engine: Engine,
  write: Writer,
  ids: readonly TaskId[],
  projectId: ProjectId,
): Steps<void> {
  for (const id of ids) {
    const context = needContext(engine, id)
    const { phaseId: old } = context.task
    const phase = old === null ? undefined : phaseById.get(engine.reader, { id: old })
    const phaseId = phase ? phaseNamed(engine, write, projectId, phase.name) : null
    patchTask(engine, write, context, { projectId, phaseId })
    yield
  }
}

/**
 * Makes a new project of some of the tasks of one, with their phases; client, lead and states stay
 * the same.
 */
export function splitProject(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  body: { name: string; ids: TaskId[] },
): Large<ProjectSheet> {
  needShape(engine, viewer, id, 'split it')
  const rows = taskRows(engine, viewer, body.ids)
  if (rows.length < body.ids.length || rows.some((r) => r.project?.id !== id))
    refuse(
      'not-found',
      'Some of these tasks are not in this project any more; choose again.',
      'ids',
    )
  function* split(write: Writer): Steps<ProjectSheet> {
    const from = needRecord(engine, id)
    const { clientId, leadId, anchor, stateSetId } = from
    const projectId = write.insert('projects', {
      ...seenLike(from),
      clientId,
      leadId,
      anchor,
      stateSetId,
      name: body.name,
      createdAt: write.at,
    })
    copyShares(engine, write, id, projectId)
    yield* rehome(engine, write, body.ids, projectId)
    return projectSheet(engine, viewer, projectId)
  }
  const size = body.ids.length
  return engine.journal.large({ actor: actorOf(viewer), size, work: split })
}

/**
 * Moves everything of a project into another (phases of one name become one) and archives what is
 * left.
 */
export function joinProjects(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  into: ProjectId,
): Large<ProjectSheet> {
  needShape(engine, viewer, id, 'merge it')
  needShape(engine, viewer, into, 'merge into it')
  if (id === into) refuse('same-project', 'Choose another project to merge this one into.', 'into')
  const { reader } = engine
  const from = { project: id }
  const client = needRecord(engine, into).clientId
  needOwnContacts(engine, viewer, { ids: peopleIn(reader, id), client, place: 'into' })
  const tasks = tasksIn.all(reader, from).map((task) => task.id)
  function* join(write: Writer): Steps<ProjectSheet> {
    yield* rehome(engine, write, tasks, into)
    for (const row of milestoneRows.all(reader, from))
      write.update('milestones', row, { projectId: into })
    for (const row of postIds.all(reader, from)) write.update('posts', row.id, { projectId: into })
    for (const row of attachmentIds.all(reader, from))
      write.update('attachments', row.id, { projectId: into })
    const now = needRecord(engine, id)
    if (now.archivedAt === null || now.closedAt === null)
      write.update('projects', now, {
        archivedAt: now.archivedAt ?? write.at,
        closedAt: now.closedAt ?? write.at,
        version: now.version + 1,
      })
    return projectSheet(engine, viewer, into)
  }
  return engine.journal.large({ actor: actorOf(viewer), size: tasks.length, work: join })
}
