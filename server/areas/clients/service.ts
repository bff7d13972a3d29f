import { eq } from 'drizzle-orm'
import type { ClientId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { shortName } from '#core/text/short-name.ts'
import type { ClientSheet, NewClient } from '#contract/clients.ts'
import { within } from '../../database/query.ts'
import { caseless } from '../../database/sql.ts'
import { clients } from '../../database/tables/index.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { clientById } from '../people/queries.ts'

/** Clients of the firm: made singly or many at once, renamed. */

const called = within((orm, a: { name: string }) =>
  orm
    .select({ id: clients.id, name: clients.name })
    .from(clients)
    .where(eq(caseless(clients.name), a.name)),
)

/** Makes clients, all as one change. @throws Refusal `there-already`, `twice` */
export function makeClients(
  engine: Engine,
  viewer: Viewer,
  wanted: readonly NewClient[],
): Changed<ClientSheet[]> {
  needStructure(viewer, 'make clients')
  const names = new Set<string>()
  for (const [i, { name }] of wanted.entries()) {
    const place = `clients.${i}.name`
    const there = called.get(engine.reader, { name })
    if (there) refuse('there-already', `There is a client “${there.name}” already.`, place)
    if (names.has(name.toLowerCase())) refuse('twice', `“${name}” stands there twice.`, place)
    names.add(name.toLowerCase())
  }
  return engine.journal.change(actorOf(viewer), (write) =>
    wanted.map(({ name, short = shortName(name), tier = 'silver' }) => ({
      ...{ id: write.insert('clients', { name, short, tier }), name, short, tier },
    })),
  )
}

/** @throws Refusal `not-found`, `there-already` */
export function editClient(
  engine: Engine,
  viewer: Viewer,
  id: ClientId,
  patch: Partial<NewClient>,
): Changed<ClientSheet> {
  needStructure(viewer, 'change clients')
  const now = clientById.get(engine.reader, { id })
  if (!now) return refuse('not-found', `There is no client ${id}.`)
  const there =
    patch.name === undefined ? undefined : called.get(engine.reader, { name: patch.name })
  if (there && there.id !== id)
    refuse('there-already', `There is a client “${there.name}” already.`, 'name')
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('clients', id, patch),
  )
  return { result: clientById.get(engine.reader, { id }) ?? now, change }
}
