import type { ClientId, TagId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { shortName } from '#core/text/short-name.ts'
import type { ClientPage, ClientPatch, ClientSheet, NewClient } from '#contract/clients.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, isGuestAccess, needStructure, type Viewer } from '../../engine/viewer.ts'
import { checkTags } from '../fields/service.ts'
import { setDetails } from '../fields/values.ts'
import { allClients, personById } from '../people/queries.ts'
import { clientPage, mayEditClient, needClient } from './page.ts'
import { everyState, firstState, rolesOf, tagsOf } from './queries.ts'

/** Clients of the firm: made singly or many at once, changed. */

/** Clients by what they are called, in whatever letters. */
const byName = ({ reader }: Engine) =>
  new Map(allClients.all(reader).map((client) => [client.name.toLowerCase(), client]))
/** @throws Refusal `there-already`, `twice`, which name the one of many by its place */
export function checkNames(engine: Engine, wanted: readonly Pick<NewClient, 'name'>[]): void {
  const taken = byName(engine)
  const names = new Set<string>()
  for (const [i, { name }] of wanted.entries()) {
    const place = `clients.${i}.name`
    const there = taken.get(name.toLowerCase())
    if (there) refuse('there-already', `There is a client “${there.name}” already.`, place)
    if (names.has(name.toLowerCase())) refuse('twice', `“${name}” stands there twice.`, place)
    names.add(name.toLowerCase())
  }
}
/** Makes a client, in the state where new ones begin. */
export function insertClient(
  { reader }: Engine,
  write: Writer,
  wanted: NewClient & { readonly stateId?: number },
): ClientSheet {
  const { name, short = shortName(name), tier = 'silver', ...details } = wanted
  const stateId = firstState.get(reader)?.id ?? null
  const id = write.insert('clients', { stateId, name, short, tier, ...details })
  return { id, name, short, tier }
}

/** Makes clients, all as one change. @throws Refusal `there-already`, `twice` */
export function makeClients(
  engine: Engine,
  viewer: Viewer,
  wanted: readonly NewClient[],
): Changed<ClientSheet[]> {
  needStructure(viewer, 'make clients')
  checkNames(engine, wanted)
  return engine.journal.change(actorOf(viewer), (write) =>
    wanted.map((one) => insertClient(engine, write, one)),
  )
}

/** Whoever looks after a client, or fills a role for it, is inside and here. @throws Refusal */
function checkInside({ reader }: Engine, id: number, place: string): void {
  const person = personById.get(reader, { id })
  if (!person?.active) refuse('person-left', 'Choose somebody who is here.', place)
  if (isGuestAccess(person.access) && place === 'leadId')
    refuse('guest', `${person.name} is a guest; somebody inside looks after a client.`, place)
}
function saveRoles(
  { reader }: Engine,
  write: Writer,
  clientId: ClientId,
  usual: NonNullable<ClientPatch['usual']>,
): void {
  const wanted = new Map(usual.map(({ role, personId }) => [role, personId]))
  for (const { id, role, personId } of rolesOf.all(reader, { client: clientId })) {
    const now = wanted.get(role)
    if (now === undefined) write.remove('clientRoles', id)
    else if (now !== personId) write.update('clientRoles', id, { personId: now })
    wanted.delete(role)
  }
  for (const [role, personId] of wanted) write.insert('clientRoles', { clientId, role, personId })
}

/** Puts these tags on a client, and takes others off. */
export function saveTags(
  { reader }: Engine,
  write: Writer,
  clientId: ClientId,
  wanted: readonly TagId[],
): void {
  const now = tagsOf.all(reader, { client: clientId })
  for (const { id, taggingId } of now)
    if (!wanted.includes(id)) write.remove('clientTags', taggingId)
  for (const tagId of wanted)
    if (!now.some(({ id }) => id === tagId)) write.insert('clientTags', { clientId, tagId })
}
/** What a client is given must be there. @throws Refusal `person-left`, `guest`, `state-gone`, `tag-gone` */
export function checkGiven(
  engine: Engine,
  { leadId, usual, stateId, tags }: Pick<ClientPatch, 'leadId' | 'usual' | 'stateId' | 'tags'>,
): void {
  if (leadId) checkInside(engine, leadId, 'leadId')
  for (const [i, { personId }] of (usual ?? []).entries())
    checkInside(engine, personId, `usual.${i}.personId`)
  if (stateId && !everyState.all(engine.reader).some(({ id }) => id === stateId))
    refuse('state-gone', 'That state of clients was removed in the meantime.', 'stateId')
  checkTags(engine.reader, tags ?? [])
}

/**
 * @throws Refusal `not-found`, `forbidden`, `there-already`, `person-left`, `guest`, `state-gone`,
 *   `tag-gone`, `field-gone`, `bad-value`
 */
export function editClient(
  engine: Engine,
  viewer: Viewer,
  id: ClientId,
  { usual, tags, fields, ...patch }: ClientPatch,
): Changed<ClientPage> {
  const { client } = needClient(engine, id)
  if (!mayEditClient(viewer, client.leadId))
    refuse('forbidden', 'Only a manager, or whoever looks after it, may change a client.')
  const there = patch.name && byName(engine).get(patch.name.toLowerCase())
  if (there && there.id !== id)
    refuse('there-already', `There is a client “${there.name}” already.`, 'name')
  checkGiven(engine, { ...patch, ...(usual && { usual }), ...(tags && { tags }) })
  const fill = setDetails(engine, viewer, 'client', fields ?? {})
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    write.update('clients', id, patch)
    if (usual) saveRoles(engine, write, id, usual)
    if (tags) saveTags(engine, write, id, tags)
    fill(write, id)
  })
  return { result: clientPage(engine, viewer, id), change }
}
