import type { IsoDate, ProjectId } from '#core/brands.ts'
import { workDay } from '#core/calendar/dates.ts'
import { reaches } from '#core/access/reach.ts'
import { refuse } from '#core/refusal.ts'
import type { NewProject, PhasesBody, ProjectPatch, ProjectSheet } from '#contract/projects.ts'
import type { ProjectRow } from '#contract/desks.ts'
import type { ProjectState } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import { actorOf, needMember, type Viewer } from '../../engine/viewer.ts'
import { needNewest } from '../../engine/versions.ts'
import { audienceColumns, levelIn, needInProject } from '../access/levels.ts'
import { needOwnContacts, peopleIn } from '../people/contacts.ts'
import { clientById, isActive, personName } from '../people/queries.ts'
import { setDetails } from '../fields/values.ts'
import { cleanRich } from '../talk/rich.ts'
import { needContext, patchTask } from '../tasks/write.ts'
import { phaseRows, projectById, tasksInPhase } from './queries.ts'
import { needProject, projectSheet } from './sheet.ts'

/** A project's row as it stands. @throws Error where there is none: the caller has not looked. */
export function needRecord(engine: Engine, id: ProjectId) {
  const found = projectById.get(engine.reader, { id })
  if (!found) throw new Error(`There is no project ${id}.`)
  return found
}

/** @throws Refusal `forbidden` unless the viewer may change how the project is set up */
export function needShape(engine: Engine, viewer: Viewer, id: ProjectId, what: string): ProjectRow {
  const project = needProject(engine, viewer, id)
  if (!reaches(levelIn(engine, viewer, id), 'structure'))
    refuse('forbidden', `Only the project’s lead or a manager may ${what}.`)
  return project
}

/** Runs a change of a project; answers it as it then stands. */
export function changing(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  work: (write: Writer) => void,
): Changed<ProjectSheet> {
  const { change } = engine.journal.change(actorOf(viewer), work)
  return { result: projectSheet(engine, viewer, id), change }
}

interface Points {
  clientId?: number | null
  leadId?: number | null
  anchor?: string | null
}
/** What a project points at must be there; answers its anchor as a date. @throws Refusal */
export function checkPoints(
  { reader }: Engine,
  { clientId, leadId, anchor }: Points,
): IsoDate | null {
  if (clientId && !clientById.get(reader, { id: clientId }))
    refuse('no-such-client', `There is no client ${clientId}.`, 'clientId')
  if (leadId && !isActive(reader, leadId))
    refuse(
      'person-left',
      `${personName(reader, leadId) ?? 'That person'} has left; choose another lead.`,
      'leadId',
    )
  return anchor ? workDay(anchor, 'anchor') : null
}

/** A project without a template. */
export function makeProject(
  engine: Engine,
  viewer: Viewer,
  body: NewProject,
): Changed<ProjectSheet> {
  needMember(viewer, 'make projects')
  const anchor = checkPoints(engine, body)
  const columns = audienceColumns(engine, viewer, body)
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) => {
    const projectId = write.insert('projects', {
      name: body.name,
      clientId: body.clientId,
      leadId: body.leadId ?? viewer.id,
      anchor,
      ...{ state: body.state ?? 'running', category: body.category ?? '' },
      ...columns,
      createdAt: write.at,
    })
    for (const [position, name] of (body.phases ?? []).entries())
      write.insert('phases', { projectId, name, position })
    return projectId
  })
  return { result: projectSheet(engine, viewer, id), change }
}

/** Columns of a project that only its lead or a manager changes. */
const SHAPE: readonly (keyof ProjectPatch)[] = [
  'name',
  'clientId',
  'leadId',
  'anchor',
  'view',
  'archived',
  'closed',
  'state',
]
/** When something is set, once and for all until it is unset. */
const since = (on: boolean, before: number | null, now: number) => (on ? (before ?? now) : null)

/** The day since when a project is on hold is noted once. */
export const stateColumns = (
  { firm }: Engine,
  now: { readonly state: ProjectState; readonly heldOn: IsoDate | null },
  state: ProjectState,
) => ({
  state,
  heldOn: state === 'hold' ? ((now.state === 'hold' ? now.heldOn : null) ?? firm.today()) : null,
})

export function editProject(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  { patch, seen }: { patch: ProjectPatch; seen: number | null },
): Changed<ProjectSheet> {
  needMember(viewer, 'change projects')
  if (SHAPE.some((field) => patch[field] !== undefined))
    needShape(engine, viewer, id, 'change that')
  else {
    needProject(engine, viewer, id)
    needInProject(engine, viewer, id, 'edit', 'change this project')
  }
  needNewest(seen, needRecord(engine, id).version)
  const day = checkPoints(engine, patch)
  if (patch.clientId)
    needOwnContacts(engine, viewer, {
      ...{ ids: peopleIn(engine.reader, id), client: patch.clientId, place: 'clientId' },
    })
  if (patch.health && !patch.healthReason)
    refuse('reason-needed', 'Say in a few words why; it is shown with it.', 'healthReason')
  const { archived, closed, description, anchor, state, fields, ...columns } = patch
  const fill = setDetails(engine, viewer, 'project', fields ?? {})
  return changing(engine, viewer, id, (write) => {
    const now = needRecord(engine, id)
    write.update('projects', now, {
      ...columns,
      ...(anchor !== undefined && { anchor: day }),
      ...(state !== undefined && stateColumns(engine, now, state)),
      ...(patch.health === null && { healthReason: '' }),
      ...(description !== undefined && { description: cleanRich(description) }),
      ...(archived !== undefined && { archivedAt: since(archived, now.archivedAt, write.at) }),
      ...(closed !== undefined && { closedAt: since(closed, now.closedAt, write.at) }),
      version: now.version + 1,
    })
    fill(write, id)
  })
}

export function savePhases(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  body: PhasesBody,
): Changed<ProjectSheet> {
  needShape(engine, viewer, id, 'change its phases')
  const now = phaseRows.all(engine.reader, { project: id })
  for (const phase of body.phases)
    if (phase.id !== undefined && !now.some((p) => p.id === phase.id))
      refuse('phase-gone', `“${phase.name}” was removed in the meantime.`, 'phases')
  return changing(engine, viewer, id, (write) => {
    const kept = body.phases.map((phase, position) => {
      const { name } = phase
      if (phase.id === undefined) return write.insert('phases', { projectId: id, name, position })
      write.update('phases', phase.id, { name, position })
      return phase.id
    })
    for (const gone of now.filter((p) => !kept.includes(p.id))) {
      for (const task of tasksInPhase.all(engine.reader, { id: gone.id }))
        patchTask(engine, write, needContext(engine, task.id), { phaseId: null })
      write.remove('phases', gone.id)
    }
  })
}
