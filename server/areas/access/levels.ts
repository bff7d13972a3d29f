import type { ClientId, PersonId, PhaseId, ProjectId, TaskId, TeamId } from '#core/brands.ts'
import {
  mostOf,
  reaches,
  reachOfPlace,
  reachOfTask,
  type Looker,
  type Place,
  type Spot,
} from '#core/access/reach.ts'
import { refuse } from '#core/refusal.ts'
import type { AudienceBody } from '#contract/access.ts'
import type { Access, Audience, Level } from '#contract/words.ts'
import type { Reader, Row } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { mayStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import {
  assigneesOf,
  membersOf,
  placeById,
  seesAllOfProject,
  seesItsProject,
  seesItsTask,
  sharesOfClient,
  sharesOfPhase,
  sharesOfProject,
  spotById,
  teamsFor,
} from './queries.ts'

/** What somebody may do with what they see: the one place where services ask. */

const ids = (rows: readonly { id: number }[]): number[] => rows.map(({ id }) => Number(id))

/** A project as its rules of access need it. */
export function placeOf(reader: Reader, row: Row<typeof placeById>): Place {
  const { id, audience, teamId, leadId, clientId } = row
  return {
    ...{ audience, leadId },
    team: teamId === null ? [] : ids(membersOf.all(reader, { team: teamId })),
    shares: sharesOfProject.all(reader, { id }),
    clientShares: clientId === null ? [] : sharesOfClient.all(reader, { id: clientId }),
  }
}
/** A task with its place; undefined where it is gone. */
export function spotOf(reader: Reader, id: TaskId): Spot | undefined {
  const row = spotById.get(reader, { id })
  return row && { ...spotAt(reader, row), assignees: ids(assigneesOf.all(reader, { id })) }
}
/** Where a task stands, or is to stand. */
export interface At {
  readonly projectId: ProjectId | null
  readonly phaseId: PhaseId | null
  readonly clientId: ClientId | null
}
function spotAt(reader: Reader, { projectId, phaseId, clientId }: At): Spot {
  const home = projectId === null ? undefined : placeById.get(reader, { id: projectId })
  return {
    place: home ? placeOf(reader, home) : null,
    clientShares: clientId === null ? [] : sharesOfClient.all(reader, { id: clientId }),
    phaseShares: phaseId === null ? [] : sharesOfPhase.all(reader, { id: phaseId }),
    assignees: [],
  }
}

const lookerOf = ({ id, access }: Viewer): Looker => ({ id, access, active: true })
/** What somebody may do in a project as a whole; null where they see no more than parts of it. */
export function levelIn({ reader }: Engine, viewer: Viewer, id: ProjectId): Level | null {
  if (mayStructure(viewer)) return 'structure'
  const row = placeById.get(reader, { id })
  return row ? mostOf(reachOfPlace(lookerOf(viewer), placeOf(reader, row))) : null
}
/** What somebody may do with a task; null where they do not see it. */
export function levelOn({ reader }: Engine, viewer: Viewer, id: TaskId): Level | null {
  if (mayStructure(viewer)) return 'structure'
  const spot = spotOf(reader, id)
  return spot ? mostOf(reachOfTask(lookerOf(viewer), spot)) : null
}
/** What somebody may do with work at a place; null where they do not see it. */
export function levelAt({ reader }: Engine, viewer: Viewer, at: At): Level | null {
  if (mayStructure(viewer)) return 'structure'
  return mostOf(reachOfTask(lookerOf(viewer), spotAt(reader, at)))
}

/** What each level lets one do, as refusals say it. */
const ONLY: Readonly<Record<Level, string>> = {
  view: 'look at it',
  comment: 'look at this and comment on it',
  work: 'say how far it is, comment and add files',
  edit: 'change the work in it, but not how it is set up',
  structure: 'change it',
}
/** @throws Refusal `forbidden`, with what they may do instead */
export function needLevel(has: Level | null, needs: Level, what: string): void {
  if (reaches(has, needs)) return
  const instead = has === null || has === 'view' ? 'you may look at it' : `you may ${ONLY[has]}`
  refuse('forbidden', `You may not ${what}: ${instead}. Ask its lead or a manager for more.`)
}
/** @throws Refusal `forbidden`; whether they see it has been asked before */
export const needOnTask = (
  engine: Engine,
  viewer: Viewer,
  id: TaskId,
  needs: Level,
  what: string,
): void => needLevel(levelOn(engine, viewer, id), needs, what)
/** @throws Refusal `forbidden`; whether they see it has been asked before */
export const needInProject = (
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  needs: Level,
  what: string,
): void => needLevel(levelIn(engine, viewer, id), needs, what)

/** Whether somebody sees a thing; what is gone nobody sees. */
export const seesThatTask = ({ reader }: Engine, viewer: Viewer, id: TaskId): boolean =>
  seesItsTask.get(reader, { id, sight: sightOf(viewer) }) !== undefined
export const seesThatProject = ({ reader }: Engine, viewer: Viewer, id: ProjectId): boolean =>
  seesItsProject.get(reader, { id, sight: sightOf(viewer) }) !== undefined
export const seesAllOf = ({ reader }: Engine, viewer: Viewer, id: ProjectId): boolean =>
  seesAllOfProject.get(reader, { id, sight: sightOf(viewer) }) !== undefined

/** A team as the viewer knows it; what they do not know of has no name. */
export function teamNamed(
  reader: Reader,
  viewer: Viewer,
  id: TeamId | null,
): { id: number; name: string } | null {
  const known = { all: mayStructure(viewer), me: viewer.id }
  const team = id === null ? undefined : teamsFor.all(reader, known).find((each) => each.id === id)
  return team ? { id: team.id, name: team.name } : null
}
/**
 * Who a project is for, as it is kept.
 * @throws Refusal `no-such-team`, `empty-team`
 */
export function audienceColumns(
  { reader }: Engine,
  viewer: Viewer,
  { audience = 'firm', teamId = null }: Partial<AudienceBody>,
): { audience: Audience; teamId: TeamId | null } {
  if (audience !== 'team') return { audience, teamId: null }
  if (teamId === null || !teamNamed(reader, viewer, teamId))
    return refuse('no-such-team', 'Choose the team that it is for.', 'teamId')
  if (!membersOf.get(reader, { team: teamId }))
    refuse('empty-team', 'Nobody is in that team; put people in it first.', 'teamId')
  return { audience, teamId }
}

/** Somebody as a viewer, who does not ask themselves: whom something is told, who is asked about. */
export const viewerOf = (person: { id: PersonId; name: string; access: Access }): Viewer => ({
  ...{ id: person.id, name: person.name, access: person.access },
  clientId: null,
})
