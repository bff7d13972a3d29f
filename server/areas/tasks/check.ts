import type { ClientId, PersonId, PhaseId, ProjectId, TaskId } from '#core/brands.ts'
import { fieldNamed } from '#core/fields/catalogue.ts'
import { keptValue } from '#core/fields/parse.ts'
import { refuse } from '#core/refusal.ts'
import type { TaskPatch } from '#contract/tasks.ts'
import type { Reader } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../../engine/viewer.ts'
import { levelAt, levelOn, needLevel, seesThatProject, type At } from '../access/levels.ts'
import { fieldRow, seesField } from '../fields/queries.ts'
import { checkTags } from '../fields/service.ts'
import { needOwnContacts, peopleUnder } from '../people/contacts.ts'
import { clientById, personById } from '../people/queries.ts'
import { phaseById } from '../projects/queries.ts'
import { assignmentsOf, homeOf, parentOf, type Home, type TaskContext } from './queries.ts'
import { taskRow } from './rows.ts'
import { resolveState } from './standing.ts'

/** What says how far a task is: whoever works on it may, guests too. */
const PROGRESS: ReadonlySet<string> = new Set(['state', 'stateId'])
/** What guests may change, and give to what they make, where work was shared with them to edit. */
const GUESTS_EDIT: ReadonlySet<string> = new Set([
  ...PROGRESS,
  ...['title', 'description', 'start', 'due', 'dueTime', 'priority', 'estimate', 'checklist'],
  ...['projectId', 'phaseId', 'parentId'],
])

function checkPeople(reader: Reader, ids: readonly PersonId[], place: string): void {
  for (const id of ids) {
    const person = personById.get(reader, { id })
    if (!person) refuse('no-such-person', `There is no person ${id}.`, place)
    if (!person.active)
      refuse('person-left', `${person.name} has left; choose someone who is here.`, place)
  }
}

/** Whoever is on a task already may stay, here or not. */
function checkAssignees(reader: Reader, patch: TaskPatch, context: TaskContext | null): void {
  if (!patch.assignees) return
  const now = context ? assignmentsOf.all(reader, { id: context.task.id }) : []
  checkPeople(
    reader,
    patch.assignees.filter((id) => !now.some((a) => a.personId === id)),
    'assignees',
  )
}

/**
 * Contacts of another client are not put on a client's work, nor does it come to them by a move.
 * @throws Refusal `other-client`
 */
function checkContacts(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  { context, home }: { context: TaskContext | null; home: Home | null },
): void {
  const { ids, client } = comers(engine.reader, patch, context)
  needOwnContacts(engine, viewer, {
    ids,
    client: client ?? home?.clientId ?? null,
    place: patch.assignees ? 'assignees' : patch.clientId ? 'clientId' : 'projectId',
  })
}
/** Who comes to the work of a client by an edit, and the client that the task itself names. */
function comers(reader: Reader, patch: TaskPatch, context: TaskContext | null) {
  const moves = patch.clientId !== undefined || patch.projectId !== undefined
  if (!patch.assignees && !moves) return { ids: [], client: null }
  const now = context ? assignmentsOf.all(reader, { id: context.task.id }) : []
  const before = now.map(({ personId }) => personId)
  const after = patch.assignees ?? before
  // Subtasks move along.
  const below = context && moves ? peopleUnder(reader, context.task.id) : []
  return {
    ids: moves ? [...after, ...below] : after.filter((id) => !before.includes(id)),
    client: clientAfter(patch, context),
  }
}
/** The client that a task itself names after an edit. */
const clientAfter = (patch: TaskPatch, context: TaskContext | null): ClientId | null =>
  patch.clientId === undefined ? (context?.task.clientId ?? null) : patch.clientId

function checkPhase(reader: Reader, id: PhaseId, project: ProjectId | null): void {
  if (phaseById.get(reader, { id })?.projectId !== project || project === null)
    refuse('no-such-phase', 'That phase is not part of the project.', 'phaseId')
}

/** @throws Refusal `circle` where a task would stand under itself, or become part of itself */
export function checkNotUnder(
  reader: Reader,
  parent: TaskId,
  id: TaskId | null,
  say = {
    sentence: 'A task cannot stand under itself or under one of its own subtasks.',
    place: 'parentId',
  },
): void {
  for (let up: TaskId | null = parent; up !== null; up = upFrom(reader, up))
    if (up === id) refuse('circle', say.sentence, say.place)
}
const upFrom = (reader: Reader, id: TaskId): TaskId | null =>
  parentOf.get(reader, { id })?.parentId ?? null

/**
 * The state that an edit brings a task to: the one asked for as the set of its project has it, or,
 * moved to another project, the namesake there. Undefined where its state stays.
 */
function stateAfter(
  reader: Reader,
  patch: TaskPatch,
  { context, home }: { context: TaskContext | null; home: Home | null },
) {
  const now = context?.task.stateId ?? null
  const asks = patch.stateId !== undefined || patch.state !== undefined
  const moves = context !== null && (home?.id ?? null) !== context.task.projectId
  if (!asks && !(moves && now !== null)) return undefined
  return resolveState(reader, home, asks ? patch : { stateId: now ?? undefined }, now)
}

/** Some states are only for some people, whichever way a task comes to them. @throws Refusal `forbidden` */
function checkState(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  { context, home }: { context: TaskContext | null; home: Home | null },
): void {
  const state = stateAfter(engine.reader, patch, { context, home })
  if (!state || state.id === context?.task.stateId || state.only === 'anyone') return
  if (mayStructure(viewer) || (state.only === 'lead' && home?.leadId === viewer.id)) return
  refuse(
    'forbidden',
    state.only === 'lead'
      ? `Only the project’s lead or a manager may set “${state.name}”.`
      : `Only a manager may set “${state.name}”.`,
    'state',
  )
}

/** The project a task is in after an edit. @throws Refusal `no-such-project`, unseen or not there */
function homeAfter(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  context: TaskContext | null,
): Home | null {
  const { projectId: id } = patch
  if (id === undefined) return context?.project ?? null
  if (id === null) return null
  const none = (): never => refuse('no-such-project', `There is no project ${id}.`, 'projectId')
  const home = homeOf.get(engine.reader, { id }) ?? none()
  return id === context?.task.projectId || seesThatProject(engine, viewer, id) ? home : none()
}

/** Where a task is to stand by an edit; null where it stays. */
function placeAfter(patch: TaskPatch, context: TaskContext | null): At | null {
  const { projectId, phaseId, clientId } = context?.task ?? NOWHERE
  const after = {
    projectId: patch.projectId === undefined ? projectId : patch.projectId,
    phaseId: patch.phaseId === undefined ? phaseId : patch.phaseId,
    clientId: patch.clientId === undefined ? clientId : patch.clientId,
  }
  const moves = context === null || after.projectId !== projectId || after.phaseId !== phaseId
  return moves ? after : null
}
const NOWHERE: At = { projectId: null, phaseId: null, clientId: null }

/** What is not the viewer's to do with the task, or where it goes. @throws Refusal `forbidden` */
function checkLevel(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  context: TaskContext | null,
): void {
  if (mayStructure(viewer)) return
  const fields = Object.keys(patch)
  if (context) {
    const little = fields.every((field) => PROGRESS.has(field))
    const has = levelOn(engine, viewer, context.task.id)
    if (little) needLevel(has, 'work', 'say how far this is')
    else needLevel(has, 'edit', 'change this task')
  }
  const to = placeAfter(patch, context)
  if (to) needLevel(levelAt(engine, viewer, to), 'edit', 'put work there')
  if (isGuest(viewer) && fields.some((field) => !GUESTS_EDIT.has(field)))
    refuse(
      'forbidden',
      'Guests may change what a task says, its dates and its state, nothing else.',
    )
}

function checkClient(reader: Reader, id: ClientId): void {
  if (!clientById.get(reader, { id }))
    refuse('no-such-client', `There is no client ${id}.`, 'clientId')
}

/** Plain fields are there and take what they are given. @throws Refusal `field-gone`, `bad-value` */
function checkPlain({ values = {} }: TaskPatch): void {
  for (const [name, value] of Object.entries(values)) {
    const field = fieldNamed('task', name)
    if (!field?.plain) refuse('field-gone', `There is no field “${name}” to set.`, 'values')
    keptValue(field, value)
  }
}

/** Fields that are not the viewer's to read are not theirs to set. @throws Refusal `field-gone` */
function checkOwnFields(
  { reader }: Engine,
  viewer: Viewer,
  fields: TaskPatch['fields'] = {},
): void {
  for (const key of Object.keys(fields)) {
    const field = fieldRow(reader, Number(key))
    if (field && !seesField(reader, viewer, field))
      refuse('field-gone', 'This field is not shown here any more.', `field:${key}`)
  }
}

/** A parent must be there to be seen, and not be the task itself or one under it. */
function checkParent(engine: Engine, viewer: Viewer, parent: TaskId, own: TaskId | null): void {
  if (!taskRow(engine, viewer, parent))
    refuse('no-such-task', `There is no task ${parent} to put it under.`, 'parentId')
  checkNotUnder(engine.reader, parent, own)
}

/**
 * What an edit points at must be there and fit together; some states are only for some people.
 * `context` is null for a task that is to be made.
 */
export function checkPatch(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  context: TaskContext | null,
): void {
  const { reader } = engine
  const home = homeAfter(engine, viewer, patch, context)
  checkLevel(engine, viewer, patch, context)
  checkAssignees(reader, patch, context)
  checkPlain(patch)
  checkOwnFields(engine, viewer, patch.fields)
  checkPeople(reader, patch.followers ?? [], 'followers')
  checkTags(reader, patch.tags ?? [])
  if (patch.clientId) checkClient(reader, patch.clientId)
  const own = context?.task.id ?? null
  if (patch.phaseId) checkPhase(reader, patch.phaseId, home?.id ?? null)
  if (patch.parentId) checkParent(engine, viewer, patch.parentId, own)
  checkContacts(engine, viewer, patch, { context, home })
  checkState(engine, viewer, patch, { context, home })
}
