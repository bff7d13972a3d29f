import { expect, it } from 'vitest'
import type { TaskQuery } from '#contract/query.ts'
import { ENGINE, lab, london } from '../../test/lab.ts'
import { sheetData } from '../exports/sheet.ts'
import { listChanges } from '../journal/changes.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { waysOf } from './ways.ts'

const ALL: TaskQuery = {
  ...{ scope: { of: 'firm' }, filter: { match: 'all', of: [] }, sort: [], group: null },
  ...{ tree: false, sums: [], every: false },
}

it('moments are told to everybody in their own zone and by their own clock, here and in files', () => {
  const l = lab()
  l.engine.journal.change(ENGINE, (write) =>
    write.update('people', l.tobias.id, { ways: { zone: 'America/New_York', clock: 12 } }),
  )
  expect(waysOf(l.engine, l.tobias)).toMatchObject({ zone: 'America/New_York', first: 'MO' })
  const { id } = makeTask(l.engine, l.imogen, { title: 'Post', due: '2026-12-03' }).result
  editTask(l.engine, l.imogen, id, { patch: { dueTime: '15:00' }, seen: null })
  const told = (who: typeof l.tobias) => listChanges(l.engine, who, {}).changes[0]?.lines.join()
  expect(told(l.tobias)).toMatch(/due time none → 3:00 pm/)
  expect(told(l.imogen)).toMatch(/due time none → 15:00/)
  // Made at 08:00 in London, five hours later than in New York (IANA, Eastern Standard Time).
  expect(l.clock.now()).toBe(london('2026-11-23T08:00'))
  const made = (who: typeof l.tobias) =>
    sheetData(l.engine, who, ALL, ['created']).groups[0]?.rows[0]?.[1]
  expect(made(l.imogen)).toMatchObject({ date: '2026-11-23', time: '08:00' })
  expect(made(l.tobias)).toMatchObject({ date: '2026-11-23', time: '03:00' })
})
