import { and, asc, eq, sql } from 'drizzle-orm'
import type { ProjectId, StateId, StateSetId } from '#core/brands.ts'
import type { StateRow } from '#contract/fields.ts'
import type { State } from '#contract/words.ts'
import { ready, within, type Reader } from '../../database/query.ts'
import {
  projects,
  stateCounts,
  stateSets,
  states,
  tasks,
  templates,
} from '../../database/tables/index.ts'

/** The firm's own set: always there. */
export const FIRM_SET: StateSetId = 1

const row = {
  id: states.id,
  setId: states.setId,
  name: states.name,
  kind: states.kind,
  colour: states.colour,
  only: states.only,
}
const ofSet = ready((orm, a: { set: StateSetId }) =>
  orm
    .select(row)
    .from(states)
    .where(eq(states.setId, a.set))
    .orderBy(asc(states.position), asc(states.id)),
)
const byId = ready((orm, a: { id: StateId }) =>
  orm.select(row).from(states).where(eq(states.id, a.id)),
)
const setOfProject = within((orm, a: { id: ProjectId }) =>
  orm.select({ id: projects.stateSetId }).from(projects).where(eq(projects.id, a.id)),
)

export const statesOf = (reader: Reader, set: StateSetId): StateRow[] => ofSet.all(reader, { set })
export const stateRow = (reader: Reader, id: StateId): StateRow | undefined =>
  byId.get(reader, { id })

/** Every state of every set, in order. */
export const allStates = ready((orm) =>
  orm.select(row).from(states).orderBy(asc(states.setId), asc(states.position), asc(states.id)),
)

/** The set that tasks of a project use; the firm's own for none. */
export const setOf = (reader: Reader, projectId: ProjectId | null | undefined): StateSetId =>
  (projectId ? setOfProject.get(reader, { id: projectId })?.id : null) ?? FIRM_SET

/** The first state of a kind in a set, or undefined where the set has none. */
export const firstOfKind = (set: readonly StateRow[], kind: State): StateRow | undefined =>
  set.find((state) => state.kind === kind)

export const allSets = ready((orm) => orm.select().from(stateSets).orderBy(asc(stateSets.id)))
export const setById = ready((orm, a: { id: StateSetId }) =>
  orm.select().from(stateSets).where(eq(stateSets.id, a.id)),
)
/** How many tasks stand in each state. */
export const tasksInStates = ready((orm) => orm.select().from(stateCounts))
export const tasksInState = within((orm, a: { id: StateId }) =>
  orm.select({ id: tasks.id }).from(tasks).where(eq(tasks.stateId, a.id)),
)
export const countIn = within((orm, a: { id: StateId }) =>
  orm.select().from(stateCounts).where(eq(stateCounts.id, a.id)),
)
/** Projects with a set of their own, by name; `setId` says which. */
export const projectsWithSets = within((orm) =>
  orm
    .select({
      id: projects.id,
      name: projects.name,
      setId: sql<StateSetId>`${projects.stateSetId}`,
    })
    .from(projects)
    .where(sql`${projects.stateSetId} is not null`)
    .orderBy(asc(projects.name)),
)
export const templatesWithSets = ready((orm) =>
  orm
    .select({
      id: templates.id,
      name: templates.name,
      setId: sql<StateSetId>`${templates.stateSetId}`,
    })
    .from(templates)
    .where(sql`${templates.stateSetId} is not null`)
    .orderBy(asc(templates.name)),
)
/** How the tasks of a project stand, to carry them into another set. */
export const standingIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: tasks.id, stateId: tasks.stateId, state: tasks.state })
    .from(tasks)
    .where(and(eq(tasks.projectId, a.project))),
)
