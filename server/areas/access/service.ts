import type { ClientId, PersonId, PhaseId, ProjectId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { AudienceBody, ShareBody, SharedSheet, ShareRow } from '#contract/access.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, isGuestAccess, needStructure, type Viewer } from '../../engine/viewer.ts'
import { needOwnContacts } from '../people/contacts.ts'
import { clientById, personById } from '../people/queries.ts'
import { needProject } from '../projects/sheet.ts'
import { audienceColumns, needInProject, teamNamed } from './levels.ts'
import {
  phaseHome,
  placeById,
  shareById,
  sharedIn,
  sharedOfClient,
  sharesOfClient,
  sharesOfPhase,
  sharesOfProject,
} from './queries.ts'

/** Who a project is for, and what is shared with whom by name. */

const placeRow = (engine: Engine, id: ProjectId) =>
  placeById.get(engine.reader, { id }) ?? refuse('not-found', `There is no project ${id} here.`)

/** How a project is shared, for whoever may change that. */
export function sharedSheet(engine: Engine, viewer: Viewer, id: ProjectId): SharedSheet {
  needProject(engine, viewer, id)
  needInProject(engine, viewer, id, 'structure', 'see how it is shared')
  const row = placeRow(engine, id)
  return {
    audience: row.audience,
    team: teamNamed(engine.reader, viewer, row.teamId),
    shares: sharedIn.all(engine.reader, { id }),
  }
}

/**
 * Says who a project is for.
 * @throws Refusal those of `audienceColumns`
 */
export function setAudience(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  body: AudienceBody,
): Changed<SharedSheet> {
  needProject(engine, viewer, id)
  needInProject(engine, viewer, id, 'structure', 'say who sees it')
  const columns = audienceColumns(engine, viewer, body)
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('projects', id, columns),
  )
  return { result: sharedSheet(engine, viewer, id), change }
}

/** Where a share is: one of the three. */
interface On {
  readonly projectId?: ProjectId
  readonly phaseId?: PhaseId
  readonly clientId?: ClientId
}
/** @throws Refusal `no-such-person`, `person-left`, `guest-structure` */
function checkSharing({ reader }: Engine, { people, may }: ShareBody): void {
  for (const [i, id] of people.entries()) {
    const place = `people.${i}`
    const person =
      personById.get(reader, { id }) ?? refuse('no-such-person', `There is no person ${id}.`, place)
    if (!person.active)
      refuse('person-left', `${person.name} has left; choose someone who is here.`, place)
    if (may === 'structure' && isGuestAccess(person.access))
      refuse(
        'guest-structure',
        `${person.name} is a guest; guests may edit, but not change how things are set up.`,
        place,
      )
  }
}
export function writeShares(
  write: Writer,
  { people, may }: Pick<ShareBody, 'people' | 'may'>,
  on: On,
  there: readonly { id: number; personId: PersonId }[],
): void {
  for (const personId of people) {
    const known = there.find((share) => share.personId === personId)
    if (known) write.update('shares', known.id, { may })
    else write.insert('shares', { ...on, personId, may })
  }
}

/** Shares a project, or a phase of it, with people; who has it already has it so from now on. */
export function shareProject(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  body: ShareBody,
): Changed<SharedSheet> {
  needProject(engine, viewer, id)
  needInProject(engine, viewer, id, 'structure', 'share it')
  const { reader } = engine
  const phaseId = body.phaseId ?? null
  if (phaseId !== null && phaseHome.get(reader, { id: phaseId })?.projectId !== id)
    refuse('no-such-phase', 'That phase is not part of the project any more.', 'phaseId')
  checkSharing(engine, body)
  const client = placeRow(engine, id).clientId
  needOwnContacts(engine, viewer, { ids: body.people, client, place: 'people' })
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    phaseId === null
      ? writeShares(write, body, { projectId: id }, sharesOfProject.all(reader, { id }))
      : writeShares(
          write,
          body,
          { projectId: id, phaseId },
          sharesOfPhase.all(reader, { id: phaseId }),
        ),
  )
  return { result: sharedSheet(engine, viewer, id), change }
}
export function unshareProject(
  engine: Engine,
  viewer: Viewer,
  id: ProjectId,
  share: number,
): Changed<SharedSheet> {
  needProject(engine, viewer, id)
  needInProject(engine, viewer, id, 'structure', 'take back what is shared')
  if (shareById.get(engine.reader, { id: share })?.projectId !== id)
    refuse('not-found', 'That is not shared any more.')
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.remove('shares', share),
  )
  return { result: sharedSheet(engine, viewer, id), change }
}

/** With whom all that is done for a client is shared. */
export function clientShares({ reader }: Engine, viewer: Viewer, id: ClientId): ShareRow[] {
  needStructure(viewer, 'see how clients are shared')
  if (!clientById.get(reader, { id })) refuse('not-found', `There is no client ${id}.`)
  return sharedOfClient.all(reader, { id }).map((share) => ({ ...share, phase: null }))
}
export function shareClient(
  engine: Engine,
  viewer: Viewer,
  id: ClientId,
  body: ShareBody,
): Changed<ShareRow[]> {
  clientShares(engine, viewer, id)
  checkSharing(engine, body)
  needOwnContacts(engine, viewer, { ids: body.people, client: id, place: 'people' })
  if (body.may === 'structure')
    refuse('guest-structure', 'A client is shared to view, to comment or to edit.', 'may')
  const there = sharesOfClient.all(engine.reader, { id })
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    writeShares(write, body, { clientId: id }, there),
  )
  return { result: clientShares(engine, viewer, id), change }
}
export function unshareClient(
  engine: Engine,
  viewer: Viewer,
  id: ClientId,
  share: number,
): Changed<ShareRow[]> {
  clientShares(engine, viewer, id)
  if (shareById.get(engine.reader, { id: share })?.clientId !== id)
    refuse('not-found', 'That is not shared any more.')
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.remove('shares', share),
  )
  return { result: clientShares(engine, viewer, id), change }
}
