import type { Group } from '#core/conditions/condition.ts'
import { compile, explain } from '#core/conditions/compile.ts'
import type { Now } from '#core/conditions/ask.ts'
import { taskField } from '#core/fields/catalogue.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { calendar } from '#core/calendar/calendar.ts'
import { addDays, isoDate } from '#core/calendar/dates.ts'
import { eventsOf } from '#core/events/events.ts'
import { PRIORITIES, STATES, TIERS } from '#core/words.ts'
import { entriesAfter, type EntryRow } from '#server/engine/queries.ts'
import { byChange } from '#server/engine/journal.ts'
import { entered } from '#server/engine/runner.ts'
import type { Writer } from '#server/engine/journal.ts'
import { ENGINE, house, NOW, race, report } from './house.ts'

// What conditions cost against the same test written by hand, and events against reading their rows.

const today = isoDate('2026-11-23')
const item = (i: number): TaskFacts => ({
  ...{ id: i, title: `Task ${i}`, stateId: 1, stateName: 'Not started', stateColour: null },
  ...{ state: STATES[i % 6]!, entered: null, stateDates: {}, priority: PRIORITIES[i % 4]! },
  ...{ parentId: null, subtasks: { done: 0, of: 0 }, checklist: [], files: 0, comments: 0 },
  assignees: i % 3 ? [{ id: 1 + (i % 7), name: 'P' }] : [],
  client: i % 5 ? { id: 1 + (i % 9), name: 'C', short: 'C', tier: TIERS[i % 3]! } : null,
  ...{ project: null, phaseId: null, phaseName: null, series: null, tags: [], start: null },
  due: i % 4 ? addDays(today, (i % 40) - 20) : null,
  ...{ dueTime: null, firstDue: null, postponed: 0, reviewedAt: null, late: i % 4 === 1 },
  ...{ daysLate: 0, estimate: i % 6 ? (i % 12) * 10 : null, rung: null, createdAt: NOW },
  ...{ closedAt: i % 11 ? null : NOW, archivedAt: null, fields: {}, values: {} },
})
// As they come out of a question: plain objects of one shape.
const items = Array.from(
  { length: 5_000 },
  (_, i) => JSON.parse(JSON.stringify(item(i))) as TaskFacts,
)
const now: Now = { today, zone: 'Europe/London', calendar: calendar(), me: 1 }

const CONDITION: Group = {
  match: 'all',
  of: [
    { field: 'kind', op: 'not-in', value: ['done', 'dropped'] },
    {
      match: 'any',
      of: [
        { field: 'priority', op: 'in', value: ['urgent'] },
        { field: 'client.tier', op: 'in', value: ['gold', 'silver'] },
        { field: 'estimate', op: 'at-least', value: 60 },
      ],
    },
    { field: 'due', op: 'before', value: { days: 5, working: true } },
    { match: 'none', of: [{ field: 'assignee', op: 'in', value: [3] }] },
  ],
}
/** The same, as somebody who knows the shape of a task would write it. */
const until = '2026-11-30'
const byHand = (task: TaskFacts): boolean =>
  task.state !== 'done' &&
  task.state !== 'dropped' &&
  (task.priority === 'urgent' ||
    task.client?.tier === 'gold' ||
    task.client?.tier === 'silver' ||
    (task.estimate !== null && task.estimate >= 60)) &&
  task.due !== null &&
  task.due < until &&
  !task.assignees.some(({ id }) => id === 3)

{
  const { holds } = compile(CONDITION, taskField)
  const { verdict } = explain(CONDITION, taskField)
  const same = items.filter(byHand).length
  if (items.filter((each) => holds(each, now)).length !== same)
    throw new Error('The condition and the test by hand do not find the same.')
  let kept = 0
  const every = (test: (task: TaskFacts) => boolean) => () => {
    for (let n = 0; n < 20; n++) for (const each of items) if (test(each)) kept++
  }
  const ns = (ms: number) => `${((ms / (20 * items.length)) * 1e6).toFixed(0)} ns`
  const against = async (name: string, most: number, test: (task: TaskFacts) => boolean) => {
    const [hand, own] = await race(60, every(byHand), every(test))
    report(
      `${name}, against the same test by hand`,
      own / hand,
      most,
      `${ns(own)} against ${ns(hand)}`,
    )
  }
  await against('a condition compiled', 3, (each) => holds(each, now))
  await against('a condition explained', 10, (each) => verdict(each, now).holds)
  if (kept === 0) throw new Error('Nothing was found.')
}

{
  const h = house()
  const entries = () => Number(h.db.sqlite.prepare('select count(*) from journal').pluck().get())
  while (entries() < 100_000)
    h.engine.journal.change(ENGINE, (write: Writer) => {
      for (let i = 0; i < 20; i++) {
        const taskId = write.insert('tasks', { title: `T${i}`, due: today, createdAt: NOW })
        write.insert('taskAssignees', { taskId, personId: h.people[i % 10]! })
        for (const priority of ['high', 'urgent', 'low'] as const)
          write.update('tasks', taskId, { priority, version: 2 })
      }
    })
  const read = (): EntryRow[] => {
    const all: EntryRow[] = []
    for (let after = 0; ;) {
      const rows = entriesAfter.all(h.engine.reader, { after })
      if (rows.length === 0) return all
      for (const row of rows) all.push(row)
      after = rows.at(-1)!.id
    }
  }
  const rows = read()
  let told = 0
  const [reading, both] = await race(
    12,
    () => void (told += read().length),
    () => {
      for (const change of byChange(read())) told += eventsOf(change.map(entered)).length
    },
  )
  report(
    `a journal of ${rows.length.toLocaleString('en-GB')} entries as events, against reading its rows`,
    both / reading,
    3,
    `${both.toFixed(0)} ms against ${reading.toFixed(0)} ms`,
  )
  if (told === 0) throw new Error('Nothing was told.')
  h.end()
}
