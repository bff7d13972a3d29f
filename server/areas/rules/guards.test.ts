import fc from 'fast-check'
import { expect, it } from 'vitest'
import type { Action, RuleDefinition } from '#contract/rules.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { insertRule } from './service.ts'

/**
 * Rules that set each other off, and themselves, by chance: each tags a task or sets its priority when
 * another did. Whatever they are, chains end, no rule runs wild, and all go in one order.
 */

const PRIORITIES = ['low', 'normal', 'high', 'urgent'] as const
const DEEPEST = 8
const MOST = 20
const HOUR = 3_600_000

const priority = fc.constantFrom(...PRIORITIES)
const action: fc.Arbitrary<Action> = fc.oneof(
  { weight: 3, arbitrary: priority.map((to): Action => ({ kind: 'set-priority', to })) },
  fc.constant<Action>({ kind: 'move-due', days: 1, unit: 'calendar', from: 'due' }),
  fc.constant<Action>({ kind: 'comment', text: 'Seen' }),
)
const drawn = fc.record({
  trigger: fc.oneof(
    priority.map((to) => ({ kind: 'changed' as const, field: 'priority', to: [to] })),
    fc.constant({ kind: 'changed' as const, field: 'due', to: [] }),
    fc.constant({ kind: 'changed' as const, field: 'priority', to: [] }),
    fc.constant({ kind: 'commented' as const }),
  ),
  ofClient: fc.boolean(),
  actions: fc.array(action, { minLength: 1, maxLength: 2 }),
})
const edits = fc.array(
  fc.record({
    to: priority,
    task: fc.nat(1),
    minutes: fc.constantFrom(0, 0, 5, 50),
    /** How much time the machine gives after it. */
    ticks: fc.nat(2),
  }),
  { minLength: 1, maxLength: 12 },
)

/** Lets it all happen; `often` looks after every edit, else only in the end. */
function play(
  rules: readonly (typeof drawn extends fc.Arbitrary<infer T> ? T : never)[],
  list: readonly {
    to: (typeof PRIORITIES)[number]
    task: number
    minutes: number
    ticks: number
  }[],
  often: (ticks: number) => number,
): Lab {
  const l = lab()
  l.engine.journal.change(ENGINE, (write) => {
    for (const [i, { trigger, ofClient, actions }] of rules.entries()) {
      const definition: RuleDefinition = {
        ...{ trigger, actions, conditions: { match: 'all', of: [] } },
        ...(ofClient && { scope: { of: 'client', id: l.client } }),
      }
      insertRule(l.engine, write, { name: `R${i}`, ownerId: l.imogen.id, definition }, true)
    }
  })
  const tasks = [0, 1].map(
    (i) =>
      makeTask(l.engine, l.tobias, {
        ...{ title: `T${i}`, due: '2027-01-04' },
        ...(i === 0 && { clientId: l.client }),
      }).result.id,
  )
  l.runner.tick()
  for (const { to, task, minutes, ticks } of list) {
    editTask(l.engine, l.tobias, tasks[task]!, { patch: { priority: to }, seen: null })
    for (let i = often(ticks); i > 0; i--) l.runner.tick()
    l.clock.set(l.clock.now() + minutes * 60_000)
  }
  // However deep: what is left comes to an end.
  for (let i = 0; i < 50 && l.runner.tick(); i++);
  return l
}
interface Ran {
  readonly ruleId: number
  readonly itemId: number
  readonly at: number
  readonly outcome: string
  readonly causeId: number
  readonly client: number
}
const ranIn = (l: Lab) =>
  l.rows<Ran>(`select r.ruleId, r.itemId, r.at, r.outcome, r.causeId,
    u.definition ->> '$.scope.of' is not null as client
    from runs r join rules u on u.id = r.ruleId where r.causeId is not null order by r.id`)

it('chains of rules end, none runs wild, wider scopes and lower numbers go first', () => {
  let [stopped, deep] = [0, 0]
  fc.assert(
    fc.property(fc.array(drawn, { minLength: 1, maxLength: 5 }), edits, (rules, list) => {
      const l = play(rules, list, () => 1)
      const runs = ranIn(l)
      const [{ depth }] = l.rows<{ depth: number }>('select max(depth) as depth from journal') as [
        { depth: number },
      ]
      expect(depth).toBeLessThanOrEqual(DEEPEST)
      if (depth === DEEPEST) deep++
      const done = runs.filter(({ outcome }) => outcome === 'done')
      for (const { ruleId, itemId, at } of done) {
        const within = done.filter(
          (run) =>
            run.ruleId === ruleId && run.itemId === itemId && run.at <= at && run.at > at - HOUR,
        )
        expect(within.length).toBeLessThanOrEqual(MOST)
      }
      stopped += runs.length - done.length
      // Of one event, in the order of scopes, then of numbers.
      const order = ({ client, ruleId }: Ran) => client * 1_000 + ruleId
      for (const [i, run] of done.entries())
        if (done[i - 1]?.causeId === run.causeId)
          expect(order(done[i - 1]!)).toBeLessThan(order(run))
      l.db.close()
    }),
    { numRuns: 150, seed: 13 },
  )
  // That the guards were really come to.
  expect(deep).toBeGreaterThan(20)
  expect(stopped).toBeGreaterThan(20)
})

it('what rules do is the same however often they are given time', () => {
  const done = (l: Lab) =>
    ranIn(l)
      .filter(({ outcome }) => outcome === 'done')
      .map(({ ruleId, itemId }) => `${ruleId} on ${itemId}`)
  const left = (l: Lab) => l.rows('select id, priority, due, version from tasks order by id')
  const again = (l: Lab) => {
    const all = { done: done(l), left: left(l) }
    l.db.close()
    return all
  }
  fc.assert(
    fc.property(fc.array(drawn, { minLength: 1, maxLength: 4 }), edits, (rules, list) => {
      const once = again(play(rules, list, () => 1))
      expect(again(play(rules, list, () => 1))).toEqual(once)
      expect(again(play(rules, list, (ticks) => 1 + ticks))).toEqual(once)
    }),
    { numRuns: 60, seed: 13 },
  )
})
