import { and, eq } from 'drizzle-orm'
import type { ProjectId, RuleId } from '#core/brands.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import type { About } from '#contract/actions/action.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import { within, type Reader } from '../../database/query.ts'
import { ruleOffs } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { seesThatProject, seesThatTask } from '../access/levels.ts'
import { factsOf } from '../tasks/facts.ts'
import { clientFacts, projectFacts } from '../tasks/place-facts.ts'
import { projectAtRest, rests } from '../tasks/rest.ts'

/** What a rule acts on: a task, a project or a client, and whether it is the rule's to act on. */

export interface Subject {
  readonly kind: About
  readonly id: number
}

/** What is known of anything that is no task: where it stands, and nothing of its own. */
const NOWHERE: TaskFacts = {
  ...{ id: 0, title: '', description: '', state: 'not-started', stateId: null, stateName: '' },
  ...{ stateColour: null, entered: null, stateDates: {}, priority: 'normal', parentId: null },
  ...{ subtasks: { done: 0, of: 0 }, checklist: [], files: 0, comments: 0, assignees: [] },
  ...{ followers: [], creator: null, client: null, project: null, phaseId: null, phaseName: null },
  ...{ series: null, tags: [], start: null, due: null, dueTime: null, firstDue: null },
  ...{ postponed: 0, reviewedAt: null, late: false, daysLate: 0, estimate: null, rung: null },
  ...{ createdAt: 0, closedAt: null, archivedAt: null, fields: {}, values: {} },
}

/**
 * What a rule knows of what it acts on; undefined for what is gone. Of a project or a client, it is
 * what a task there would say of them.
 */
export function factsAbout(
  engine: Engine,
  { kind, id }: Subject,
  was: TaskFacts['was'] = {},
): TaskFacts | undefined {
  if (kind === 'task') return factsOf(engine, id, was)
  if (kind === 'project') {
    const project = projectFacts(engine.reader, id)
    return project && { ...NOWHERE, was, project, client: project.client ?? null }
  }
  const client = clientFacts(engine.reader, id)
  return client && { ...NOWHERE, was, client }
}

const SEES: Readonly<Record<About, (engine: Engine, viewer: Viewer, id: number) => boolean>> = {
  task: seesThatTask,
  project: seesThatProject,
  client: () => true,
}
/** Whether somebody sees what a rule is about. */
export const seesAbout = (engine: Engine, viewer: Viewer, { kind, id }: Subject): boolean =>
  SEES[kind](engine, viewer, id)

/** Whether time brings nothing to it. */
export function subjectRests({ reader }: Engine, { kind, id }: Subject): boolean {
  if (kind === 'task') return rests(reader, id)
  return kind === 'project' && projectAtRest(reader, id)
}

const offIn = within((orm, a: { rule: RuleId; project: ProjectId }) =>
  orm
    .select({ id: ruleOffs.id })
    .from(ruleOffs)
    .where(and(eq(ruleOffs.ruleId, a.rule), eq(ruleOffs.projectId, a.project))),
)
/** Whether something is within the scope of a rule. */
export function reaches({ scope }: RuleDefinition, { project, client }: TaskFacts): boolean {
  switch (scope?.of) {
    case 'client':
      return client?.id === scope.id
    case 'template':
      return project?.template?.id === scope.id
    case 'project':
      return project?.id === scope.id
    default:
      return true
  }
}
/** Whether a rule is switched off in the project that something is in. */
export const offHere = (reader: Reader, rule: RuleId, { project }: TaskFacts): boolean =>
  project != null && offIn.get(reader, { rule, project: project.id }) !== undefined
/** Whether a rule acts there: it is within its scope, and not switched off for its project. */
export const inScope = (
  reader: Reader,
  { id, definition }: { readonly id: RuleId; readonly definition: RuleDefinition },
  item: TaskFacts,
): boolean => reaches(definition, item) && !offHere(reader, id, item)
