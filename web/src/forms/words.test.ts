import { expect, it } from 'vitest'
import { sayClash, sayPart } from './words.ts'

const template = {
  name: 'Books',
  phases: [{ key: 'p1', name: 'Gather', tasks: [{ key: 't1', title: 'Count stock', effort: 20 }] }],
}
it('a clash is called by what it is about, whatever it lies in', () => {
  const clash = { place: 'phases.p1.tasks.t1.effort', mine: 30, theirs: 45 }
  expect(sayClash(template, clash, { effort: 'Effort, minutes' })).toEqual({
    ...{ label: '“Gather”: “Count stock”: Effort, minutes', mine: '30', theirs: '45' },
  })
})
it('a whole thing is called by its name', () => {
  const clash = {
    ...{ place: 'phases.p1.tasks.t1', mine: undefined, theirs: { key: 't1', title: 'Count it' } },
  }
  expect(sayClash(template, clash, {})).toEqual({
    ...{ label: '“Gather”: “Count stock”', mine: 'nothing', theirs: '“Count it”' },
  })
})
it('what nobody named is called by its key', () =>
  expect(sayClash({}, { place: 'odd', mine: true, theirs: null }, {})).toEqual({
    ...{ label: 'odd', mine: 'yes', theirs: 'nothing' },
  }))
it('parts of a thing are said one after the other', () =>
  expect(sayPart({ key: 'x', days: 3, unit: 'working', of: [] })).toBe('3, working, nothing'))
