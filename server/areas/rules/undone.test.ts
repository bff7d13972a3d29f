import { expect, it } from 'vitest'
import { Refusal } from '#core/refusal.ts'
import { chance } from '#core/test/chance.ts'
import { history } from '../../test/histories.ts'
import type { Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'

/** Rows that rules and people write, but their own numbers and how often they were edited. */
const rows = (l: Lab) =>
  [
    'tasks',
    'taskAssignees',
    'taskTags',
    'taskFollowers',
    'checklistItems',
    'comments',
    'projects',
  ].map((table) =>
    l
      .rows(`select * from ${table}`)
      .map(({ id, version: _, ...row }) =>
        JSON.stringify(table === 'tasks' || table === 'projects' ? { id, ...row } : row),
      )
      .sort(),
  )

it('runs undone in any order leave the rows as if they had never run', () => {
  let undone = 0
  for (let seed = 0; seed < 100; seed++) {
    const ran = history(9_000 + seed, 14, { apart: 'on' })
    const never = history(9_000 + seed, 14, { apart: 'off' })
    const changes = ran.l
      .rows<{ change: number }>('select "change" from runs where "change" is not null')
      .map(({ change }) => change)
    const { next } = chance(seed)
    const inAnyOrder = changes.map((change) => ({ change, at: next() })).sort((a, b) => a.at - b.at)
    for (const { change } of inAnyOrder) {
      // Of some nothing stands any more, so that nothing is taken back.
      try {
        undoChange(ran.l.engine, ran.l.imogen, change).whole()
        undone++
      } catch (error) {
        if (!(error instanceof Refusal)) throw error
      }
    }
    expect(rows(ran.l), `history ${seed}`).toEqual(rows(never.l))
  }
  expect(undone).toBeGreaterThan(60)
})
