import { describe, expect, it } from 'vitest'
import { isWorkingDay, workingMinutes } from '#core/calendar/calendar.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { holidaysBody } from '#contract/firm.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { movedDates } from '../series/moved.ts'
import { makeSeries } from '../series/service.ts'
import { seriesSheet } from '../series/sheet.ts'
import { readHolidays } from './days-file.ts'
import { enterHolidays, listHolidays, removeHoliday } from './days-off.ts'
import { moveFirm } from './settings.ts'

/** It is Monday 23 November 2026. */

const enter = (l: Lab, date: string, half = false, name = 'Closed') =>
  enterHolidays(l.engine, l.imogen, { days: [{ date, name, half }] })
const works = (l: Lab, date: string) => isWorkingDay(l.engine.firm.calendar(), isoDate(date))
const minutes = (l: Lab, date: string) => workingMinutes(l.engine.firm.calendar(), isoDate(date))
const file = (...events: string[]) =>
  Buffer.from(
    [
      ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Test//EN'],
      ...events.flatMap((lines, i) => ['BEGIN:VEVENT', `UID:${i}`, lines, 'END:VEVENT']),
      'END:VCALENDAR',
    ]
      .join('\n')
      .replaceAll('\n', '\r\n'),
  )
const read = (l: Lab, ...events: string[]) => readHolidays(l.engine, l.imogen, file(...events))

describe('holidays of the firm, by hand', () => {
  it('take a day, or half of one, and give it back; each is one change with its undo', () => {
    const l = lab()
    const whole = enter(l, '2026-12-31')
    expect(works(l, '2026-12-31')).toBe(false)
    const half = enter(l, '2026-12-24', true)
    expect(works(l, '2026-12-24')).toBe(true)
    expect(minutes(l, '2026-12-24') * 2).toBe(minutes(l, '2026-12-23'))
    const lines = () => listChanges(l.engine, l.imogen, {}).changes[0]!.lines
    expect(lines()).toEqual(['entered the holiday “Closed”'])
    undoChange(l.engine, l.imogen, whole.change!).whole()
    expect(works(l, '2026-12-31')).toBe(true)
    const row = half.result.find(({ date }) => date === '2026-12-24')!
    removeHoliday(l.engine, l.imogen, row.id)
    expect(minutes(l, '2026-12-24')).toBe(minutes(l, '2026-12-23'))
  })
  it('what is entered for a day takes the place of what stood on it', () => {
    const l = lab()
    enter(l, '2026-12-31', false, 'Closed')
    enter(l, '2026-12-31', true, 'Early close')
    const on = listHolidays(l.engine, l.imogen).filter(({ date }) => date === '2026-12-31')
    expect(on).toMatchObject([{ name: 'Early close', half: true, own: true }])
  })
  it('stays when the firm goes by the holidays of another place', async () => {
    const l = lab()
    enter(l, '2026-12-31')
    enter(l, '2026-12-25', true, 'Skeleton staff')
    await moveFirm(l.engine, l.imogen, { country: 'DE', region: null })
    const rows = listHolidays(l.engine, l.imogen)
    const on = (date: string) => rows.filter((row) => row.date === date).map(({ name }) => name)
    expect([on('2026-12-31'), on('2026-12-25')]).toEqual([['Closed'], ['Skeleton staff']])
    // Second Christmas Day is a public holiday in Germany (common practice).
    expect(on('2026-12-26')).toHaveLength(1)
  })
  it('moves what is to come, leaves what was made, and says where that would lie', () => {
    const l = lab()
    const { id } = makeSeries(l.engine, l.imogen, {
      ...{ name: 'Run', leadDays: 3 },
      schedule: { start: '2026-11-25', rule: 'FREQ=WEEKLY;BYDAY=WE', roll: 'following' },
      makes: {
        ...{ kind: 'task', title: 'Run', description: '', clientId: null, projectId: null },
        ...{ assignees: [], estimate: null, checklist: [] },
        period: { of: 'month', which: 'same' },
      },
    }).result
    l.runner.tick()
    expect(l.rows('select due from tasks')).toEqual([{ due: '2026-11-25' }])
    enterHolidays(l.engine, l.imogen, {
      days: ['2026-11-25', '2026-12-02'].map((date) => ({ date, name: 'Closed', half: false })),
    })
    expect(seriesSheet(l.engine, l.imogen, id).next[0]).toMatchObject({ date: '2026-12-03' })
    expect(movedDates(l.engine, l.imogen)).toMatchObject([{ date: '2026-11-25', to: '2026-11-26' }])
    expect(l.rows('select due from tasks')).toEqual([{ due: '2026-11-25' }])
  })
  it('is for managers, and refuses what is no day', () => {
    const l = lab()
    expect(() => enterHolidays(l.engine, l.tobias, { days: [] })).toThrow(/Only a manager/)
    for (const date of ['2026-02-30', '9999-12-31'])
      expect(() => enter(l, date)).toThrow(/days\[0\]\.date/)
    expect(holidaysBody.validate({ days: [] }).error).toBeDefined()
    expect(() => removeHoliday(l.engine, l.imogen, 9_999)).toThrow(/no holiday/)
    const many = (year: number) =>
      Array.from({ length: 1_000 }, (_, i) => ({
        ...{ name: 'X', half: false },
        date: new Date(Date.UTC(year, 0, 1 + i)).toISOString().slice(0, 10),
      }))
    for (const year of [2030, 2040, 2050].slice(0, 2))
      enterHolidays(l.engine, l.imogen, { days: many(year) })
    expect(() => {
      enterHolidays(l.engine, l.imogen, { days: many(2050) })
      enterHolidays(l.engine, l.imogen, { days: many(2060) })
    }).toThrow(/3000 holidays at the most/)
  })
})

describe('holidays out of an iCalendar file (RFC 5545)', () => {
  it('are events of whole days; an end is the day after the last (section 3.6.1)', () => {
    const l = lab()
    enter(l, '2026-12-31')
    const { days, notes } = read(
      l,
      'DTSTART;VALUE=DATE:20261231\nSUMMARY:New Year’s Eve',
      'DTSTART;VALUE=DATE:20270104\nDTEND;VALUE=DATE:20270107\nSUMMARY:Stocktaking',
      'DTSTART;VALUE=DATE:20270201\nDURATION:P2D\nSUMMARY:Fair',
    )
    expect(days.map(({ date, there }) => [date, there])).toEqual([
      ...[['2026-12-31', true]],
      ...['2027-01-04', '2027-01-05', '2027-01-06'].map((date) => [date, false]),
      ...['2027-02-01', '2027-02-02'].map((date) => [date, false]),
    ])
    expect(notes).toEqual([])
  })
  it('that come again are each of their days in the next ten years, but for those left out', () => {
    const { days } = read(
      lab(),
      'DTSTART;VALUE=DATE:20200506\nRRULE:FREQ=YEARLY\nEXDATE;VALUE=DATE:20280506\nSUMMARY:Founders’ day',
    )
    const years = [2026, 2027, 2029, 2030, 2031, 2032, 2033, 2034, 2035, 2036]
    expect(days.map(({ date }) => date)).toEqual(years.map((year) => `${year}-05-06`))
  })
  it('what has a time, was cancelled, is long past or cannot be read is left, and said', () => {
    const { days, notes } = read(
      lab(),
      'DTSTART:20261231T120000Z\nSUMMARY:Lunch',
      // A date that does not say it is none (RFC 5545, section 3.3.4).
      'DTSTART:20261229\nSUMMARY:Bare',
      'DTSTART;VALUE=DATE:20261230\nSTATUS:CANCELLED\nSUMMARY:Not',
      'DTSTART;VALUE=DATE:19990101\nSUMMARY:Then',
      'DTSTART;VALUE=DATE:20260101\nRRULE:FREQ=WEEKLY;BYDAY=1MO\nSUMMARY:Never',
    )
    expect(days).toEqual([])
    expect(notes.join('\n')).toMatch(/1 event with a time of day left out/)
    expect(notes.join('\n')).toMatch(/1 event that cannot be read left out/)
    expect(notes.join('\n')).toMatch(/1 day before this year/)
    expect(notes.join('\n')).toMatch(/Never: .*BYDAY/)
  })
  it.each([
    ['no calendar', 'hello'],
    ['an empty one', 'BEGIN:VCALENDAR\r\nEND:VCALENDAR'],
    ['nothing', ''],
  ])('%s is refused', (_, text) => {
    const l = lab()
    expect(() => readHolidays(l.engine, l.imogen, Buffer.from(text))).toThrow(
      /no iCalendar file|no event/,
    )
  })
  it('an event of a thousand years is as long as one may be, whatever its rule asks', () => {
    const l = lab()
    const { days } = read(
      l,
      'DTSTART;VALUE=DATE:20261201\nDTEND;VALUE=DATE:99991231\nSUMMARY:Ever',
      'DTSTART;VALUE=DATE:20270101\nRRULE:FREQ=SECONDLY\nSUMMARY:Always',
    )
    expect(days.length).toBeLessThanOrEqual(1_000)
    expect(days.filter(({ name }) => name === 'Ever')).toHaveLength(62)
  })
  it('a file of more than anybody enters is read as far as that, and says so', () => {
    const l = lab()
    const daily = 'DTSTART;VALUE=DATE:20261201\nRRULE:FREQ=DAILY\nSUMMARY:Daily'
    const { days, notes } = read(l, ...Array.from({ length: 1_001 }, () => daily))
    expect(days).toHaveLength(1_000)
    expect(notes).toEqual([
      'Only the first 1000 of 1001 events were read.',
      'Only 1000 days of the file are read.',
    ])
    const exactly = read(l, daily.replace('DAILY', 'DAILY;COUNT=1000'))
    expect([exactly.days.length, exactly.notes]).toEqual([1_000, []])
  })
})
