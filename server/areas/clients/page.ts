import type { ClientId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { sameName } from '#core/text/short-name.ts'
import type { ClientPage } from '#contract/clients.ts'
import type { Engine } from '../../engine/services.ts'
import { mayStructure, needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { attachmentsFor } from '../attachments/queries.ts'
import { detailsOf } from '../fields/values.ts'
import { allClients } from '../people/queries.ts'
import { projectsOf } from '../projects/sheet.ts'
import { listSeries } from '../series/sheet.ts'
import { contactsOf, rolesOf, tagsOf, wholeClient } from './queries.ts'

/** A client's page: who it is, who looks after it, what is done for it. */

/** @throws Refusal `not-found` */
export const needClient = ({ reader }: Engine, id: ClientId) =>
  wholeClient.get(reader, { id }) ?? refuse('not-found', `There is no client ${id}.`)

/** Managers change clients, and whoever looks after one changes that. */
export const mayEditClient = (viewer: Viewer, leadId: number | null): boolean =>
  mayStructure(viewer) || leadId === viewer.id

/** Other clients whose names tell the same. */
function alikeOf({ reader }: Engine, { id, name }: { id: number; name: string }) {
  const key = sameName(name)
  if (!key) return []
  return allClients
    .all(reader)
    .filter((other) => other.id !== id && sameName(other.name) === key)
    .map((other) => ({ id: Number(other.id), name: other.name }))
}

/** @throws Refusal `not-found`, `forbidden` for guests */
export function clientPage(engine: Engine, viewer: Viewer, id: ClientId): ClientPage {
  needMember(viewer, 'see a client’s page')
  const { reader } = engine
  const { client, lead, state } = needClient(engine, id)
  const { leadId, stateId: _, ...sheet } = client
  return {
    ...sheet,
    ...detailsOf(engine, viewer, 'client', id),
    lead,
    state,
    tags: tagsOf.all(reader, { client: id }).map(({ taggingId: _, ...tag }) => tag),
    usual: rolesOf
      .all(reader, { client: id })
      .map(({ role, personId, name }) => ({ role, personId, name })),
    contacts: contactsOf.all(reader, { client: id }).map(({ clientId: _, ...one }) => one),
    projects: projectsOf(engine, viewer, id),
    series: listSeries(engine, viewer, id),
    files: attachmentsFor(reader, sightOf(viewer), id),
    alike: alikeOf(engine, client),
    mayEdit: mayEditClient(viewer, leadId),
  }
}
