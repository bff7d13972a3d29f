import { expect, it } from 'vitest'
import { addDays, isoDate } from '#core/calendar/dates.ts'
import { CATCH_UPS, OVERLAPS } from '#core/recurrence/schedule.ts'
import { chance } from '#core/test/chance.ts'
import type { SeriesWays } from '#contract/series.ts'
import { assemble } from '../../assembly.ts'
import { drained } from '../../engine/portions.ts'
import { Refusal } from '#core/refusal.ts'
import { lab, london, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { editTask } from '../tasks/service.ts'
import { audit } from './audit.ts'
import { decideDates } from './decide.ts'
import { archiveSeries, makeSeries, saveSeries, switchSeries } from './service.ts'
import { seriesSheet } from './sheet.ts'

/**
 * Whatever order ticks, restarts, pauses, edits, decisions and undos come in: each date of a series is
 * dealt with once, and the look of the night finds nothing wrong.
 */

const SCHEDULES = [
  { start: '2026-11-02', rule: 'FREQ=DAILY', roll: 'following' },
  { start: '2026-11-02', rule: 'FREQ=WEEKLY;BYDAY=TU,TH', roll: 'none' },
  { start: '2026-11-02T15:00', rule: 'FREQ=WEEKLY;BYDAY=SA,MO', roll: 'following' },
  { start: '2026-11-02', rule: { workday: 2, of: 'week' }, roll: 'none' },
  { start: '2026-11-02', rule: 'FREQ=DAILY;INTERVAL=3;COUNT=40', roll: 'preceding' },
  {
    kind: 'after-completion',
    start: '2026-11-24',
    wait: { after: 2, unit: 'working' },
    roll: 'none',
  },
] as const

type Chance = ReturnType<typeof chance>
const body = ({ pick, below }: Chance) => {
  const ways: SeriesWays = {
    overlap: pick(OVERLAPS),
    catchUp: pick(CATCH_UPS),
    each: below(2) === 0,
  }
  const makes = {
    ...{ kind: 'task', title: 'Run {date}', description: '', clientId: null, projectId: null },
    ...{ assignees: [], estimate: null, checklist: [] },
    period: { of: 'week', which: 'same' },
  }
  return { name: 'Run', leadDays: below(4), schedule: pick(SCHEDULES), ways, makes } as never
}

/** A firm that may be started again over the same data. */
function restarted(l: Lab): Lab {
  const { engine, runner } = assemble(l.db, l.clock)
  return { ...l, engine, runner }
}
const openTasks = (l: Lab) =>
  l.rows<{ id: number }>('select id from tasks where closedAt is null and archivedAt is null')

function act(l: Lab, id: number, dice: Chance, first: number): void {
  const { pick, below } = dice
  const { engine, imogen } = l
  const sheet = seriesSheet(engine, imogen, id)
  const dates = sheet.next.slice(0, 4).map(({ scheduled }) => ({ series: id, scheduled }))
  const past = sheet.made.slice(0, 3).map(({ scheduled }) => ({ series: id, scheduled }))
  const today = engine.firm.today()
  const about = () => [pick([...dates, ...past])].filter((date) => date !== undefined)
  const acts: (() => unknown)[] = [
    () => l.clock.set(l.clock.now() + below(5 * 24) * 3_600_000),
    () => l.runner.tick(),
    () => l.runner.runUntil(london(`${addDays(today, 1 + below(3))}T12:00`)),
    () => switchSeries(engine, imogen, id, below(3) > 0),
    () => archiveSeries(engine, imogen, id, below(3) === 0),
    () => saveSeries(engine, imogen, id, { body: body(dice), seen: null }),
    () => decideDates(engine, imogen, { dates: about(), deed: 'skip' }).whole(),
    () => decideDates(engine, imogen, { dates: about(), deed: 'make' }).whole(),
    () => decideDates(engine, imogen, { dates: about(), deed: 'back' }).whole(),
    () => {
      const to = addDays(isoDate(today), below(12))
      return decideDates(engine, imogen, { dates: about(), deed: 'move', to }).whole()
    },
    () => {
      const task = pick(openTasks(l))
      if (task) editTask(engine, imogen, task.id, { patch: { state: 'done' }, seen: null })
    },
    () => {
      if (l.latest() > first) undoChange(engine, imogen, l.latest()).whole()
    },
  ]
  try {
    pick(acts)!()
  } catch (error) {
    // What cannot be is refused; nothing else goes wrong.
    if (!(error instanceof Refusal)) throw error
  }
}

it.each(Array.from({ length: 60 }, (_, seed) => seed))('by chance %i', (seed) => {
  const dice = chance(7_000 + seed)
  let l = lab()
  const { id } = makeSeries(l.engine, l.imogen, body(dice)).result
  const first = l.latest()
  for (let step = 0; step < 40; step++) {
    act(l, id, dice, first)
    if (dice.below(8) === 0) l = restarted(l)
  }
  for (let i = 0; i < 3; i++) l.runner.tick()
  expect(drained(audit(l.engine)).wrong).toEqual([])
  // What was missed, or follows a completion, may come on the same date again.
  const twice = l.rows(
    `select occurrence, count(*) as n from tasks
      where seriesId = ? and parentId is null and state <> 'dropped' and exists
      (select 1 from occurrences o where o.taskId = tasks.id and o.follows = 0)
      group by occurrence having n > 1`,
    id,
  )
  expect(twice).toEqual([])
  expect(l.rows(`select 1 from runs where outcome = 'failed'`)).toEqual([])
})
