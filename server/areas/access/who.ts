import type { PersonId, ProjectId, TaskId } from '#core/brands.ts'
import {
  isGuestAccess,
  mostOf,
  reachOfPlace,
  reachOfTask,
  type Looker,
  type Reach,
} from '#core/access/reach.ts'
import { refuse } from '#core/refusal.ts'
import { LEVELS } from '#contract/words.ts'
import type { SeenBy, SeenProjects, WhoSees } from '#contract/access.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, needStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import { personById } from '../people/queries.ts'
import { placeOf, seesAllOf, seesThatTask, spotOf, teamNamed, viewerOf } from './levels.ts'
import {
  clientNamed,
  everyLooker,
  placeById,
  placesSeen,
  runningCount,
  spotById,
} from './queries.ts'

/** “Who can see this, and why?”, and “what does this person see?” */

const strongest = (all: readonly Reach[]): readonly Reach[] =>
  all.length < 2 ? all : all.toSorted((a, b) => LEVELS.indexOf(b.may) - LEVELS.indexOf(a.may))

const SHARED = 'shared' as const
/** Everybody who reaches something, whoever may do most first. */
function seers(
  { reader }: Engine,
  { knows }: { knows: boolean },
  reachOf: (looker: Looker) => Reach[],
) {
  const all = everyLooker.all(reader)
  const people: SeenBy[] = []
  for (const { id, name, access, title } of all) {
    const why = strongest(reachOf({ id, access, active: true }))
    const [first] = why
    // Who is in a team that one does not know of is not told either.
    const told = knows
      ? why
      : why.map((each) => (each.why === 'team' ? { ...each, why: SHARED } : each))
    if (first) people.push({ id, name, access, title, may: first.may, why: told })
  }
  const most = people.toSorted((a, b) => LEVELS.indexOf(b.may) - LEVELS.indexOf(a.may))
  return { people: most, others: all.length - people.length }
}

function facts(engine: Engine, viewer: Viewer, projectId: ProjectId | null, client: number | null) {
  const row = projectId === null ? undefined : placeById.get(engine.reader, { id: projectId })
  const clientId = row?.clientId ?? client
  return {
    project: row ? { id: row.id, name: row.name } : null,
    client: (clientId !== null && clientNamed.get(engine.reader, { id: clientId })) || null,
    audience: row?.audience ?? ('firm' as const),
    team: teamNamed(engine.reader, viewer, row?.teamId ?? null),
  }
}

/** Whether the team that something is for, if it is for one, is one the viewer knows of. */
const knowsTeam = ({ audience, team }: ReturnType<typeof facts>): boolean =>
  audience !== 'team' || team !== null

/** Who sees a project whole, and why. @throws Refusal `not-found` */
export function whoSeesProject(engine: Engine, viewer: Viewer, id: ProjectId): WhoSees {
  needMember(viewer, 'see who sees what')
  const row = placeById.get(engine.reader, { id })
  if (!row || !seesAllOf(engine, viewer, id))
    return refuse('not-found', `There is no project ${id} here, or it is not shared with you.`)
  const place = placeOf(engine.reader, row)
  const known = facts(engine, viewer, id, null)
  return {
    name: row.name,
    ...known,
    ...seers(engine, { knows: knowsTeam(known) }, (looker) => reachOfPlace(looker, place)),
  }
}
/** Who sees a task, and why. @throws Refusal `not-found` */
export function whoSeesTask(engine: Engine, viewer: Viewer, id: TaskId): WhoSees {
  needMember(viewer, 'see who sees what')
  const row = spotById.get(engine.reader, { id })
  const spot = spotOf(engine.reader, id)
  if (!row || !spot || !seesThatTask(engine, viewer, id))
    return refuse('not-found', `There is no task ${id} here, or it is not shared with you.`)
  const known = facts(engine, viewer, row.projectId, row.clientId)
  return {
    name: row.title,
    ...known,
    ...seers(engine, { knows: knowsTeam(known) }, (looker) => reachOfTask(looker, spot)),
  }
}

/** What somebody sees of the projects that run, and why. @throws Refusal `not-found` */
export function whatSees(engine: Engine, viewer: Viewer, id: PersonId): SeenProjects {
  needStructure(viewer, 'see what others see')
  const { reader } = engine
  const person =
    personById.get(reader, { id }) ?? refuse('not-found', `There is nobody with the number ${id}.`)
  const looker: Looker = { id, access: person.access, active: person.active }
  const seen = person.active ? placesSeen.all(reader, { sight: sightOf(viewerOf(person)) }) : []
  return {
    person: { id: person.id, name: person.name, access: person.access },
    projects: seen.map((row) => {
      const why = strongest(reachOfPlace(looker, placeOf(reader, row)))
      return { id: row.id, name: row.name, audience: row.audience, may: mostOf(why), why }
    }),
    unseen: (runningCount.get(reader)?.projects ?? 0) - seen.length,
    loose: person.active && !isGuestAccess(person.access),
  }
}
