import type { ClientId, PersonId, PhaseId, ProjectId, TaskId } from '#core/brands.ts'
import { fieldNamed } from '#core/fields/catalogue.ts'
import { keptValue } from '#core/fields/parse.ts'
import { refuse } from '#core/refusal.ts'
import type { TaskPatch } from '#contract/tasks.ts'
import type { Reader } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, mayStructure, type Viewer } from '../../engine/viewer.ts'
import { tagById } from '../fields/queries.ts'
import { needOwnContacts, peopleUnder } from '../people/contacts.ts'
import { clientById, personById } from '../people/queries.ts'
import { phaseById } from '../projects/queries.ts'
import { assignmentsOf, homeOf, parentOf, type Home, type TaskContext } from './queries.ts'
import { taskRow } from './rows.ts'
import { resolveState } from './standing.ts'

/** What guests may change of what was handed to them: how far it is. */
const GUEST_FIELDS: ReadonlySet<string> = new Set(['state', 'stateId'])

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

/** The project a task is in after an edit. @throws Refusal `no-such-project` */
function homeAfter(reader: Reader, patch: TaskPatch, context: TaskContext | null): Home | null {
  if (patch.projectId === undefined) return context?.project ?? null
  if (patch.projectId === null) return null
  return (
    homeOf.get(reader, { id: patch.projectId }) ??
    refuse('no-such-project', `There is no project ${patch.projectId}.`, 'projectId')
  )
}

function checkTags(reader: Reader, tags: NonNullable<TaskPatch['tags']>): void {
  for (const id of tags)
    if (!tagById.get(reader, { id }))
      refuse('tag-gone', 'That tag was removed in the meantime.', 'tags')
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
  if (isGuest(viewer) && Object.keys(patch).some((field) => !GUEST_FIELDS.has(field)))
    refuse('forbidden', 'Guests may change the state of a task and comment on it, nothing else.')
  checkAssignees(reader, patch, context)
  checkPlain(patch)
  checkPeople(reader, patch.followers ?? [], 'followers')
  checkTags(reader, patch.tags ?? [])
  if (patch.clientId) checkClient(reader, patch.clientId)
  const home = homeAfter(reader, patch, context)
  const own = context?.task.id ?? null
  if (patch.phaseId) checkPhase(reader, patch.phaseId, home?.id ?? null)
  if (patch.parentId) checkParent(engine, viewer, patch.parentId, own)
  checkContacts(engine, viewer, patch, { context, home })
  checkState(engine, viewer, patch, { context, home })
}
