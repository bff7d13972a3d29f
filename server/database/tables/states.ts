import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import type { StateSetId } from '#core/brands.ts'
import { STATE_SETTERS, STATES } from '#contract/words.ts'
import { id, version } from './columns.ts'

/** Sets of states. The firm's own is the one with id 1; templates and projects may name another. */
export const stateSets = sqliteTable('stateSets', {
  id: id<'state set'>(),
  name: text().notNull(),
  version: version(),
})

/** Where a task can stand. `colour` is a name of the palette, null for the kind's own. */
export const states = sqliteTable(
  'states',
  {
    id: id<'state'>(),
    setId: integer()
      .notNull()
      .$type<StateSetId>()
      .references(() => stateSets.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    kind: text({ enum: STATES }).notNull(),
    colour: text(),
    only: text({ enum: STATE_SETTERS }).notNull().default('anyone'),
    position: integer().notNull(),
  },
  (t) => [index('states_by_set').on(t.setId, t.position)],
)
