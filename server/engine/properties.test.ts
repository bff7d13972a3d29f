import { addItem, editItem } from '../areas/tasks/checklist.ts'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { insertRule } from '../areas/rules/service.ts'
import { insertSeries } from '../areas/series/service.ts'
import { editTask, taskSheet } from '../areas/tasks/service.ts'
import { insertTask } from '../areas/tasks/write.ts'
import { undoChange } from '../areas/journal/undo.ts'
import type { TaskPatch } from '#contract/tasks.ts'
import { ENGINE, lab, LADDER, london } from '../test/lab.ts'
import { assemble } from '../assembly.ts'

const START = london('2026-11-23T08:00')
const END = london('2026-12-08T20:00')

/**
 * What the clockwork did, whatever the order of ids. Ladders are compared for the tasks that stood
 * from the start: one made late, in catching up, rightly begins on the highest rung that is already
 * behind it.
 */
function outcome(db: ReturnType<typeof lab>['db']) {
  const LATE = "itemKind = 'task' and itemId in (select id from tasks where title like 'Late%')"
  return {
    occurrences: db.sqlite
      .prepare('select seriesId, scheduled from occurrences order by 1, 2')
      .all(),
    tasks: db.sqlite
      .prepare(
        'select seriesId, occurrence, count(*) as n from tasks where seriesId is not null group by 1, 2',
      )
      .all(),
    runs: db.sqlite
      .prepare(
        `select key from runs where key like 'series:%' or (key like 'ladder:%' and ${LATE}) order by key`,
      )
      .all(),
    made: db.sqlite
      .prepare(
        "select title, count(*) as n from tasks where title like 'Call about Late%' group by title",
      )
      .all(),
    told: db.sqlite
      .prepare(
        `select body, count(*) as n from notices where kind = 'escalation' and ${LATE} group by itemId`,
      )
      .all().length,
  }
}

function setUp() {
  const l = lab()
  l.engine.journal.change(ENGINE, (write) => {
    insertRule(
      l.engine,
      write,
      {
        name: 'Late',
        ownerId: l.imogen.id,
        definition: LADDER({ team: l.team, boss: l.imogen.id }),
      },
      true,
    )
    for (const rule of ['FREQ=DAILY;COUNT=6', 'FREQ=WEEKLY;BYDAY=TU,TH'])
      insertSeries(
        l.engine,
        write,
        {
          name: rule,
          leadDays: 1,
          schedule: { start: '2026-11-24' as never, rule, roll: 'following' },
          makes: {
            kind: 'task',
            title: 'S',
            description: '',
            clientId: null,
            projectId: null,
            assignees: [],
            estimate: null,
            checklist: [],
            period: { of: 'week', which: 'same' },
          },
        },
        l.imogen.id,
      )
    for (const due of ['2026-11-20', '2026-11-23', '2026-11-27'])
      insertTask(l.engine, write, { title: `Late ${due}`, due, assignees: [l.tobias.id] })
  })
  return l
}

it('an occurrence is made once, a rung fires once, under any interleaving of ticks and restarts', () => {
  const calm = setUp()
  calm.until('2026-12-08T20:00')
  const wanted = outcome(calm.db)
  expect(wanted.occurrences.length).toBeGreaterThan(8)
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          at: fc.integer({ min: START, max: END }),
          restart: fc.boolean(),
          ticks: fc.integer({ min: 1, max: 3 }),
        }),
        { maxLength: 12 },
      ),
      (steps) => {
        const l = setUp()
        let runner = l.runner
        for (const { at, restart, ticks } of [...steps].sort((a, b) => a.at - b.at)) {
          l.clock.set(at)
          if (restart) runner = assemble(l.db, l.clock).runner
          for (let i = 0; i < ticks; i++) runner.tick()
        }
        l.clock.set(END)
        runner.tick()
        expect(outcome(l.db)).toEqual(wanted)
      },
    ),
    { numRuns: 25 },
  )
})

it('undo restores every row of any edit', () => {
  const l = lab()
  const id = l.engine.journal.change(ENGINE, (write) =>
    insertTask(l.engine, write, {
      title: 'T',
      due: '2026-12-01',
      dueTime: '10:00',
      estimate: 30,
      assignees: [l.tobias.id],
      checklist: ['a', 'b'],
    }),
  ).result
  const rows = () => [
    l.rows(
      'select title, description, state, priority, start, due, dueTime, estimate, ' +
        'closedAt, rung from tasks where id = ?',
      id,
    ),
    l.rows('select personId from taskAssignees where taskId = ? order by personId', id),
    l.rows('select id, title, done, position from checklistItems where taskId = ? order by id', id),
  ]
  const patches: fc.Arbitrary<TaskPatch> = fc.record(
    {
      title: fc.constantFrom('A', 'B'),
      state: fc.constantFrom('under-way' as const, 'done' as const, 'dropped' as const),
      priority: fc.constantFrom('low' as const, 'urgent' as const),
      due: fc.constantFrom('2026-12-03', null),
      estimate: fc.constantFrom(10, null),
      assignees: fc.subarray([l.tobias.id, l.devika.id, l.imogen.id]),
    },
    { requiredKeys: [] },
  )
  fc.assert(
    fc.property(patches, (patch) => {
      fc.pre(Object.keys(patch).length > 0)
      const before = rows()
      const version = taskSheet(l.engine, l.imogen, id).version
      const last = l.latest()
      editTask(l.engine, l.imogen, id, { patch: patch, seen: version })
      if (l.latest() > last) undoChange(l.engine, l.imogen, l.latest()).whole()
      expect(rows()).toEqual(before)
    }),
    { numRuns: 60 },
  )
  addItem(l.engine, l.imogen, id, 'c')
  const before = rows()
  const item = taskSheet(l.engine, l.imogen, id).checklist[2]!
  editItem(l.engine, l.imogen, { taskId: id, id: item.id }, { done: true })
  undoChange(l.engine, l.imogen, l.latest()).whole()
  expect(rows()).toEqual(before)
})
