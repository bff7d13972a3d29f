import { expect, it } from 'vitest'
import { datesBody } from '#contract/setup.ts'
import { lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { whoAmI } from '../people/directory.ts'
import { setDates } from './service.ts'

it('how dates are written is the firm’s: managers set it, everybody is told, undo takes it back', () => {
  const l = lab()
  const told = () => whoAmI(l.engine, l.tobias).dates
  expect(told()).toEqual({ first: 'MO', clock: 24 })
  const { change } = setDates(l.engine, l.imogen, { first: 'SU', clock: 12 })
  expect(told()).toEqual({ first: 'SU', clock: 12 })
  expect(() => setDates(l.engine, l.tobias, { first: 'MO', clock: 24 })).toThrow(/how dates/)
  undoChange(l.engine, l.imogen, change!).whole()
  expect(told()).toEqual({ first: 'MO', clock: 24 })
})
it('no other day and no other clock is taken', () => {
  expect(datesBody.validate({ first: 'XX', clock: 24 }).error).toBeDefined()
  expect(datesBody.validate({ first: 'MO', clock: 13 }).error).toBeDefined()
})
