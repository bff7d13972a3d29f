import { describe, expect, it } from 'vitest'
import type { SeriesWays } from '#contract/series.ts'
import { lab, london, type Lab } from '../../test/lab.ts'
import { editTask } from '../tasks/service.ts'
import { undoChange } from '../journal/undo.ts'
import { audit, nightlyAudit, seriesAudits } from './audit.ts'
import { drained } from '../../engine/portions.ts'
import { decideDates } from './decide.ts'
import { moveMade, movedDates } from './moved.ts'
import { makeSeries, saveSeries, switchSeries } from './service.ts'
import { seriesSheet } from './sheet.ts'

/** The meanings of engine.md, “Recurrence”; dates counted by hand on the calendar of the lab. */

const MAKES = {
  ...{ kind: 'task', title: 'Pay {date: d MMM}', description: '', clientId: null, projectId: null },
  ...{ assignees: [], estimate: null, checklist: [] },
  period: { of: 'month', which: 'same' },
} as const
const WEDNESDAYS = {
  start: '2026-11-25',
  rule: 'FREQ=WEEKLY;BYDAY=WE',
  roll: 'following' as const,
}
const body = (ways: SeriesWays = {}, schedule: object = WEDNESDAYS, leadDays = 0) =>
  ({ name: 'Run', leadDays, schedule, ways, makes: MAKES }) as never
const series = (l: Lab, ways?: SeriesWays, schedule?: object, leadDays?: number) =>
  makeSeries(l.engine, l.imogen, body(ways, schedule, leadDays)).result.id
const states = (l: Lab) =>
  l.rows<{ scheduled: string; state: string }>(
    'select scheduled, state from occurrences order by scheduled',
  )
const said = (l: Lab) => states(l).map(({ scheduled, state }) => `${scheduled} ${state}`)
const tasks = (l: Lab) =>
  l.rows<{ id: number; title: string; due: string; state: string; version: number }>(
    'select id, title, due, state, version from tasks order by id',
  )
const finish = (l: Lab, nth: number) => {
  const { id } = tasks(l)[nth]!
  return editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
}
const sound = (l: Lab) => expect(drained(audit(l.engine)).wrong).toEqual([])

describe('what becomes of the next one while the one before is open', () => {
  it('it is made anyway, where nothing else is said', () => {
    const l = lab()
    series(l)
    l.until('2026-12-02T12:00')
    expect(tasks(l).map(({ title }) => title)).toEqual(['Pay 25 Nov', 'Pay 2 Dec'])
    sound(l)
  })
  it('it is held until that is closed, and made at once then; one behind the other', () => {
    const l = lab()
    const id = series(l, { overlap: 'hold' })
    l.until('2026-12-09T12:00')
    expect(said(l)).toEqual(['2026-11-25 made', '2026-12-02 held', '2026-12-09 held'])
    expect(tasks(l)).toHaveLength(1)
    finish(l, 0)
    l.runner.tick()
    expect(said(l)).toEqual(['2026-11-25 made', '2026-12-02 made', '2026-12-09 held'])
    expect(tasks(l).map(({ title }) => title)).toEqual(['Pay 25 Nov', 'Pay 2 Dec'])
    finish(l, 1)
    l.runner.tick()
    expect(tasks(l)).toHaveLength(3)
    expect(seriesSheet(l.engine, l.imogen, id).made.map(({ went }) => went)).toEqual([
      'under-way',
      'late',
      'late',
    ])
    sound(l)
  })
  it('the one before is dropped as missed, and it is made', () => {
    const l = lab()
    series(l, { overlap: 'close-as-missed' })
    l.until('2026-12-02T12:00')
    expect(said(l)).toEqual(['2026-11-25 missed', '2026-12-02 made'])
    expect(tasks(l).map(({ state }) => state)).toEqual(['dropped', 'not-started'])
    sound(l)
  })
  it('the one before is led on to its date, instead of another', () => {
    const l = lab()
    series(l, { overlap: 'move-forward' })
    l.until('2026-12-09T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-12-09'])
    finish(l, 0)
    l.until('2026-12-16T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-12-09', '2026-12-16'])
    sound(l)
  })
})

describe('what is made up for once nothing ran for a while', () => {
  it.each([
    ['each', ['2026-11-25 made', '2026-12-02 made', '2026-12-09 made']],
    ['latest', ['2026-11-25 missed', '2026-12-02 missed', '2026-12-09 made']],
    ['none', ['2026-11-25 missed', '2026-12-02 missed', '2026-12-09 missed']],
  ] as const)('%s of them', (catchUp, found) => {
    const l = lab()
    series(l, { catchUp })
    l.clock.set(london('2026-12-10T12:00'))
    for (let i = 0; i < 3; i++) l.runner.tick()
    expect(said(l)).toEqual(found)
    l.until('2026-12-16T12:00')
    expect(said(l).at(-1)).toBe('2026-12-16 made')
    sound(l)
  })
  it('a clock set forward by a day makes nothing twice, and one set back neither', () => {
    const l = lab()
    series(l, {}, { start: '2026-11-24', rule: 'FREQ=DAILY', roll: 'none' })
    l.until('2026-11-25T12:00')
    l.clock.set(london('2026-11-26T12:00'))
    l.runner.tick()
    l.clock.set(london('2026-11-25T12:00'))
    l.runner.tick()
    l.until('2026-11-27T12:00')
    expect(tasks(l).map(({ due }) => due.slice(8))).toEqual(['24', '25', '26', '27'])
    sound(l)
  })
})

describe('a series after completion', () => {
  const AFTER = {
    kind: 'after-completion',
    start: '2026-11-25',
    wait: { after: 28, unit: 'calendar' },
    roll: 'following',
  }
  it('has its next one so long after the last was closed, rolled, and made once', () => {
    const l = lab()
    const id = series(l, {}, AFTER, 2)
    l.until('2026-11-30T09:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25'])
    expect(seriesSheet(l.engine, l.imogen, id)).toMatchObject({ next: [], ended: false })
    const { change } = finish(l, 0)
    // 30 November and 28 days is 28 December, a bank holiday; the day after is worked.
    expect(seriesSheet(l.engine, l.imogen, id).next).toMatchObject([
      { scheduled: '2026-12-28', date: '2026-12-29', why: 'Mon 28 Dec is Bank holiday' },
    ])
    // Opened again and closed a day later, it is counted from that day.
    undoChange(l.engine, l.imogen, change!).whole()
    expect(seriesSheet(l.engine, l.imogen, id).next).toEqual([])
    l.until('2026-12-01T09:00')
    finish(l, 0)
    l.until('2026-12-29T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-29'])
    finish(l, 1)
    finish(l, 0)
    l.until('2027-01-25T12:00')
    expect(tasks(l)).toHaveLength(3)
    sound(l)
  })
  it('ends after so many', () => {
    const l = lab()
    const wait = { after: 1, unit: 'working' }
    const id = series(l, {}, { ...AFTER, wait, count: 2 })
    l.until('2026-11-25T12:00')
    finish(l, 0)
    l.until('2026-11-27T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-11-26'])
    expect(seriesSheet(l.engine, l.imogen, id).ended).toBe(false)
    finish(l, 1)
    expect(seriesSheet(l.engine, l.imogen, id).ended).toBe(true)
  })
  it('one that could have begun earlier begins today: nothing is late at birth', () => {
    const l = lab()
    series(l, {}, { ...AFTER, start: '2026-10-01' })
    l.until('2026-11-23T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-23'])
  })
})

describe('what people decide about single dates', () => {
  const decide = (l: Lab, id: number, deed: string, scheduled: string, to?: string) =>
    decideDates(l.engine, l.imogen, {
      dates: [{ series: id, scheduled }],
      deed: deed as never,
      ...(to !== undefined && { to }),
    }).whole()
  it('one is left out, and put back by one undo', () => {
    const l = lab()
    const id = series(l)
    const { change } = decide(l, id, 'skip', '2026-12-02')
    const sheet = () => seriesSheet(l.engine, l.imogen, id)
    expect(
      sheet()
        .next.map(({ date }) => date)
        .slice(0, 2),
    ).toEqual(['2026-11-25', '2026-12-09'])
    expect(sheet().leftOut).toEqual(['2026-12-02'])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(sheet().next[1]?.date).toBe('2026-12-02')
    decide(l, id, 'skip', '2026-12-02')
    l.until('2026-12-09T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-09'])
    sound(l)
  })
  it('one is moved, beyond the next even, and later ones stay where they were', () => {
    const l = lab()
    const id = series(l)
    decide(l, id, 'move', '2026-12-02', '2026-12-11')
    expect(seriesSheet(l.engine, l.imogen, id).next.slice(0, 3)).toMatchObject([
      { date: '2026-11-25' },
      { date: '2026-12-09' },
      { date: '2026-12-11', scheduled: '2026-12-02', byHand: true },
    ])
    l.until('2026-12-16T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual([
      '2026-11-25',
      '2026-12-09',
      '2026-12-11',
      '2026-12-16',
    ])
    sound(l)
  })
  it('one is moved forward of the one before it', () => {
    const l = lab()
    const id = series(l)
    decide(l, id, 'move', '2026-12-09', '2026-12-01')
    l.until('2026-12-16T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual([
      '2026-11-25',
      '2026-12-01',
      '2026-12-02',
      '2026-12-16',
    ])
    sound(l)
  })
  it('one is made now, once, and taken back it is skipped', () => {
    const l = lab()
    const id = series(l)
    const { change } = decide(l, id, 'make', '2026-12-02')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-12-02'])
    expect(() => decide(l, id, 'make', '2026-12-02')).toThrow(/dealt with already/)
    undoChange(l.engine, l.imogen, change!).whole()
    l.until('2026-12-09T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-09'])
    expect(seriesSheet(l.engine, l.imogen, id).made.map(({ went }) => went)).toEqual([
      'under-way',
      'taken-back',
      'overdue',
    ])
    sound(l)
  })
  it.each([
    ['move', '2026-12-02', '2026-12-09', /has one on Wed 9 Dec 2026 already/],
    ['move', '2026-12-02', '2026-11-20', /is past/],
    ['move', '2026-12-02', '9999-01-01', /to:/],
    ['skip', '2026-12-03', undefined, /no date on Thu 3 Dec 2026/],
    ['back', '2026-12-02', undefined, /no date on/],
    ['make', '2026-02-30', undefined, /not a date/],
  ])('%s %s to %s is refused, and nothing is written', (deed, scheduled, to, says) => {
    const l = lab()
    const id = series(l)
    const before = l.latest()
    expect(() => decide(l, id, deed, scheduled, to)).toThrow(says)
    expect(l.latest()).toBe(before)
  })
  it('of several, what cannot be done is left and said', () => {
    const l = lab()
    const [one, two] = [series(l), series(l, {}, { ...WEDNESDAYS, start: '2026-12-09' })]
    const dates = [one, two].map((id) => ({ series: id, scheduled: '2026-12-02' }))
    const { result } = decideDates(l.engine, l.imogen, { dates, deed: 'skip' }).whole()
    expect(result).toMatchObject({
      done: 1,
      left: [expect.stringMatching(/no date on Wed 2 Dec 2026/)],
    })
  })
  it('members decide nothing', () => {
    const l = lab()
    const id = series(l)
    const dates = [{ series: id, scheduled: '2026-12-02' }]
    expect(() => decideDates(l.engine, l.tobias, { dates, deed: 'skip' })).toThrow(/manager/)
  })
})

describe('a series that is edited', () => {
  it('an edited time of day or day never makes a period again that was served', () => {
    const l = lab()
    const monthly = { start: '2026-11-01', rule: 'FREQ=MONTHLY;BYMONTHDAY=24', roll: 'none' }
    const id = series(l, {}, monthly)
    l.until('2026-11-24T12:00')
    const edit = (schedule: object) =>
      saveSeries(l.engine, l.imogen, id, { body: body({}, schedule), seen: null })
    edit({ ...monthly, start: '2026-11-01T15:00' })
    edit({ ...monthly, rule: 'FREQ=MONTHLY;BYMONTHDAY=27' })
    l.until('2026-12-28T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-24', '2026-12-27'])
    sound(l)
  })
  it('for a date and all later ones: it is split, made ones go over, none is made twice', () => {
    const l = lab()
    const id = series(l, {}, WEDNESDAYS, 5)
    l.until('2026-11-26T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-02'])
    const next = saveSeries(l.engine, l.imogen, id, {
      body: {
        ...(body({}, WEDNESDAYS, 5) as object),
        name: 'Run anew',
        from: '2026-12-02',
      } as never,
      seen: null,
    }).result
    expect(next.id).not.toBe(id)
    expect(next.made.map(({ scheduled }) => scheduled)).toEqual(['2026-12-02'])
    expect(seriesSheet(l.engine, l.imogen, id)).toMatchObject({ ended: true, next: [] })
    l.until('2026-12-03T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-02', '2026-12-09'])
    expect(l.rows('select seriesId from tasks order by id')).toEqual([
      { seriesId: id },
      { seriesId: next.id },
      { seriesId: next.id },
    ])
    sound(l)
  })
  it('what falls into a pause is skipped, and shown so', () => {
    const l = lab()
    const id = series(l)
    l.until('2026-11-26T12:00')
    switchSeries(l.engine, l.imogen, id, false)
    l.until('2026-12-10T12:00')
    switchSeries(l.engine, l.imogen, id, true)
    l.until('2026-12-16T12:00')
    expect(said(l)).toEqual([
      '2026-11-25 made',
      '2026-12-02 skipped',
      '2026-12-09 skipped',
      '2026-12-16 made',
    ])
    sound(l)
  })
  it('a holiday more moves a working day that is to come, and makes none again that was made', () => {
    const l = lab()
    const fifth = { start: '2026-11-01', rule: { workday: 1, of: 'month' }, roll: 'none' }
    const id = series(l, {}, fifth, 5)
    l.until('2026-11-26T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-12-01'])
    l.engine.journal.change({ kind: 'engine', id: null }, (write) => {
      write.insert('holidays', { date: '2026-12-01' as never, name: 'Storm' })
      write.insert('holidays', { date: '2027-01-04' as never, name: 'Storm' })
    })
    expect(seriesSheet(l.engine, l.imogen, id).next[0]?.date).toBe('2027-01-05')
    l.until('2027-01-06T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-12-01', '2027-01-05'])
    sound(l)
  })
})

describe('other holidays', () => {
  it('list what was made and would lie elsewhere; it is moved where somebody says so', () => {
    const l = lab()
    const id = series(l, {}, { ...WEDNESDAYS, rule: 'FREQ=WEEKLY;BYDAY=WE;COUNT=3' }, 6)
    l.until('2026-11-26T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-02'])
    expect(movedDates(l.engine, l.imogen)).toEqual([])
    l.engine.journal.change({ kind: 'engine', id: null }, (write) => {
      write.insert('holidays', { date: '2026-12-02' as never, name: 'Storm' })
      write.insert('holidays', { date: '2026-12-09' as never, name: 'Storm' })
    })
    const moved = movedDates(l.engine, l.imogen)
    expect(moved).toMatchObject([{ date: '2026-12-02', to: '2026-12-03', series: id }])
    expect(seriesSheet(l.engine, l.imogen, id).next).toMatchObject([{ date: '2026-12-10' }])
    expect(() => moveMade(l.engine, l.tobias, { dates: moved })).toThrow(/manager/)
    const { change } = moveMade(l.engine, l.imogen, { dates: moved }).whole()
    expect(tasks(l).map(({ due }) => due)).toEqual(['2026-11-25', '2026-12-03'])
    expect(movedDates(l.engine, l.imogen)).toEqual([])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(tasks(l)[1]?.due).toBe('2026-12-02')
    sound(l)
  })
})

describe('what the next one is like', () => {
  it('dates rolled onto one day are one that names all, unless each is said', () => {
    const l = lab()
    const daily = { start: '2026-11-27', rule: 'FREQ=DAILY;COUNT=4', roll: 'following' }
    series(l, {}, daily)
    series(l, { each: true }, daily)
    l.until('2026-12-01T12:00')
    expect(tasks(l).map(({ due }) => due)).toEqual([
      ...['2026-11-27', '2026-11-27', '2026-11-30', '2026-11-30', '2026-11-30', '2026-11-30'],
    ])
    expect(l.rows('select count(*) as n from occurrences')).toEqual([{ n: 8 }])
    sound(l)
  })
  it('those it is for take turns, whoever is away is passed over', () => {
    const l = lab()
    const makes = { ...MAKES, assignees: [l.tobias.id, l.devika.id, l.imogen.id] }
    const all = { ...(body({ rota: 'turn' }) as object), makes } as never
    makeSeries(l.engine, l.imogen, all)
    const until = '2026-12-02'
    l.engine.journal.change({ kind: 'engine', id: null }, (write) =>
      write.insert('timeOff', {
        ...{ personId: l.devika.id, firstDay: until as never, lastDay: until as never },
      }),
    )
    l.until('2026-12-16T12:00')
    const on = l.rows<{ personId: number }>(
      'select personId from taskAssignees order by taskId, personId',
    )
    expect(on.map(({ personId }) => personId)).toEqual([
      ...[l.tobias.id, l.imogen.id, l.tobias.id, l.devika.id],
    ])
  })
  it('it takes from the one before what is chosen, never comments or ticks', () => {
    const l = lab()
    const carries = ['description', 'checklist', 'tags', 'subtasks'] as const
    series(l, { carries })
    l.until('2026-11-25T12:00')
    const { id } = tasks(l)[0]!
    l.engine.journal.change({ kind: 'engine', id: null }, (write) => {
      const tagId = write.insert('tags', { name: 'Payroll', colour: 'moss' })
      write.insert('taskTags', { taskId: id, tagId })
      write.insert('checklistItems', { taskId: id, title: 'Ask', done: true, position: 0 })
      write.insert('comments', { taskId: id, authorId: null, body: 'Told', at: write.at })
      write.insert('tasks', {
        ...{ title: 'Part', parentId: id, due: '2026-11-24' as never, createdAt: write.at },
      })
    })
    editTask(l.engine, l.imogen, id, { patch: { description: '<p>As learnt</p>' }, seen: null })
    l.until('2026-12-02T12:00')
    const next = l.rows<{ id: number }>(
      'select id, description from tasks where due = ? and parentId is null',
      '2026-12-02',
    )[0]!
    expect(next).toMatchObject({ description: '<p>As learnt</p>' })
    expect(l.rows('select title, done from checklistItems where taskId = ?', next.id)).toEqual([
      { title: 'Ask', done: 0 },
    ])
    expect(l.rows('select due from tasks where parentId = ?', next.id)).toEqual([
      { due: '2026-12-01' },
    ])
    expect(l.rows('select 1 from taskTags where taskId = ?', next.id)).toHaveLength(1)
    expect(l.rows('select 1 from comments where taskId = ?', next.id)).toHaveLength(0)
  })
})

describe('a series for several clients', () => {
  it('is one for each, called after them, in one change', () => {
    const l = lab()
    const other = l.engine.journal.change({ kind: 'engine', id: null }, (write) =>
      write.insert('clients', { name: 'Penhollow Pet Practice', short: 'Penhollow' }),
    ).result
    const makes = { ...MAKES, clientId: l.client }
    const all = { ...(body() as object), makes, clients: [other, l.client] } as never
    const { change } = makeSeries(l.engine, l.imogen, all)
    const names = () => l.rows('select name, clientId from series order by id')
    expect(names()).toEqual([
      { name: 'Run, Mossgate', clientId: l.client },
      { name: 'Run, Penhollow', clientId: other },
    ])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(names()).toEqual([])
    const none = { ...(body() as object), clients: [999] } as never
    expect(() => makeSeries(l.engine, l.imogen, none)).toThrow(/no client 999/)
  })
})

describe('the look of the night', () => {
  it('finds what was passed over, what is known twice, and what nothing wakes', () => {
    const l = lab()
    series(l)
    l.until('2026-12-09T12:00')
    sound(l)
    l.db.sqlite.exec(`delete from occurrences where scheduled = '2026-12-02'; delete from alarms`)
    expect(drained(audit(l.engine))).toMatchObject({
      dates: { made: 2 },
      wrong: [
        { says: 'Wed 2 Dec 2026 was passed over, and nothing is known of it.' },
        { says: 'Nothing wakes it for Wed 16 Dec 2026.' },
      ],
    })
  })
  it('is kept for sixty nights, one of each', () => {
    const l = lab()
    series(l)
    for (let night = 0; night < 63; night++) {
      l.clock.set(l.clock.now() + 86_400_000)
      for (let i = 0; i < 2; i++) drained(nightlyAudit(l.engine))
    }
    const kept = seriesAudits(l.engine, l.tobias)
    expect(kept).toHaveLength(60)
    expect(kept[0]).toMatchObject({ series: 1, at: l.clock.now() })
  })
})
