import { expect, it } from 'vitest'
import { lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { directory } from '../people/directory.ts'
import { editClient, makeClients } from './service.ts'

it('clients are made many at once as one change, with short names, and taken back as one', () => {
  const l = lab()
  const names = () => directory(l.engine, l.imogen).clients.map((c) => `${c.name}: ${c.short}`)
  const before = names()
  const { result, change } = makeClients(l.engine, l.imogen, [
    { name: 'The Mill Lane Practice' },
    { name: 'Beckside Dental', short: 'Beck', tier: 'gold' },
  ])
  expect(result.map(({ short, tier }) => [short, tier])).toEqual([
    ['Mill Lane', 'silver'],
    ['Beck', 'gold'],
  ])
  expect(names()).toHaveLength(before.length + 2)
  undoChange(l.engine, l.imogen, change!).whole()
  expect(names()).toEqual(before)
})
it('no two are called alike, in whatever letters, and members make none', () => {
  const l = lab()
  const mossgate = 'MOSSGATE veterinary clinic'
  const make = (...names: string[]) =>
    makeClients(
      l.engine,
      l.imogen,
      names.map((name) => ({ name })),
    )
  expect(() => make('Fresh', mossgate)).toThrow(/“Mossgate Veterinary Clinic” already/)
  expect(() => make('Fresh', 'fresh')).toThrow(/twice/)
  expect(() => makeClients(l.engine, l.tobias, [{ name: 'Fresh' }])).toThrow(/Only a manager/)
  const { id } = make('Fresh').result[0]!
  expect(() => editClient(l.engine, l.imogen, id, { name: mossgate })).toThrow(/already/)
  expect(editClient(l.engine, l.imogen, id, { name: 'FRESH' }).result.name).toBe('FRESH')
  expect(editClient(l.engine, l.imogen, id, { tier: 'bronze' }).result.tier).toBe('bronze')
  expect(() => editClient(l.engine, l.imogen, 99, { name: 'x' })).toThrow(/no client 99/)
})
