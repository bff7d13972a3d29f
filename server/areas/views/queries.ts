import { and, eq, or, sql } from 'drizzle-orm'
import type { PersonId, ViewId } from '#core/brands.ts'
import { ready } from '../../database/query.ts'
import { caseless, held } from '../../database/sql.ts'
import { people, viewPins, views } from '../../database/tables/index.ts'

const row = (me: PersonId) => ({
  id: views.id,
  name: views.name,
  owner: { id: people.id, name: people.name },
  shared: views.shared,
  pinned: held(
    sql`exists (select 1 from ${viewPins} where ${viewPins.viewId} = ${views.id} and ${viewPins.personId} = ${me})`,
  ),
  definition: views.definition,
  version: views.version,
})
/** Views that are a person's own, or shared with everybody. */
export const viewsFor = ready((orm, a: { me: PersonId }) =>
  orm
    .select(row(a.me))
    .from(views)
    .innerJoin(people, eq(people.id, views.ownerId))
    .where(or(eq(views.ownerId, a.me), eq(views.shared, true)))
    .orderBy(caseless(views.name)),
)
export const viewFor = ready((orm, a: { me: PersonId; id: ViewId }) =>
  orm
    .select(row(a.me))
    .from(views)
    .innerJoin(people, eq(people.id, views.ownerId))
    .where(and(eq(views.id, a.id), or(eq(views.ownerId, a.me), eq(views.shared, true)))),
)
export const pinsOf = ready((orm, a: { view: ViewId }) =>
  orm
    .select({ id: viewPins.id, personId: viewPins.personId })
    .from(viewPins)
    .where(eq(viewPins.viewId, a.view)),
)
