import { expect, it } from 'vitest'
import { openDatabase } from './open.ts'
import { people, tasks } from './tables/index.ts'

const db = openDatabase(':memory:')
const hand = db.hand(tasks)

it('what is not given takes the default of its column; what is given as null stays null', () => {
  const id = hand.insert({ title: 'Post takings', createdAt: 5, stateId: null })
  expect(hand.read(id)).toMatchObject({
    ...{ id, title: 'Post takings', createdAt: 5, stateId: null },
    ...{ state: 'not-started', priority: 'normal', description: '', datesFollow: 0, version: 1 },
  })
})

it('stores what the code calls a value: yes and no as 1 and 0, JSON as text; unknown names are no columns', () => {
  const store = db
    .hand(people)
    .store({ active: false, hours: { MO: 450 }, name: 'I', nickname: 'x' })
  expect(store).toEqual({ active: 0, hours: '{"MO":450}', name: 'I' })
  expect(hand.store({ due: null, title: undefined })).toEqual({ due: null })
})

it('updates just the columns given, under the number given', () => {
  const [one, two] = [1, 2].map((n) => hand.insert({ title: `T${n}`, createdAt: n, estimate: n }))
  hand.update(one!, { estimate: null, due: '2026-12-01' })
  hand.update(two!, { due: '2026-12-02' })
  expect(hand.read(one!)).toMatchObject({ title: 'T1', estimate: null, due: '2026-12-01' })
  expect(hand.read(two!)).toMatchObject({ title: 'T2', estimate: 2, due: '2026-12-02' })
  hand.remove(one!)
  expect(hand.read(one!)).toBeUndefined()
  expect(hand.read(two!)).toBeDefined()
})

it('an insert under a number keeps it, and the database’s own refusals pass through', () => {
  expect(hand.insert({ id: 900, title: 'Put back', createdAt: 1 })).toBe(900)
  expect(() => hand.insert({ id: 900, title: 'Twice', createdAt: 1 })).toThrow(/UNIQUE/)
  expect(() => hand.insert({ title: null, createdAt: 1 })).toThrow(/NOT NULL/)
  expect(() => hand.update(900, { projectId: 12345 })).toThrow(/FOREIGN KEY/)
})
