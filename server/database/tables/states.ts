import { index, integer, sqliteTable, text } from 'drizzle-orm/sqlite-core'

/** Sets of states. The firm's own is the one with id 1; templates and projects may name another. */
export const stateSets = sqliteTable('stateSets', {
  id: integer().primaryKey(),
  name: text().notNull(),
  version: integer().notNull().default(1),
})

/**
 * Where a task can stand. `kind` is one of the six kinds; `colour` a name of the palette, null for
 * the kind's own; `only`: anyone, lead or manager.
 */
export const states = sqliteTable(
  'states',
  {
    id: integer().primaryKey(),
    setId: integer()
      .notNull()
      .references(() => stateSets.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    kind: text().notNull(),
    colour: text(),
    only: text().notNull().default('anyone'),
    position: integer().notNull(),
  },
  (t) => [index('states_by_set').on(t.setId, t.position)],
)
