import { insertSeries } from '#server/areas/series/service.ts'
import { listSeries } from '#server/areas/series/sheet.ts'
import { round } from '#server/areas/series/round.ts'
import { expectedWork } from '#server/areas/series/expected.ts'
import { assemble } from '#server/assembly.ts'
import type { Database } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { againstBare, ENGINE, house, NOW, race, report } from './house.ts'

/** A first of the month: a thousand series make something, and somebody looks at them all. */

const DAY = 86_400_000
const body = (i: number) =>
  ({
    ...{ name: `Series ${i}`, leadDays: 0, ways: {} },
    schedule: { start: '2026-11-01', rule: 'FREQ=MONTHLY;BYMONTHDAY=1', roll: 'following' },
    makes: {
      ...{ kind: 'task', title: 'Count {period: MMMM}', description: '', clientId: null },
      ...{ projectId: null, assignees: [1 + (i % 10)], estimate: 30, checklist: [] },
      period: { of: 'month', which: 'before' },
    },
  }) as never

function withSeries(many: number) {
  const h = house()
  h.engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < many; i++) insertSeries(h.engine, write, body(i), 1)
  })
  h.runner.tick()
  return h
}

{
  const h = withSeries(1_000)
  const work = (db: Database) => () => assemble(db, handClock(NOW)).runner.runUntil(NOW + 8 * DAY)
  const { whole, own, writes, first } = againstBare(h.db, work)
  const made = first.sqlite.prepare('select count(*) from occurrences').pluck().get()
  report(
    `${String(made)} dates due on one morning, against their ${writes} rows written bare`,
    whole / own,
    3,
    `${whole.toFixed(0)} ms; bare ${own.toFixed(0)} ms`,
  )
  h.end()
}

{
  const [many, few] = [withSeries(500), withSeries(5)]
  const viewer = { id: 1, name: 'P0', access: 'manager', clientId: null } as const
  const YEAR = { from: '2026-11-23', to: '2027-11-22' }
  for (const [name, look] of [
    ['the list', (h: typeof many) => listSeries(h.engine, viewer)],
    ['a year of the round', (h: typeof many) => round(h.engine, viewer, YEAR)],
    [
      'a year of what is expected',
      (h: typeof many) => expectedWork(h.engine, viewer, { ...YEAR, of: 'firm' }),
    ],
  ] as const) {
    const [all, some] = await race(
      9,
      () => look(many),
      () => {
        for (let i = 0; i < 100; i++) look(few)
      },
    )
    report(
      `${name} of 500 series, against 100 times that of 5`,
      all / some,
      2,
      `${all.toFixed(1)} ms; ${some.toFixed(1)} ms`,
    )
  }
  many.end()
  few.end()
}
