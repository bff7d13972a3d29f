import type { ProjectId, StateId, StateSetId, TaskId, TemplateId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { StateRow } from '#contract/fields.ts'
import type { StateSetBody, StateSetSheet } from '#contract/setup.ts'
import type { Engine } from '../../engine/services.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { needNewest } from '../../engine/versions.ts'
import { projectById } from '../projects/queries.ts'
import { needContext, patchTask } from '../tasks/write.ts'
import { templateById } from '../templates/queries.ts'
import {
  allSets,
  allStates,
  countIn,
  FIRM_SET,
  projectsWithSets,
  setById,
  setOf,
  standingIn,
  statesOf,
  tasksInState,
  tasksInStates,
  templatesWithSets,
} from './queries.ts'

/** Sets of states with who uses them and how many tasks stand in each. */
export function listSets({ reader }: Engine, viewer: Viewer): StateSetSheet[] {
  needMember(viewer, 'see how states are set up')
  const counts = new Map(tasksInStates.all(reader).map((row) => [Number(row.id), row.tasks]))
  const states = allStates.all(reader)
  const projects = projectsWithSets.all(reader)
  const templates = templatesWithSets.all(reader)
  const of = <T extends { setId: StateSetId }>(rows: readonly T[], id: StateSetId) =>
    rows.filter((row) => row.setId === id)
  const named = (rows: readonly { id: number; name: string }[]) =>
    rows.map(({ id, name }) => ({ id, name }))
  return allSets.all(reader).map((set) => ({
    ...set,
    states: of(states, set.id).map((state) => ({ ...state, tasks: counts.get(state.id) ?? 0 })),
    projects: named(of(projects, set.id)),
    templates: named(of(templates, set.id)),
  }))
}

const NEEDED = {
  'not-started': 'one where work has not started',
  done: 'one where it is done',
} as const

function checkSet(body: StateSetBody): void {
  for (const [kind, what] of Object.entries(NEEDED))
    if (!body.states.some((state) => state.kind === kind))
      refuse('state-needed', `A set of states needs ${what}.`, 'states')
  const names = body.states.map((state) => state.name.trim().toLowerCase())
  const twice = body.states.find((_, i) => names.indexOf(names[i] ?? '') !== i)
  if (twice)
    refuse(
      'name-twice',
      `“${twice.name}” stands here twice; give each state its own name.`,
      'states',
    )
}

function* moveTasks(
  engine: Engine,
  write: Writer,
  ids: readonly { id: TaskId }[],
  stateId: StateId,
): Steps<void> {
  for (const { id } of ids) {
    patchTask(engine, write, needContext(engine, id), { stateId })
    yield
  }
}

/** Takes a state away; its tasks go where `moveTo` says. @throws Refusal `state-in-use` */
function* removeState(
  engine: Engine,
  write: Writer,
  gone: StateRow,
  { body, ids }: { body: StateSetBody; ids: readonly StateId[] },
): Steps<void> {
  const tasks = tasksInState.all(engine.reader, { id: gone.id })
  if (tasks.length) {
    const name = body.moveTo?.[gone.id]?.toLowerCase()
    const target = ids[body.states.findIndex((state) => state.name.toLowerCase() === name)]
    const one = tasks.length === 1
    if (target === undefined)
      refuse(
        'state-in-use',
        `${one ? 'One task stands' : `${tasks.length} tasks stand`} in “${gone.name}”; ` +
          `say where ${one ? 'it goes' : 'they go'}.`,
        `moveTo.${gone.id}`,
      )
    yield* moveTasks(engine, write, tasks, target)
  }
  write.remove('states', gone.id)
}

/** Writes the states of a set as they are given; answers their numbers, in order. */
function writeStates(write: Writer, setId: StateSetId, body: StateSetBody): StateId[] {
  return body.states.map(({ id, name, kind, colour, only }, position) => {
    const row = { name, kind, colour, only, position }
    if (id === undefined) return write.insert('states', { setId, ...row })
    write.update('states', id, row)
    return id
  })
}

/**
 * Saves a set whole: names, colours, order, who may set each. Tasks of a removed state go where
 * `moveTo` says.
 * @throws Refusal `state-in-use` that names the state and how many tasks stand in it, where `moveTo`
 * says nothing
 */
export function saveSet(
  engine: Engine,
  viewer: Viewer,
  id: StateSetId,
  { body, seen }: { body: StateSetBody; seen: number | null },
): Large<StateSetSheet[]> {
  needStructure(viewer, 'change states')
  const { reader, journal } = engine
  const set = setById.get(reader, { id }) ?? refuse('not-found', `There is no set of states ${id}.`)
  needNewest(seen, set.version)
  checkSet(body)
  const before = statesOf(reader, id)
  for (const state of body.states)
    if (state.id !== undefined && !before.some((was) => was.id === state.id))
      refuse('state-gone', `“${state.name}” was removed in the meantime.`, 'states')
  function* save(write: Writer): Steps<StateSetSheet[]> {
    const ids = writeStates(write, id, body)
    for (const was of before) {
      const state = body.states[ids.indexOf(was.id)]
      if (!state) yield* removeState(engine, write, was, { body, ids })
      // A state whose kind changed takes its tasks along.
      else if (state.kind !== was.kind)
        yield* moveTasks(engine, write, tasksInState.all(reader, { id: was.id }), was.id)
    }
    write.update('stateSets', id, { name: body.name, version: set.version + 1 })
    return listSets(engine, viewer)
  }
  const moving = before.filter((was) => body.states.find((s) => s.id === was.id)?.kind !== was.kind)
  const size = moving.reduce(
    (sum, was) => sum + (countIn.get(reader, { id: was.id })?.tasks ?? 0),
    0,
  )
  return journal.large({ actor: actorOf(viewer), size, work: save })
}

/** Takes away a set that nothing uses. @throws Refusal `set-in-use` */
export function removeSet(
  engine: Engine,
  viewer: Viewer,
  id: StateSetId,
): Changed<StateSetSheet[]> {
  needStructure(viewer, 'remove states')
  const set =
    listSets(engine, viewer).find((s) => s.id === id) ??
    refuse('not-found', `There is no set of states ${id}.`)
  if (id === FIRM_SET)
    refuse('set-in-use', 'The firm’s own set stays: whatever names no other uses it.')
  if (set.projects.length || set.templates.length || set.states.some((s) => s.tasks > 0))
    refuse(
      'set-in-use',
      `“${set.name}” is still used; give its projects and templates another set first.`,
    )
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    for (const state of set.states) write.remove('states', state.id)
    write.remove('stateSets', id)
  })
  return { result: listSets(engine, viewer), change }
}

/** The firm's own set is what a project or template uses that names none. */
const chosen = (id: StateSetId): StateSetId | null => (id === FIRM_SET ? null : id)

function needSet({ reader }: Engine, id: StateSetId): void {
  if (!setById.get(reader, { id })) refuse('not-found', `There is no set of states ${id}.`, 'setId')
}

/** Says which set the projects of a template begin with; those that run keep theirs. */
export function chooseTemplateSet(
  engine: Engine,
  viewer: Viewer,
  templateId: TemplateId,
  setId: StateSetId,
): Changed<StateSetSheet[]> {
  needStructure(viewer, 'change the states of a template')
  const template =
    templateById.get(engine.reader, { id: templateId }) ??
    refuse('not-found', `There is no template ${templateId}.`)
  needSet(engine, setId)
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('templates', template, { stateSetId: chosen(setId) }),
  )
  return { result: listSets(engine, viewer), change }
}

/** Makes a copy of a set; answers its number. */
function copySet({ reader }: Engine, write: Writer, id: StateSetId, name: string): StateSetId {
  const setId = write.insert('stateSets', { name })
  for (const [position, { id: _, ...state }] of statesOf(reader, id).entries())
    write.insert('states', { ...state, setId, position })
  return setId
}

/**
 * Gives a project the firm's set, a set that others use, or a copy of one for itself alone. Its
 * tasks go to the namesakes there, else to the first of their kind.
 */
export function chooseSet(
  engine: Engine,
  viewer: Viewer,
  projectId: ProjectId,
  choice: { setId: StateSetId; copy: boolean },
): Large<StateSetSheet[]> {
  needStructure(viewer, 'change the states of a project')
  const { reader, journal } = engine
  const project =
    projectById.get(reader, { id: projectId }) ??
    refuse('not-found', `There is no project ${projectId}.`)
  needSet(engine, choice.setId)
  const standing = standingIn.all(reader, { project: projectId })
  function* choose(write: Writer): Steps<StateSetSheet[]> {
    const setId = choice.copy ? copySet(engine, write, choice.setId, project.name) : choice.setId
    if (setId === setOf(reader, projectId)) return listSets(engine, viewer)
    write.update('projects', projectId, { stateSetId: chosen(setId) })
    for (const { id, stateId, state } of standing) {
      patchTask(engine, write, needContext(engine, id), stateId === null ? { state } : { stateId })
      yield
    }
    return listSets(engine, viewer)
  }
  return journal.large({ actor: actorOf(viewer), size: standing.length, work: choose })
}
