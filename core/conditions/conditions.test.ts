import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { calendar } from '../calendar/calendar.ts'
import { isoDate } from '../calendar/dates.ts'
import { taskField } from '../fields/catalogue.ts'
import type { TaskFacts } from '../fields/facts.ts'
import { compile, explain } from './compile.ts'
import type { Condition, Group, Test } from './condition.ts'
import type { Now } from './ask.ts'

const now: Now = {
  ...{ today: isoDate('2026-11-23'), zone: 'Europe/London', calendar: calendar(), me: 7 },
}
const task = (more: Partial<TaskFacts> = {}): TaskFacts => ({
  ...{ id: 1, title: 'Post takings', state: 'waiting', stateId: 3, stateName: 'Waiting' },
  ...{ stateColour: null, entered: null, stateDates: {}, priority: 'normal', parentId: null },
  ...{ subtasks: { done: 0, of: 0 }, checklist: [], files: 0, comments: 0, assignees: [] },
  ...{ client: null, project: null, phaseId: null, phaseName: null, series: null, tags: [] },
  ...{ start: null, due: null, dueTime: null, firstDue: null, postponed: 0, reviewedAt: null },
  ...{ late: false, daysLate: 0, estimate: null, rung: null, createdAt: 0, closedAt: null },
  ...{ archivedAt: null, fields: {}, values: {}, ...more },
})
const gold = { id: 1, name: 'Mossgate Clinic', short: 'Mossgate', tier: 'gold' } as const
const holds = (of: Condition, of_: Partial<TaskFacts> = {}, at = now) =>
  compile(of, taskField).holds(task(of_), at)
const all = (...of: Condition[]): Group => ({ match: 'all', of })
const any = (...of: Condition[]): Group => ({ match: 'any', of })
const none = (...of: Condition[]): Group => ({ match: 'none', of })

const NORMAL: Test = { field: 'priority', op: 'in', value: ['normal'] }
const URGENT: Test = { field: 'priority', op: 'in', value: ['urgent'] }

describe('groups', () => {
  // The definition: all, any or none of what is in them; an empty one holds.
  it.each<[Condition, boolean]>([
    [all(), true],
    [any(), true],
    [none(), true],
    [all(NORMAL), true],
    [all(NORMAL, URGENT), false],
    [any(NORMAL, URGENT), true],
    [any(URGENT, URGENT, URGENT, URGENT, NORMAL), true],
    [all(NORMAL, NORMAL, NORMAL, NORMAL, URGENT), false],
    [none(URGENT), true],
    [none(NORMAL, URGENT), false],
    [none(none(NORMAL)), true],
    [all(any(URGENT), none()), false],
  ])('%j', (of, held) => {
    expect(holds(of)).toBe(held)
    expect(explain(of, taskField).verdict(task(), now).holds).toBe(held)
  })
  it('of any shape are decided alike, however they are read', () => {
    const condition = fc.letrec<{ each: Condition }>((tie) => ({
      each: fc.oneof(
        { maxDepth: 4, withCrossShrink: true },
        fc.constantFrom<Condition>(NORMAL, URGENT),
        fc.record({
          match: fc.constantFrom('all', 'any', 'none'),
          of: fc.array(tie('each'), { maxLength: 6 }),
        }) as fc.Arbitrary<Condition>,
      ),
    })).each
    const byHand = (of: Condition): boolean => {
      if (!('match' in of)) return of === NORMAL
      const held = of.of.map(byHand)
      if (of.match === 'none') return !held.some(Boolean)
      return of.match === 'all' ? held.every(Boolean) : held.length === 0 || held.some(Boolean)
    }
    fc.assert(
      fc.property(condition, (of) => {
        const verdict = explain(of, taskField).verdict(task(), now)
        expect([holds(of), verdict.holds]).toEqual([byHand(of), byHand(of)])
        if (verdict.holds) expect(verdict.failing).toBeNull()
      }),
    )
  })
})

describe('tests', () => {
  it.each<[string, Test, Partial<TaskFacts>, boolean]>([
    ['words anywhere', { field: 'title', op: 'has', value: 'TAK' }, {}, true],
    ['words not', { field: 'title', op: 'has-not', value: 'tak' }, {}, false],
    ['words whole', { field: 'title', op: 'is', value: 'post TAKINGS' }, {}, true],
    ['no word yet', { field: 'title', op: 'has', value: '' }, {}, true],
    ['a date', { field: 'due', op: 'within', value: '2026-11-27' }, { due: '2026-11-27' }, true],
    [
      'in five working days',
      { field: 'due', op: 'within', value: { days: 5, working: true } },
      { due: '2026-11-30' },
      true,
    ],
    [
      'last week',
      { field: 'due', op: 'within', value: { period: 'week', shift: -1 } },
      { due: '2026-11-22' },
      true,
    ],
    ['before no date', { field: 'due', op: 'before', value: { days: 9 } }, {}, false],
    [
      'a moment, by its local day',
      { field: 'closed', op: 'within', value: '2026-07-01' },
      // 23:30 UTC is half past midnight in London's summer.
      { closedAt: Date.parse('2026-06-30T23:30:00Z') },
      true,
    ],
    ['more than', { field: 'estimate', op: 'above', value: 60 }, { estimate: 60 }, false],
    [
      'through a client',
      { field: 'client.tier', op: 'in', value: ['gold'] },
      { client: gold },
      true,
    ],
    ['through nobody', { field: 'client.tier', op: 'empty' }, {}, true],
    [
      'through several people',
      { field: 'assignee.access', op: 'in', value: ['contractor'] },
      {
        assignees: [gold, { id: 2, name: 'C', access: 'contractor' }].map((p) => ({
          ...p,
        })) as never,
      },
      true,
    ],
    [
      'on whoever asks',
      { field: 'assignee', op: 'in', value: ['me'] },
      { assignees: [{ id: 7, name: 'I' }] },
      true,
    ],
    [
      'one of many',
      { field: 'assignee', op: 'in', value: [1, 2, 3, 4, 5] },
      { assignees: [{ id: 5, name: 'P' }] },
      true,
    ],
  ])('%s', (_, test, of, held) => expect(holds(test, of)).toBe(held))
  it('nobody is “me” where nobody asks', () =>
    expect(
      holds(
        { field: 'assignee', op: 'in', value: ['me'] },
        { assignees: [{ id: 7, name: 'I' }] },
        { ...now, me: null },
      ),
    ).toBe(false))
  it('dates relative to now follow the day, in a predicate that was made once', () => {
    const { holds } = compile({ field: 'due', op: 'before', value: { days: 0 } }, taskField)
    const due = task({ due: '2026-11-23' })
    expect([holds(due, now), holds(due, { ...now, today: isoDate('2026-11-24') })]).toEqual([
      false,
      true,
    ])
  })
})

describe('reasons', () => {
  const of = all(
    { field: 'kind', op: 'not-in', value: ['in-review'] },
    any(URGENT, { field: 'client.tier', op: 'in', value: ['gold'] }),
  )
  it('are every test with what it saw, in order', () => {
    const { verdict } = explain(of, taskField)
    expect(
      verdict(task({ client: gold }), now).reasons.map((r) => [r.field.name, r.seen, r.held]),
    ).toEqual([
      ['kind', 'waiting', true],
      ['priority', 'normal', false],
      ['client.tier', 'gold', true],
    ])
  })
  it('name the first test that decided', () => {
    const { verdict } = explain(of, taskField)
    expect(verdict(task(), now).failing).toMatchObject({ seen: 'normal', held: false })
    expect(verdict(task({ state: 'in-review' }), now).failing).toMatchObject({ seen: 'in-review' })
    expect(explain(none(URGENT, NORMAL), taskField).verdict(task(), now).failing).toMatchObject({
      ...{ seen: 'normal', held: true },
    })
    expect(verdict(task({ client: gold }), now).failing).toBeNull()
  })
})

describe('what cannot be asked', () => {
  it.each<[Test, string]>([
    [{ field: 'nope', op: 'is', value: 1 }, 'This field is not there any more'],
    [{ field: 'project.lead.name.x', op: 'is', value: 'x' }, 'This field is not there any more'],
    [{ field: '__proto__', op: 'is', value: 'x' }, 'This field is not there any more'],
    [{ field: 'due', op: 'has', value: 'x' }, '“Due” cannot be asked like that.'],
    [{ field: 'due', op: 'before', value: true }, '“Due” needs a date.'],
    [{ field: 'due', op: 'before', value: '2026-02-30' }, '2026-02-30'],
    [{ field: 'title', op: 'has', value: 7 }, '“Title” needs some words.'],
    [{ field: 'estimate', op: 'at-least', value: NaN }, '“Estimate” needs a number.'],
    [{ field: 'open', op: 'is' }, '“Open” needs yes or no.'],
    [{ field: 'priority', op: 'in', value: { days: 1 } }, '“Priority” needs a list of values.'],
  ])('%j is left out and named where it stands', (test, detail) => {
    const { holds, faults } = compile(any(URGENT, all(test, NORMAL)), taskField)
    expect(faults).toEqual([{ place: '1.0', detail: expect.stringContaining(detail) as string }])
    expect(holds(task(), now)).toBe(true)
  })
})
