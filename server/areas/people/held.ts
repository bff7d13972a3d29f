import { and, asc, eq, isNull, sql } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import type { Makes } from '#contract/series.ts'
import type { HeldPart } from '#contract/people.ts'
import { mapActions } from '#core/rules/program.ts'
import { actionsOf, type Action, type RuleDefinition } from '#contract/rules.ts'
import { within, type Reader } from '../../database/query.ts'
import {
  milestones,
  openAssignments,
  projects,
  rules,
  series,
  seriesPeople,
  tasks,
  views,
} from '../../database/tables/index.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { assignmentsOf } from '../tasks/queries.ts'
import { goesOn } from '../tasks/rest.ts'
import { needContext, patchTask } from '../tasks/write.ts'
import { ringOf, whoNames, type Link } from './chains.ts'

/** What a person holds, part by part, and how each goes to somebody else. */

interface Hand {
  readonly engine: Engine
  readonly write: Writer
  readonly from: PersonId
  readonly to: PersonId
}
/** A thing of a part, and the way it goes over. */
interface Thing {
  readonly name: string
  give(hand: Hand): void
}

const tasksOf = within((orm, a: { id: PersonId }) =>
  orm
    .select({ id: tasks.id, name: tasks.title })
    .from(openAssignments)
    .innerJoin(tasks, eq(tasks.id, openAssignments.taskId))
    .where(and(eq(openAssignments.personId, a.id), goesOn(tasks.projectId)))
    .orderBy(asc(openAssignments.taskId)),
)
const projectsOf = within((orm, a: { id: PersonId }) =>
  orm
    .select({ id: projects.id, name: projects.name, version: projects.version })
    .from(projects)
    .where(and(eq(projects.leadId, a.id), isNull(projects.archivedAt), isNull(projects.closedAt)))
    .orderBy(asc(projects.id)),
)
const milestonesOf = within((orm, a: { id: PersonId }) =>
  orm
    .select({ id: milestones.id, name: milestones.name })
    .from(milestones)
    .where(and(eq(milestones.ownerId, a.id), isNull(milestones.doneAt)))
    .orderBy(asc(milestones.id)),
)
const seriesOf = within((orm, a: { id: PersonId }) =>
  orm
    .select({
      ...{ id: series.id, name: series.name, version: series.version },
      ...{ ownerId: series.ownerId, makes: series.makes },
    })
    .from(series)
    .where(
      and(
        isNull(series.archivedAt),
        sql`(${series.ownerId} = ${a.id} or ${series.id} in (
          select ${seriesPeople.seriesId} from ${seriesPeople}
          where ${seriesPeople.personId} = ${a.id}))`,
      ),
    )
    .orderBy(asc(series.id)),
)
const everyRule = within((orm) =>
  orm
    .select({
      ...{ id: rules.id, name: rules.name, version: rules.version },
      ...{ ownerId: rules.ownerId, definition: rules.definition },
    })
    .from(rules)
    .orderBy(asc(rules.id)),
)
const viewsOf = within((orm, a: { id: PersonId }) =>
  orm
    .select({ id: views.id, name: views.name, version: views.version })
    .from(views)
    .where(eq(views.ownerId, a.id))
    .orderBy(asc(views.id)),
)
const swapped = (ids: readonly number[], { from, to }: Hand): number[] => [
  ...new Set(ids.map((id) => (id === from ? to : id))),
]
/** A task goes over with the part of its estimate that was theirs. */
function giveTask(hand: Hand, id: number): void {
  const { engine, write, from, to } = hand
  const parts = assignmentsOf.all(engine.reader, { id })
  const mine = parts.find((part) => part.personId === from)
  // Somebody else took them off it meanwhile.
  if (!mine) return
  const shares = parts.some((part) => part.personId === to)
  patchTask(engine, write, needContext(engine, id), {
    assignees: swapped(
      parts.map((part) => part.personId),
      hand,
    ),
    ...(mine.estimate !== null && !shares && { estimates: { [to]: mine.estimate } }),
  })
}
function madeFor(makes: Makes, hand: Hand): Makes {
  if (makes.kind === 'task') return { ...makes, assignees: swapped(makes.assignees, hand) }
  const roles = Object.entries(makes.roles).map(([role, filling]) => [
    role,
    'person' in filling && filling.person === hand.from ? { person: hand.to } : filling,
  ])
  return { ...makes, roles: Object.fromEntries(roles) }
}
const namesIn = (action: Action, id: number): boolean =>
  'who' in action && action.who.is === 'person' && action.who.id === id
const ruleNames = (definition: RuleDefinition, id: number): boolean =>
  actionsOf(definition).some((action) => namesIn(action, id))
function ruleFor(definition: RuleDefinition, { from, to }: Hand): RuleDefinition {
  const give = (action: Action): Action =>
    namesIn(action, from) && 'who' in action ? { ...action, who: { is: 'person', id: to } } : action
  const { actions, rungs } = definition
  return {
    ...definition,
    ...(actions && { actions: mapActions(actions, give) }),
    ...(rungs && {
      rungs: rungs.map((rung) => ({ ...rung, actions: mapActions(rung.actions, give) })),
    }),
  }
}
/** Somebody who would be their own, or close a ring, has nobody then. */
const relink =
  (link: Link, of: PersonId) =>
  ({ engine: { reader }, write, to }: Hand): void =>
    void write.update('people', of, { [link]: ringOf(reader, of, link, to) ? null : to })
const linked = (reader: Reader, id: PersonId, link: Link): Thing[] =>
  whoNames(reader, link, id).map((one) => ({ name: one.name, give: relink(link, one.id) }))

const FIND: Readonly<Record<HeldPart, (reader: Reader, id: PersonId) => Thing[]>> = {
  tasks: (reader, id) =>
    tasksOf.all(reader, { id }).map((task) => ({
      name: task.name,
      give: (hand) => giveTask(hand, task.id),
    })),
  projects: (reader, id) =>
    projectsOf.all(reader, { id }).map((row) => ({
      name: row.name,
      give: ({ write, to }) =>
        void write.update('projects', row.id, { leadId: to, version: row.version + 1 }),
    })),
  milestones: (reader, id) =>
    milestonesOf.all(reader, { id }).map((row) => ({
      name: row.name,
      give: ({ write, to }) => void write.update('milestones', row.id, { ownerId: to }),
    })),
  series: (reader, id) =>
    seriesOf.all(reader, { id }).map((row) => ({
      name: row.name,
      give: (hand) =>
        void hand.write.update('series', row.id, {
          ownerId: row.ownerId === id ? hand.to : row.ownerId,
          makes: madeFor(row.makes, hand),
          version: row.version + 1,
        }),
    })),
  rules: (reader, id) =>
    everyRule
      .all(reader)
      .filter((row) => row.ownerId === id || ruleNames(row.definition, id))
      .map((row) => ({
        name: row.name,
        give: (hand) =>
          void hand.write.update('rules', row.id, {
            ownerId: row.ownerId === id ? hand.to : row.ownerId,
            definition: ruleFor(row.definition, hand),
            version: row.version + 1,
          }),
      })),
  views: (reader, id) =>
    viewsOf.all(reader, { id }).map((row) => ({
      name: row.name,
      give: ({ write, to }) =>
        void write.update('views', row.id, { ownerId: to, version: row.version + 1 }),
    })),
  answering: (reader, id) => linked(reader, id, 'managerId'),
  standing: (reader, id) => linked(reader, id, 'standInId'),
}
/** What somebody holds of one part, as it stands now: given before anybody else writes, but for tasks. */
export const heldOf = (reader: Reader, part: HeldPart, id: PersonId): Thing[] =>
  FIND[part](reader, id)
