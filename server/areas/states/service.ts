import { refuse } from '#core/refusal.ts'
import type { StateSetBody, StateSetView } from '#contract/setup.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { needNewest } from '../../engine/versions.ts'
import { patchTask } from '../tasks/write.ts'
import { FIRM_SET, setOf, statesOf } from './queries.ts'

/** Sets of states with who uses them and how many tasks stand in each. */
export function listSets(engine: Engine, viewer: Viewer): StateSetView[] {
  needMember(viewer, 'see how states are set up')
  const { db } = engine
  const counts = new Map(
    (
      db
        .prepare(
          'select stateId as id, count(*) as n from tasks where stateId is not null group by stateId',
        )
        .all() as { id: number; n: number }[]
    ).map((r) => [r.id, r.n]),
  )
  return (
    db.prepare('select id, name, version from stateSets order by id').all() as {
      id: number
      name: string
      version: number
    }[]
  ).map((set) => ({
    ...set,
    states: statesOf(db, set.id).map((s) => ({ ...s, tasks: counts.get(s.id) ?? 0 })),
    projects: db
      .prepare('select id, name from projects where stateSetId = ? order by name')
      .all(set.id) as { id: number; name: string }[],
    templates: db
      .prepare('select id, name from templates where stateSetId = ? order by name')
      .all(set.id) as { id: number; name: string }[],
  }))
}

const NEEDED = {
  'not-started': 'one where work has not started',
  done: 'one where it is done',
} as const

function checkSet(body: StateSetBody): void {
  for (const [kind, what] of Object.entries(NEEDED))
    if (!body.states.some((s) => s.kind === kind))
      refuse('state-needed', `A set of states needs ${what}.`, 'states')
  const names = body.states.map((s) => s.name.trim().toLowerCase())
  const twice = body.states.find((s, i) => names.indexOf(s.name.trim().toLowerCase()) !== i)
  if (twice)
    refuse(
      'name-twice',
      `“${twice.name}” stands here twice; give each state its own name.`,
      'states',
    )
}

/**
 * Saves a set whole: names, colours, order, who may set each. Tasks of a removed state go where
 * `moveTo` says.
 * @throws Refusal `state-in-use` that names the state and how many tasks stand in it, where
 * `moveTo` says nothing
 */
export function saveSet(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: StateSetBody,
  seen: number | null,
): StateSetView[] {
  needStructure(viewer, 'change states')
  const { db, journal } = engine
  const set = db.prepare('select version from stateSets where id = ?').get(id) as
    { version: number } | undefined
  if (!set) refuse('not-found', `There is no set of states ${id}.`)
  needNewest(seen, set.version)
  checkSet(body)
  const before = statesOf(db, id)
  for (const state of body.states)
    if (state.id !== undefined && !before.some((s) => s.id === state.id))
      refuse('state-gone', `“${state.name}” was removed in the meantime.`, 'states')
  journal.change(actorOf(viewer), (write) => {
    const ids = body.states.map(({ id: stateId, ...state }, position) => {
      const row = {
        name: state.name,
        kind: state.kind,
        colour: state.colour,
        only: state.only,
        position,
      }
      if (stateId === undefined) return write.insert('states', { setId: id, ...row })
      write.update('states', stateId, row)
      return stateId
    })
    for (const gone of before.filter((s) => !ids.includes(s.id))) {
      const tasks = db.prepare('select id from tasks where stateId = ?').all(gone.id) as {
        id: number
      }[]
      if (tasks.length) {
        const to = body.moveTo?.[gone.id]
        const target =
          to === undefined
            ? undefined
            : body.states.findIndex((s) => s.name.toLowerCase() === to.toLowerCase())
        if (target === undefined || target < 0)
          refuse(
            'state-in-use',
            `${tasks.length === 1 ? 'One task stands' : `${tasks.length} tasks stand`} in “${gone.name}”; say where ${tasks.length === 1 ? 'it goes' : 'they go'}.`,
            `moveTo.${gone.id}`,
          )
        for (const task of tasks) patchTask(engine, write, task.id, { stateId: ids[target]! })
      }
      write.remove('states', gone.id)
    }
    // A state whose kind changed takes its tasks along.
    body.states.forEach((state, i) => {
      const was = before.find((s) => s.id === ids[i])
      if (was && was.kind !== state.kind)
        for (const task of db.prepare('select id from tasks where stateId = ?').all(was.id) as {
          id: number
        }[])
          patchTask(engine, write, task.id, { stateId: was.id })
    })
    write.update('stateSets', id, { name: body.name, version: set.version + 1 })
  })
  return listSets(engine, viewer)
}

/** Takes away a set that nothing uses. @throws Refusal `set-in-use` */
export function removeSet(engine: Engine, viewer: Viewer, id: number): StateSetView[] {
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
  engine.journal.change(actorOf(viewer), (write) => {
    for (const state of set.states) write.remove('states', state.id)
    write.remove('stateSets', id)
  })
  return listSets(engine, viewer)
}

/** Says which set the projects of a template begin with; those that run keep theirs. */
export function chooseTemplateSet(
  engine: Engine,
  viewer: Viewer,
  templateId: number,
  setId: number,
): StateSetView[] {
  needStructure(viewer, 'change the states of a template')
  const { db, journal } = engine
  if (!db.prepare('select 1 from templates where id = ?').get(templateId))
    refuse('not-found', `There is no template ${templateId}.`)
  if (!db.prepare('select 1 from stateSets where id = ?').get(setId))
    refuse('not-found', `There is no set of states ${setId}.`, 'setId')
  journal.change(actorOf(viewer), (write) =>
    write.update('templates', templateId, { stateSetId: setId === FIRM_SET ? null : setId }),
  )
  return listSets(engine, viewer)
}

/**
 * Gives a project the firm's set, a set that others use, or a copy of one for itself alone. Its
 * tasks go to the namesakes there, else to the first of their kind.
 */
export function chooseSet(
  engine: Engine,
  viewer: Viewer,
  projectId: number,
  choice: { setId: number; copy: boolean },
): StateSetView[] {
  needStructure(viewer, 'change the states of a project')
  const { db, journal } = engine
  const project = db.prepare('select name from projects where id = ?').get(projectId) as
    { name: string } | undefined
  if (!project) refuse('not-found', `There is no project ${projectId}.`)
  if (!db.prepare('select 1 from stateSets where id = ?').get(choice.setId))
    refuse('not-found', `There is no set of states ${choice.setId}.`, 'setId')
  journal.change(actorOf(viewer), (write) => {
    let setId = choice.setId
    if (choice.copy) {
      setId = write.insert('stateSets', { name: project.name })
      statesOf(db, choice.setId).forEach(({ id: _, setId: __, ...state }, position) =>
        write.insert('states', { ...state, setId, position }),
      )
    }
    if (setId === setOf(db, projectId)) return
    write.update('projects', projectId, { stateSetId: setId === FIRM_SET ? null : setId })
    for (const task of db
      .prepare('select id, stateId, state from tasks where projectId = ?')
      .all(projectId) as { id: number; stateId: number | null; state: never }[])
      patchTask(
        engine,
        write,
        task.id,
        task.stateId === null ? { state: task.state } : { stateId: task.stateId },
      )
  })
  return listSets(engine, viewer)
}
