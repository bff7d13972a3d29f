import ICAL from 'ical.js'
import { describe, expect, it } from 'vitest'
import { lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { readSeries } from './calendar-file.ts'
import { seriesCalendar } from './export.ts'
import { bringSeries } from './service.ts'
import { seriesSheet } from './sheet.ts'

/** RFC 5545, sections 3.8.4.4 (RECURRENCE-ID), 3.8.5.1 (EXDATE), 3.8.5.2 (RDATE), 3.8.5.3 (RRULE). */
const file = (...events: string[]) =>
  Buffer.from(
    ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Test//EN', ...events, 'END:VCALENDAR', ''].join(
      '\r\n',
    ),
  )
const event = (...lines: string[]) => ['BEGIN:VEVENT', ...lines, 'END:VEVENT'].join('\r\n')
const WEEKLY = event(
  ...['UID:1@x', 'SUMMARY:Rota\\, weekly', 'DTSTART;TZID=Europe/Berlin:20261124T090000'],
  ...['RRULE:FREQ=WEEKLY;BYDAY=TU', 'EXDATE;TZID=Europe/Berlin:20261208T090000'],
  'RDATE;TZID=Europe/Berlin:20261210T090000',
)
const MOVED = event(
  ...['UID:1@x', 'SUMMARY:Rota', 'RECURRENCE-ID;TZID=Europe/Berlin:20261201T090000'],
  'DTSTART;TZID=Europe/Berlin:20261203T110000',
)
const CANCELLED = event(
  ...['UID:1@x', 'RECURRENCE-ID;TZID=Europe/Berlin:20261215T090000', 'STATUS:CANCELLED'],
  'DTSTART;TZID=Europe/Berlin:20261215T090000',
)
const read = (...events: string[]) => {
  const l = lab()
  return readSeries(l.engine, l.imogen, file(...events))
}

describe('recurring events of a file', () => {
  it('come as series, with what is left out, added, moved and cancelled', () => {
    const l = lab()
    const found = readSeries(l.engine, l.imogen, file(WEEKLY, MOVED, CANCELLED))
    expect(found).toEqual({
      ...{ notes: [], single: 0 },
      series: [
        {
          ...{ name: 'Rota, weekly', description: '' },
          schedule: {
            ...{ start: '2026-11-24T09:00', zone: 'Europe/Berlin' },
            rule: 'FREQ=WEEKLY;BYDAY=TU',
            ...{ exclude: ['2026-12-08T09:00'], include: ['2026-12-10T09:00'] },
          },
          byHand: [
            { scheduled: '2026-12-01T09:00', date: '2026-12-03T11:00' },
            { scheduled: '2026-12-15T09:00', date: null },
          ],
        },
      ],
    })
    const [one] = found.series
    if (!one || 'problem' in one) throw new Error('It was not read.')
    const makes = {
      ...{ kind: 'task', title: one.name, description: '', clientId: null, projectId: null },
      ...{ assignees: [], estimate: null, checklist: [], period: { of: 'month', which: 'same' } },
    }
    const { schedule, byHand, name } = one
    const series = [{ name, schedule, byHand, makes, leadDays: 0 }] as never
    const { change } = bringSeries(l.engine, l.imogen, { series }).whole()
    expect(
      seriesSheet(l.engine, l.imogen, 1)
        .next.map(({ date }) => date)
        .slice(0, 5),
    ).toEqual([
      ...['2026-11-24T09:00', '2026-12-03T11:00', '2026-12-10T09:00', '2026-12-22T09:00'],
      '2026-12-29T09:00',
    ])
    undoChange(l.engine, l.imogen, change!).whole()
    expect(l.rows('select 1 from series')).toEqual([])
  })
  it('what was moved of a name is the first event’s by it, however many there are', () => {
    const twice = read(WEEKLY, WEEKLY, MOVED).series
    expect(twice.map((one) => 'byHand' in one && one.byHand.length)).toEqual([1, 0])
    const masters = Array.from({ length: 500 }, () => WEEKLY)
    const { series } = read(...masters, ...Array.from({ length: 5_000 }, () => MOVED))
    expect(series.flatMap((one) => ('byHand' in one ? one.byHand : []))).toHaveLength(5_000)
  })
  it('times in UTC and days alone are the firm’s; zones that are not known are said', () => {
    const found = read(
      event('UID:2', 'SUMMARY:A', 'DTSTART:20260701T080000Z', 'RRULE:FREQ=DAILY'),
      event('UID:3', 'SUMMARY:B', 'DTSTART;VALUE=DATE:20261201', 'RRULE:FREQ=MONTHLY'),
      event('UID:4', 'SUMMARY:C', 'DTSTART;TZID=Mars/Base:20261201T080000', 'RRULE:FREQ=DAILY'),
      event('UID:5', 'SUMMARY:Once', 'DTSTART;VALUE=DATE:20261201'),
    )
    expect(found.series.map((one) => 'schedule' in one && one.schedule.start)).toEqual([
      ...['2026-07-01T09:00', '2026-12-01', '2026-12-01T08:00'],
    ])
    expect(found.single).toBe(1)
    expect(found.notes).toEqual([expect.stringMatching(/“Mars\/Base” is not known here/)])
  })
  it.each([
    [['UID:6', 'DTSTART:20261201T080000Z', 'RRULE:FREQ=MINUTELY'], /daily at the most/],
    [['UID:7', 'DTSTART:20261201T080000Z', 'RRULE:FREQ=DAILY;COUNT=999999'], /10,000 dates/],
    [['UID:8', 'RRULE:FREQ=DAILY'], /no start/],
    // A date that does not say it is none (RFC 5545, section 3.3.4).
    [['UID:10', 'DTSTART:20261201', 'RRULE:FREQ=DAILY'], /cannot be read/],
    [['UID:9', 'DTSTART;VALUE=DATE:10000101', 'RRULE:FREQ=DAILY'], /slip of the keyboard/],
  ])('what cannot be is said beside it: %j', (lines, says) => {
    expect(read(event(...lines)).series).toEqual([
      expect.objectContaining({ problem: expect.stringMatching(says) }),
    ])
  })
  it.each([
    ['', /no iCalendar file|no event/],
    ['BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n', /no iCalendar file|no event/],
    ['hello', /no iCalendar file/],
    ['BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n', /no event/],
    [`BEGIN:VCALENDAR\r\n${'BEGIN:VEVENT\r\n'.repeat(5_000)}`, /no iCalendar file|no event/],
  ])('%j is refused', (text, says) => {
    const l = lab()
    expect(() => readSeries(l.engine, l.imogen, Buffer.from(text))).toThrow(says)
  })
  it('members bring in nothing', () => {
    const l = lab()
    expect(() => readSeries(l.engine, l.tobias, file(WEEKLY))).toThrow(/manager/)
  })
  it('what is taken out comes in again as it was, and ical.js has the same dates of it', () => {
    const l = lab()
    const makes = {
      ...{ kind: 'task', title: 'Rota', description: '', clientId: null, projectId: null },
      ...{ assignees: [], estimate: null, checklist: [], period: { of: 'month', which: 'same' } },
    }
    const series = (name: string, schedule: object, byHand: object[] = []) =>
      ({ name, schedule, byHand, makes, leadDays: 0 }) as never
    bringSeries(l.engine, l.imogen, {
      series: [
        series(
          'Rota',
          { start: '2027-03-23T09:30', zone: 'Europe/London', rule: 'FREQ=WEEKLY;COUNT=4' },
          [
            { scheduled: '2027-03-30T09:30', date: '2027-03-31T10:00' },
            { scheduled: '2027-04-06T09:30', date: null },
          ],
        ),
        series('Books', { start: '2026-11-01', rule: { workday: 5, of: 'month', count: 3 } }),
      ],
    }).whole()
    const text = seriesCalendar(l.engine, l.imogen)
    const [books, rota] = readSeries(l.engine, l.imogen, text).series
    expect(rota).toMatchObject({
      schedule: { start: '2027-03-23T09:30', zone: 'Europe/London', rule: 'FREQ=WEEKLY;COUNT=4' },
    })
    // 5 November is past; the fifth working days after it are 7 December and 8 January.
    expect(books).toMatchObject({ schedule: { start: '2026-12-07', include: ['2027-01-08'] } })
    const root = new ICAL.Component(ICAL.parse(text.toString('utf8')))
    const zone = new ICAL.Timezone(root.getFirstSubcomponent('vtimezone')!)
    ICAL.TimezoneService.register(zone)
    const [event, moved] = root
      .getAllSubcomponents('vevent')
      .map((one) => new ICAL.Event(one))
      .filter(({ uid }) => uid === 'series-1@fernwick')
    event!.relateException(moved!)
    const found: string[] = []
    const each = event!.iterator()
    for (let at = each.next(); at; at = each.next())
      found.push(event!.getOccurrenceDetails(at).startDate.toJSDate().toISOString())
    expect(found).toEqual([
      ...['2027-03-23T09:30:00.000Z', '2027-03-31T09:00:00.000Z', '2027-04-13T08:30:00.000Z'],
    ])
  })
})
