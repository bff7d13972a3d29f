import { eq, sql } from 'drizzle-orm'
import { expect, it } from 'vitest'
import { openDatabase } from './open.ts'
import { ask, ready, within } from './query.ts'
import { seesTask } from './sees.ts'
import { sight, type Sight } from './sight.ts'
import { journal, people, projects, taskAssignees, tasks } from './tables/index.ts'

const db = openDatabase(':memory:')
const put = (
  table: typeof people | typeof tasks | typeof projects | typeof taskAssignees,
  row: object,
) => {
  const hand = db.hand(table)
  return hand.insert(hand.store({ ...row }))
}
const imogen = put(people, { name: 'Imogen', email: 'i', access: 'manager', hours: { MO: 450 } })
const corrie = put(people, { name: 'Corrie', email: 'c', access: 'contractor', active: false })
const books = put(projects, { name: 'Books', createdAt: 1 })
const mine = put(tasks, { title: 'Theirs', due: '2026-11-25', projectId: books, createdAt: 1 })
const other = put(tasks, { title: 'Ours', createdAt: 1 })
put(taskAssignees, { taskId: mine, personId: corrie })
const ALL = sight({ all: true, inside: true, me: imogen })
const GUEST = sight({ all: false, inside: false, me: corrie })

const person = ready((orm, a: { id: number }) =>
  orm
    .select({ name: people.name, hours: people.hours, active: people.active })
    .from(people)
    .where(eq(people.id, a.id)),
)
const seen = ready((orm, a: { sight: Sight }) =>
  orm
    .select({ title: tasks.title, project: { id: projects.id, name: projects.name } })
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .where(seesTask(a.sight, tasks.id)),
)

it('rows have the types of their tables: JSON read, yes and no, null where a join finds nothing', () => {
  expect(person.get(db.reader, { id: imogen })).toEqual({
    name: 'Imogen',
    hours: { MO: 450 },
    active: true,
  })
  expect(person.get(db.reader, { id: corrie })).toMatchObject({ hours: null, active: false })
  expect(person.get(db.reader, { id: 99 })).toBeUndefined()
  expect(seen.all(db.reader, { sight: ALL })).toEqual([
    { title: 'Theirs', project: { id: books, name: 'Books' } },
    { title: 'Ours', project: null },
  ])
})

it('what a person may not see is not answered, by a question made ready and by a composed one', () => {
  expect(seen.all(db.reader, { sight: GUEST }).map((t) => t.title)).toEqual(['Theirs'])
  const titles = (who: Sight) =>
    ask<[string]>(
      db.reader,
      who,
      (sees) => sql`select ${tasks.title} from ${tasks} where ${sees()}`,
    )
  expect(titles(ALL)).toEqual([['Theirs'], ['Ours']])
  expect(titles(GUEST)).toEqual([['Theirs']])
})

it('a question over items that takes a sight and does not look at it is not asked', () => {
  const blind = ready((orm, _: { sight: Sight }) => orm.select({ id: tasks.id }).from(tasks))
  expect(() => blind.all(db.reader, { sight: GUEST })).toThrow(/sight/)
  expect(() =>
    ask<[number]>(db.reader, GUEST, () => sql`select ${tasks.id} from ${tasks}`),
  ).toThrow(/sight/)
})

it('a reader refuses whatever would write, and shows no way to prepare', () => {
  const writing = within((orm) =>
    orm
      .select({ id: people.id })
      .from(sql`(select 1)`)
      .where(sql`1`),
  )
  expect(Object.keys(db.reader)).toEqual(['reads'])
  expect(() =>
    ask<[]>(db.reader, ALL, (sees) => sql`delete from ${tasks} where ${sees()}`),
  ).toThrow(/only reads/)
  expect(() =>
    ask<[]>(db.reader, ALL, (sees) => sql`update ${people} set name = '' where ${sees()}`),
  ).toThrow(/only reads/)
  expect(() => writing.all(db.reader)).toThrow()
  expect(person.get(db.reader, { id: imogen })?.name).toBe('Imogen')
  expect(seen.all(db.reader, { sight: ALL })).toHaveLength(2)
})

it('nothing can be worked out from a mark while a question is made', () => {
  const hasty = ready((orm, a: { name: string }) =>
    orm
      .select({ id: people.id })
      .from(people)
      .where(eq(people.name, `%${a.name}%`)),
  )
  expect(() => hasty.all(db.reader, { name: 'Imogen' })).toThrow(/no value while/)
})

it('a hand keeps values as they are stored, and fills in what is not said', () => {
  const hand = db.hand(tasks)
  expect(hand.read(other)).toMatchObject({
    title: 'Ours',
    state: 'not-started',
    datesFollow: 0,
    version: 1,
    due: null,
  })
  hand.update(other, hand.store({ datesFollow: true }))
  expect(hand.read(other)).toMatchObject({ datesFollow: 1, title: 'Ours' })
  hand.remove(other)
  expect(hand.read(other)).toBeUndefined()
  expect(db.hand(journal).store({ after: { due: null } })).toEqual({ after: '{"due":null}' })
})
