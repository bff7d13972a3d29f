import { describe, expect, it } from 'vitest'
import type { Group } from '#core/conditions/condition.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { listNotices } from '../notices/service.ts'
import { addReminder } from '../reminders/service.ts'
import { makeSeries } from '../series/service.ts'
import { makeTask } from '../tasks/service.ts'
import { clockwork, switchClockwork } from './halt.ts'
import { listRuns } from './log.ts'
import { makeRule, switchRule } from './service.ts'

const ALL: Group = { match: 'all', of: [] }
const tell = (l: Lab, text: string) => ({
  ...{ kind: 'tell' as const, mail: false, text },
  who: { is: 'person' as const, id: l.imogen.id },
})
/** A ladder of two rungs, a rule on what is made, and a series of every working day. */
function firm(): Lab {
  const l = lab()
  const on = (definition: object) => {
    const body = { name: 'R', ownerId: l.imogen.id, definition: definition as never }
    const { id } = makeRule(l.engine, l.imogen, body).result
    switchRule(l.engine, l.imogen, id, { on: true })
  }
  const rung = (days: number) => ({
    ...{ key: `r${days}`, delay: { days, unit: 'working', time: '09:00' } },
    actions: [tell(l, `{task}, rung ${days}`)],
  })
  on({ trigger: { kind: 'late' }, conditions: ALL, rungs: [rung(1), rung(2), rung(3)] })
  on({ trigger: { kind: 'made' }, conditions: ALL, actions: [tell(l, '{task} is new')] })
  makeSeries(l.engine, l.imogen, {
    name: 'Post',
    makes: {
      ...{ kind: 'task', title: 'Post', description: '', clientId: null, projectId: null },
      ...{ assignees: [], estimate: null, checklist: [], period: { of: 'month', which: 'same' } },
    },
    schedule: { start: '2026-11-24', rule: 'FREQ=DAILY;BYDAY=MO,TU,WE,TH,FR' },
    leadDays: 0,
  })
  makeTask(l.engine, l.tobias, { title: 'Late', due: '2026-11-23' })
  l.runner.tick()
  return l
}
const told = (l: Lab) =>
  listNotices(l.engine, l.imogen)
    .filter(({ kind }) => kind === 'escalation')
    .map(({ body }) => body)
    .reverse()
const posts = (l: Lab) => l.rows('select due from tasks where title = ?', 'Post').length
const turn = (l: Lab, on: boolean, also = false) => {
  switchClockwork(l.engine, l.imogen, { on, also })
  l.runner.tick()
}

describe('everything automatic, stopped', () => {
  it('does nothing, says what was held back, and goes on from now', () => {
    const l = firm()
    const before = told(l).length
    turn(l, false)
    makeTask(l.engine, l.tobias, { title: 'Meanwhile' })
    l.until('2026-11-25T12:00')
    expect(told(l)).toHaveLength(before)
    expect(posts(l)).toBe(0)
    expect(clockwork(l.engine, l.imogen)).toMatchObject({
      due: { ladder: 1, series: 1 },
      rules: [{ name: 'R', count: 1 }],
    })
    const [held] = listRuns(l.engine, l.imogen, {})
    expect(held).toMatchObject({
      outcome: 'skipped',
      summary: 'Held back',
      task: { title: 'Meanwhile' },
    })
    turn(l, true)
    expect(clockwork(l.engine, l.imogen)).toEqual({ stoppedAt: null, due: {}, rules: [] })
    expect(told(l)).toHaveLength(before)
    l.until('2026-11-26T12:00')
    // The third rung, and Thursday's post: what was before is not made up for.
    expect(told(l).slice(before).sort()).toEqual(['Late, rung 3', 'Post is new'])
    expect(posts(l)).toBe(1)
  })
  it('makes up for what came due where it is told to: of a ladder the highest rung', () => {
    const l = firm()
    const before = told(l).length
    turn(l, false)
    l.until('2026-11-25T12:00')
    turn(l, true, true)
    expect(told(l).slice(before).sort()).toEqual([
      ...['Late, rung 2', 'Post is new', 'Post is new'],
      // Made for the day before, it is late.
      'Post, rung 1',
    ])
    expect(posts(l)).toBe(2)
  })
  it('what became true, and reminders that came due, are acted on only where it is told to', () => {
    for (const also of [false, true]) {
      const l = lab()
      const soon: Group = {
        match: 'all',
        of: [{ field: 'due', op: 'before', value: { days: 3, working: false } }],
      }
      const definition = {
        ...{ trigger: { kind: 'becomes-true' as const }, conditions: soon },
        actions: [tell(l, '{task} soon')],
      }
      const body = { name: 'R', ownerId: l.imogen.id, definition }
      switchRule(l.engine, l.imogen, makeRule(l.engine, l.imogen, body).result.id, { on: true })
      const { id } = makeTask(l.engine, l.tobias, { title: 'T', due: '2026-11-27' }).result
      addReminder(l.engine, l.imogen, id, {
        when: { kind: 'at', date: '2026-11-24', time: '09:00' },
        ...{ assignees: false, people: [l.imogen.id], daily: false, text: 'Now' },
      })
      l.runner.tick()
      turn(l, false)
      l.until('2026-11-26T12:00')
      turn(l, true, also)
      l.until('2026-11-30T12:00')
      expect(told(l)).toEqual(also ? ['T soon'] : [])
      const reminded = listNotices(l.engine, l.imogen).filter(({ kind }) => kind === 'reminder')
      expect(reminded).toHaveLength(also ? 1 : 0)
    }
  })
  it('is a manager’s to stop; stopped twice it is stopped once', () => {
    const l = firm()
    expect(() => switchClockwork(l.engine, l.tobias, { on: false })).toThrow()
    turn(l, false)
    const since = clockwork(l.engine, l.imogen).stoppedAt
    l.clock.set(l.clock.now() + 60_000)
    expect(switchClockwork(l.engine, l.imogen, { on: false }).change).toBeNull()
    expect(clockwork(l.engine, l.tobias).stoppedAt).toBe(since)
  })
})
