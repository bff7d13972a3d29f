import { addDays, isoDate } from '#core/calendar/dates.ts'
import type { RuleBody, RuleDefinition, Trigger } from '#contract/rules.ts'
import { rulePast } from '#server/areas/rules/past.ts'
import { insertRule } from '#server/areas/rules/service.ts'
import { editTask } from '#server/areas/tasks/service.ts'
import { assemble } from '#server/assembly.ts'
import type { Database } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { entriesAfter } from '#server/engine/queries.ts'
import { againstBare, ENGINE, house, NOW, race, report, type House } from './house.ts'

/** What rules cost: those that are asleep, those that run, and one asked of the last 30 days. */

const DAY = 86_400_000
const viewer = { id: 1, name: 'P0', access: 'manager', clientId: null } as const
const ALL = { match: 'all', of: [] } as const
const changed = (field: string, ...to: (string | number)[]): Trigger => ({
  ...{ kind: 'changed', field, to },
})
const rule = (trigger: Trigger, more: Partial<RuleDefinition> = {}): RuleDefinition => ({
  ...{ trigger, conditions: ALL, actions: [{ kind: 'comment', text: 'Seen' }] },
  ...more,
})
/** Puts rules up that are on. */
function put({ engine }: House, definitions: readonly RuleDefinition[]): void {
  engine.journal.change(ENGINE, (write) => {
    for (const [i, definition] of definitions.entries())
      insertRule(engine, write, { name: `Rule ${i}`, ownerId: 1, definition }, true)
  })
}
const tasksIn = ({ engine }: House, count: number, due: (i: number) => string): number[] =>
  engine.journal.change(ENGINE, (write) =>
    Array.from({ length: count }, (_, i) =>
      write.insert('tasks', {
        ...{ title: `Task ${i}`, due: isoDate(due(i)), stateId: 1, position: i },
        createdAt: write.at,
      }),
    ),
  ).result
const dayAfter = (days: number): string => addDays(isoDate('2026-11-23'), days)

/** Rules of many kinds that a change of a priority concerns: so many match, the others ask for more. */
const MATCHING = 5
const matching = Array.from({ length: MATCHING }, () => rule(changed('priority')))
const asleep = Array.from({ length: 195 }, (_, i): RuleDefinition => {
  if (i % 3 === 0) return rule(changed('priority', 'low'))
  if (i % 3 === 1) return rule(changed(['title', 'due', 'kind', 'tag'][i % 4]!))
  // Woken, and left: what it asks does not hold.
  const closed = { field: 'open', op: 'is', value: false } as const
  return rule(changed('priority'), { conditions: { match: 'all', of: [closed] } })
})

{
  const [few, many, none, without] = [house(), house(), house(), house()]
  put(few, matching)
  put(many, [...matching, ...asleep])
  put(
    none,
    Array.from({ length: 200 }, (_, i) => rule(changed(['due', 'kind', 'tag'][i % 3]!))),
  )
  const ids = [few, many, none, without].map((h) => tasksIn(h, 400, () => dayAfter(20)))
  for (const h of [few, many, none, without]) h.runner.tick()
  const edit = (h: House, own: readonly number[]) => (i: number) => {
    const patch = { priority: i < own.length ? ('high' as const) : ('urgent' as const) }
    editTask(h.engine, viewer, own[i % own.length]!, { patch, seen: null })
    h.runner.tick()
  }
  const [five, all] = await race(300, edit(few, ids[0]!), edit(many, ids[1]!))
  report(
    'a change under 200 rules, 5 of which match',
    all / five,
    2,
    `${all.toFixed(2)} ms; under those 5 alone ${five.toFixed(2)} ms`,
  )
  const [idle, bare] = await race(300, edit(none, ids[2]!), edit(without, ids[3]!))
  report(
    'a change under 200 rules, none of which matches',
    idle / bare,
    1.2,
    `${idle.toFixed(2)} ms; without rules ${bare.toFixed(2)} ms`,
  )
  for (const h of [few, many, none, without]) h.end()
}

{
  const RUNGS = 1_000
  const h = house()
  const ladder: RuleDefinition = {
    ...{ trigger: { kind: 'late' }, conditions: ALL },
    rungs: [
      {
        ...{ key: 'one', delay: { days: 1, unit: 'working', time: '09:00' } },
        actions: [
          { kind: 'tell', who: { is: 'person', id: 1 }, mail: true, text: '{task} is late' },
          { kind: 'set-priority', to: 'urgent' },
        ],
      },
    ],
  }
  tasksIn(h, RUNGS, () => dayAfter(0))
  put(h, [ladder])
  h.runner.tick()
  const at = NOW + DAY
  const climb = (db: Database) => () => assemble(db, handClock(NOW)).runner.runUntil(at)
  const { whole, own, writes, first } = againstBare(h.db, climb)
  const ran = first.sqlite.prepare("select count(*) from runs where outcome = 'done'").pluck().get()
  report(
    `${String(ran)} rungs due in one minute, against their ${writes} writes bare`,
    ...([whole / own, 5] as const),
    `${whole.toFixed(0)} ms; bare ${own.toFixed(0)} ms`,
  )
  h.end()
}

{
  const ENTRIES = 100_000
  const h = house()
  const ids = tasksIn(h, 5_000, (i) => dayAfter((i % 60) + 20))
  const FIELDS = ['title', 'estimate', 'priority', 'estimate', 'title'] as const
  const began = NOW
  for (let i = 0; i < ENTRIES; i++) {
    // Days of 3,400 changes each, one after the other.
    h.clock.set(began + Math.floor((i / ENTRIES) * 29 * DAY))
    const field = FIELDS[i % FIELDS.length]!
    const value =
      field === 'priority' ? (i % 2 ? 'high' : 'low') : field === 'title' ? `Title ${i}` : i
    h.engine.journal.change(ENGINE, (write) => {
      write.update('tasks', ids[(i * 7919 + Math.floor(i / 7)) % ids.length]!, { [field]: value })
    })
  }
  h.clock.set(began + 29 * DAY + 60_000)
  const body = (definition: RuleDefinition): RuleBody => ({ name: 'R', ownerId: 1, definition })
  const high = body(
    rule(changed('priority', 'high'), {
      conditions: { match: 'all', of: [{ field: 'estimate', op: 'at-least', value: 60 }] },
    }),
  )
  const late = body({
    ...{ trigger: { kind: 'late' }, conditions: ALL },
    rungs: [1, 3].map((days) => ({
      ...{ key: `d${days}`, delay: { days, unit: 'working', time: '09:00' } },
      actions: [{ kind: 'comment', text: 'Late' }],
    })),
  })
  const read = () => {
    let [count, after] = [0, 0]
    for (;;) {
      const rows = entriesAfter.all(h.engine.reader, { after })
      if (rows.length === 0) return count
      count += rows.length
      after = rows.at(-1)!.id
    }
  }
  for (const [name, asked] of [
    ['on a change', high],
    ['on lateness', late],
  ] as const) {
    let runs = 0
    const [past, entries] = await race(
      5,
      () => void (runs = rulePast(h.engine, viewer, asked).runs),
      read,
    )
    report(
      `had a rule ${name} run over 30 days of ${ENTRIES} entries, against reading them`,
      ...[past / entries, 10],
      `${past.toFixed(0)} ms, ${runs} runs; reading ${entries.toFixed(0)} ms`,
    )
  }
  h.end()
}

{
  const TASKS = 100_000
  const h = house()
  tasksIn(h, TASKS, (i) => dayAfter((i % 200) + 1))
  h.runner.tick()
  put(h, [
    rule({ kind: 'dated', field: 'due', days: 2, unit: 'working', side: 'before', time: '09:00' }),
  ])
  let [longest, total, steps] = [0, 0, 0]
  const going = h.runner.steps()
  for (;;) {
    const began = performance.now()
    const step = going.next()
    const took = performance.now() - began
    ;[longest, total, steps] = [Math.max(longest, took), total + took, steps + 1]
    if (step.done) break
  }
  const alarms = h.db.sqlite
    .prepare("select count(*) from alarms where kind = 'dated'")
    .pluck()
    .get()
  report(
    `switching a date rule on over ${TASKS} tasks: the longest step`,
    ...[longest, 100],
    `${String(alarms)} alarms in ${steps} steps, ${total.toFixed(0)} ms in all`,
    ' ms',
  )
  h.end()
}
