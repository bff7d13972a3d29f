import { expect, it } from 'vitest'
import type { RuleDefinition } from '#contract/rules.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { chance } from '#core/test/chance.ts'
import { ENGINE, lab, london } from '../../test/lab.ts'
import { killedTimes } from '../../test/mortal.ts'
import { lateAudit } from './audit.ts'
import { insertRule } from './service.ts'

it('killed at any commit in the midst of 1,000 runs, each is made once', () => {
  const TASKS = 1_000
  const l = lab()
  const ladder: RuleDefinition = {
    ...{ trigger: { kind: 'late' }, conditions: { match: 'all', of: [] } },
    rungs: [
      {
        ...{ key: 'one', delay: { days: 1, unit: 'working', time: '09:00' } },
        actions: [
          { kind: 'comment', text: 'Late' },
          { kind: 'tell', who: { is: 'person', id: l.imogen.id }, mail: true, text: '{task}' },
        ],
      },
    ],
  }
  l.engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < TASKS; i++)
      write.insert('tasks', {
        ...{ title: `Task ${i}`, due: isoDate('2026-11-24'), position: i, createdAt: write.at },
      })
    insertRule(l.engine, write, { name: 'R', ownerId: l.imogen.id, definition: ladder }, true)
  })
  l.runner.tick()
  const { below } = chance(13)
  killedTimes(l, 40, {
    commits: () => 1 + below(4),
    run: (runner) => runner.runUntil(london('2026-11-25T10:00')),
  })
  const count = (sql: string) => l.rows<{ n: number }>(sql)[0]!.n
  expect(count("select count(*) n from runs where outcome = 'done'")).toBe(TASKS)
  expect(count('select count(distinct itemId) n from runs')).toBe(TASKS)
  expect(count('select count(*) n from comments')).toBe(TASKS)
  expect(count("select count(*) n from notices where kind = 'escalation'")).toBe(TASKS)
  expect(count('select count(distinct key) n from outbox')).toBe(
    count('select count(*) n from outbox'),
  )
  expect(lateAudit(l.engine, l.imogen)).toMatchObject({ late: TASKS, gaps: 0 })
})
