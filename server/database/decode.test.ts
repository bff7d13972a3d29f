import Sqlite from 'better-sqlite3'
import { eq, getTableColumns, sql } from 'drizzle-orm'
import { drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { unionAll } from 'drizzle-orm/sqlite-core'
import { expect, it } from 'vitest'
import { decoder, type Selected } from './decode.ts'
import { addFunctions, migrationsFolder } from './open.ts'
import { clients, people, projects, rules, tasks } from './tables/index.ts'

// The reference is Drizzle's own mapping of the same questions over the same rows.
const sqlite = new Sqlite(':memory:')
addFunctions(sqlite)
const orm = drizzle(sqlite)
migrate(orm, { migrationsFolder: migrationsFolder() })
orm
  .insert(people)
  .values([
    { id: 1, name: 'Imogen', email: 'i', access: 'manager', hours: { MO: 450 } },
    { id: 2, name: 'Corrie', email: 'c', access: 'contractor', active: false },
  ])
  .run()
orm
  .insert(clients)
  .values({ id: 1, name: 'Mossgate Veterinary Clinic', short: 'Mossgate', tier: 'gold' })
  .run()
orm
  .insert(projects)
  .values([
    { id: 1, name: 'Books', clientId: 1, leadId: 2, createdAt: 1 },
    { id: 2, name: 'Payroll', createdAt: 1 },
  ])
  .run()
orm
  .insert(tasks)
  .values([
    { id: 1, title: 'Post takings', projectId: 1, createdAt: 1, datesFollow: true },
    { id: 2, title: 'Review', projectId: 2, createdAt: 1 },
    { id: 3, title: 'Of no project', createdAt: 1 },
  ])
  .run()

const joined = () =>
  orm
    .select({
      ...getTableColumns(tasks),
      project: { id: projects.id, name: projects.name },
      client: { name: clients.name, short: clients.short },
      lead: { name: people.name, active: people.active, hours: people.hours },
      // Columns of two tables, and words of SQL, in one object.
      both: { project: projects.name, client: clients.name },
      said: { length: sql<number>`length(${tasks.title})`, rule: rules.name },
    })
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .leftJoin(clients, eq(clients.id, projects.clientId))
    .leftJoin(people, eq(people.id, projects.leadId))
    .leftJoin(rules, eq(rules.id, tasks.rungOf))
    .orderBy(tasks.id)

const QUESTIONS = {
  'a table with flags and JSON': () => orm.select().from(people).orderBy(people.id),
  'left joins that find something, or nothing': joined,
  'an inner join': () =>
    orm
      .select({ title: tasks.title, project: { id: projects.id, lead: projects.leadId } })
      .from(tasks)
      .innerJoin(projects, eq(projects.id, tasks.projectId)),
  'SQL that reads its value': () =>
    orm.select({ upper: sql`upper(${tasks.title})`.mapWith((s) => `${s}!`) }).from(tasks),
  'a union of names': () =>
    unionAll(
      orm.select({ id: sql<number>`${tasks.id}`, name: sql<string>`${tasks.title}` }).from(tasks),
      orm
        .select({ id: sql<number>`${projects.id}`, name: sql<string>`${projects.name}` })
        .from(projects),
    ),
  'no rows': () => orm.select().from(rules),
}

it.each(Object.entries(QUESTIONS))('%s: as Drizzle itself maps it', (_, question) => {
  const prepared = question().prepare() as unknown as {
    fields: Selected[]
    joinsNotNullableMap?: Record<string, boolean>
    all(): unknown[]
    values(): unknown[][]
  }
  const decode = decoder(prepared.fields, prepared.joinsNotNullableMap)
  expect(decode(prepared.values())).toEqual(prepared.all())
})

it('rows do not share what is in them', () => {
  const prepared = joined().prepare() as unknown as { fields: Selected[]; values(): unknown[][] }
  const [one, two] = decoder(prepared.fields, {})(prepared.values())
  expect(one).not.toBe(two)
  one!['title'] = 'Changed'
  expect(two!['title']).toBe('Review')
})
