import { expect, it } from 'vitest'
import { chance } from '#core/test/chance.ts'
import { drained } from '../../engine/portions.ts'
import { ENGINE, lab, london } from '../../test/lab.ts'
import { killedTimes } from '../../test/mortal.ts'
import { audit } from './audit.ts'
import { insertSeries } from './service.ts'

it('killed at any commit in the midst of making 1,000, the clock set about: none twice, none missing', () => {
  const MANY = 1_000
  const l = lab()
  const body = {
    ...{ name: 'Run', leadDays: 0 },
    schedule: { start: '2026-12-01', rule: 'FREQ=MONTHLY;BYMONTHDAY=1' },
    makes: {
      ...{ kind: 'task', title: 'Count {date}', description: '', clientId: null, projectId: null },
      ...{ assignees: [l.tobias.id], estimate: null, checklist: [] },
      period: { of: 'month', which: 'same' },
    },
  } as const
  l.engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < MANY; i++) insertSeries(l.engine, write, body as never, l.imogen.id)
  })
  l.runner.tick()
  const { below, pick } = chance(14)
  const morning = london('2026-12-01T08:00')
  const DAY = 86_400_000
  killedTimes(l, 30, {
    commits: () => 1 + below(4),
    run(runner) {
      // The clock of the machine is a day early, right, or a day late as it starts again.
      l.clock.set(morning + pick([-DAY, 0, DAY]))
      runner.tick()
      l.clock.set(morning + DAY)
      runner.tick()
    },
  })
  const count = (sql: string) => l.rows<{ n: number }>(sql)[0]!.n
  expect(count('select count(*) n from tasks')).toBe(MANY)
  expect(count('select count(distinct seriesId) n from tasks')).toBe(MANY)
  expect(count("select count(*) n from occurrences where state = 'made'")).toBe(MANY)
  expect(count("select count(*) n from runs where outcome = 'done'")).toBe(MANY)
  expect(count("select count(*) n from alarms where kind = 'series'")).toBe(MANY)
  expect(drained(audit(l.engine))).toMatchObject({ wrong: [], dates: { made: MANY } })
})
