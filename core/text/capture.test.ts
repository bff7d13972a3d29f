import { describe, expect, it } from 'vitest'
import type { IsoDate } from '../brands.ts'
import { capture, type Vocabulary } from './capture.ts'
import { readMinutes, readNumber } from './read.ts'
import { dateFault, readDate, readTime, readWhen, timeFault } from './read-date.ts'
import { readEvery } from './read-every.ts'

// Common practice: how people in Britain write dates, times and lengths of time. Monday, 23
// November 2026.
const TODAY = '2026-11-23' as IsoDate

describe('dates as people type them', () => {
  it.each([
    ['today', '2026-11-23'],
    ['tomorrow', '2026-11-24'],
    ['fri', '2026-11-27'],
    ['Friday', '2026-11-27'],
    ['mon', '2026-11-30'],
    ['next fri', '2026-12-04'],
    ['next mon', '2026-11-30'],
    ['3 Dec', '2026-12-03'],
    ['Thu 3 Dec', '2026-12-03'],
    ['3rd December', '2026-12-03'],
    ['Dec 3', '2026-12-03'],
    ['3 dec 2027', '2027-12-03'],
    ['3/12', '2026-12-03'],
    ['3/12/26', '2026-12-03'],
    ['3.12.2026', '2026-12-03'],
    ['2026-12-03', '2026-12-03'],
    ['14 Jan', '2027-01-14'],
    ['1 Nov', '2026-11-01'],
    ['+5', '2026-11-28'],
    ['in 2 weeks', '2026-12-07'],
    ['+3d', '2026-11-26'],
    ['+2w', '2026-12-07'],
    ['+3m', '2027-02-23'],
    ['eow', '2026-11-29'],
    ['eom', '2026-11-30'],
    ['end of month', '2026-11-30'],
    ['end of next month', '2026-12-31'],
    ['eoq', '2026-12-31'],
    ['end of next quarter', '2027-03-31'],
    ['eoy', '2026-12-31'],
    ['eod', null],
    ['29 Feb', null],
    ['31 Feb', null],
    ['31/2/2026', null],
    ['statements', null],
    ['3', null],
    ['', null],
  ])('%s is %s', (text, date) => expect(readDate(text, TODAY)).toBe(date))
})
it.each([
  ['fri 3pm', '2026-11-27', '15:00'],
  ['Thu 3 Dec, 10:00', '2026-12-03', '10:00'],
  ['2026-12-03 15:00', '2026-12-03', '15:00'],
  ['2026-12-03T15:00:00', '2026-12-03', '15:00'],
  ['3/12/2026 9.30 am', '2026-12-03', '09:30'],
  ['tomorrow at noon', '2026-11-24', '12:00'],
  ['10:00', '2026-11-23', '10:00'],
  ['in 2 weeks', '2026-12-07', null],
  ['3 Dec', '2026-12-03', null],
])('%s is %s at %s', (text, date, time) => expect(readWhen(text, TODAY)).toEqual({ date, time }))
it.each(['statements', 'fri 25:00', '31 feb 3pm', '', 'at 3', '12'])('“%s” is no moment', (text) =>
  expect(readWhen(text, TODAY)).toBeNull(),
)
// Common practice: a decimal point in Britain, a decimal comma on the Continent, spaces and
// apostrophes between thousands.
it.each([
  ['1250.5', 1250.5],
  ['1,250.50', 1250.5],
  ['1.250,50', 1250.5],
  ['1 250,5', 1250.5],
  ['1’250', 1250],
  ['12,5', 12.5],
  ['1,250', 1250],
  ['−3', -3],
  ['.5', 0.5],
  ['1,2,3', null],
  ['1.2.3', null],
  ['0x10', null],
  ['1e9', null],
  ['twelve', null],
  ['', null],
])('“%s” is the number %s', (text, number) => expect(readNumber(text)).toBe(number))
it.each([
  ['3pm', '15:00'],
  ['3.30 pm', '15:30'],
  ['12am', '00:00'],
  ['12pm', '12:00'],
  ['09:05', '09:05'],
  ['at 9:05', '09:05'],
  ['noon', '12:00'],
  ['25:00', null],
  ['13pm', null],
  ['9', null],
])('time %s is %s', (text, time) => expect(readTime(text)).toBe(time))
it.each([
  ['30m', 30],
  ['90 min', 90],
  ['1h', 60],
  ['1h 30m', 90],
  ['1h30m', 90],
  ['1.5h', 90],
  ['2 hours', 120],
  ['30', null],
  ['h', null],
  ['', null],
])('length %s is %s', (text, minutes) => expect(readMinutes(text)).toBe(minutes))
it('a bare number is minutes only where that is asked', () => {
  expect(readMinutes('45', true)).toBe(45)
  expect(readMinutes('1:30', true)).toBe(90)
})

it('a month on from a month’s last day is the last of a shorter one', () =>
  expect(readDate('+1m', '2027-01-31' as IsoDate)).toBe('2027-02-28'))

describe('what is no date says why, and what would be right', () => {
  it.each([
    ['31 nov', '“31 nov” is no date. November has 30 days.'],
    ['30/2', '“30/2” is no date. February has 29 days.'],
    ['29 feb 2027', '“29 feb 2027” is no date. 2027 has no 29 February.'],
    ['3/13', 'there is no month 13: write 13/3.'],
    ['2026-11-31', 'November has 30 days.'],
    ['fri 25:00', '“fri” is Fri 27 Nov, but “25:00” says nothing.'],
    ['fro', '“fro” is no date. Write 9 Dec, fri, +3d, eom or 2026-12-09.'],
    ['', 'is no date'],
  ])('%s', (text, why) => expect(dateFault(text, TODAY)).toContain(why))
  it('a date is none', () => expect(dateFault('9 dec', TODAY)).toBeNull())
  it('where a time may follow, it says so', () => {
    expect(dateFault('fri 3pm', TODAY, true)).toBeNull()
    expect(dateFault('fri 25:00', TODAY, true)).toContain('no time. Write fri 15:00')
  })
  it('a time likewise', () => {
    expect(timeFault('15:00')).toBeNull()
    expect(timeFault('25:00')).toBe('“25:00” is no time of day. Write 15:00, 3pm or 9.30 am.')
  })
})

// Source: RFC 5545, section 3.3.10, for what the rules say; common practice for how people say it.
describe('how often', () => {
  it.each([
    ['every day', 'FREQ=DAILY'],
    ['every friday', 'FREQ=WEEKLY;BYDAY=FR'],
    ['every fri', 'FREQ=WEEKLY;BYDAY=FR'],
    ['every thu and mon', 'FREQ=WEEKLY;BYDAY=MO,TH'],
    ['every other friday', 'FREQ=WEEKLY;BYDAY=FR;INTERVAL=2'],
    ['every weekday', 'FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR'],
    ['every 2 weeks', 'FREQ=WEEKLY;INTERVAL=2'],
    ['every month', 'FREQ=MONTHLY'],
    ['every quarter', 'FREQ=MONTHLY;INTERVAL=3'],
    ['every 15th', 'FREQ=MONTHLY;BYMONTHDAY=15'],
    ['every last day of the month', 'FREQ=MONTHLY;BYMONTHDAY=-1'],
    ['every first friday', 'FREQ=MONTHLY;BYDAY=1FR'],
    ['every last fri of the month', 'FREQ=MONTHLY;BYDAY=-1FR'],
    ['monthly', 'FREQ=MONTHLY'],
    ['every friday, 6 times', 'FREQ=WEEKLY;BYDAY=FR;COUNT=6'],
    ['monthly for 12 times', 'FREQ=MONTHLY;COUNT=12'],
    ['every friday 0 times', null],
    ['every 45th', null],
    ['every one of them', null],
    ['every last', null],
    ['friday', null],
    ['', null],
  ])('%s is %s', (text, rule) => expect(readEvery(text)).toBe(rule))
  it('working days are counted within their period', () => {
    expect(readEvery('every last working day of the month')).toEqual({ workday: -1, of: 'month' })
    expect(readEvery('every 5th working day')).toEqual({ workday: 5, of: 'month' })
    expect(readEvery('every second working day of the week')).toEqual({ workday: 2, of: 'week' })
  })
})

describe('a line', () => {
  const words: Vocabulary = {
    people: [
      { id: 1, names: ['Tobias Okonjo', 'Tobias'] },
      { id: 2, names: ['Devika Rao', 'Devika'] },
    ],
    clients: [
      { id: 7, names: ['Mossgate Veterinary Clinic', 'Mossgate'] },
      { id: 8, names: ['Tarn and Teasel Vets', 'Tarn and Teasel'] },
    ],
    projects: [{ id: 20, names: ['Tarn and Teasel, books for October 2026'] }],
    tags: [{ id: 5, names: ['records'] }],
  }
  const line = (text: string) => capture(text, words, TODAY)

  it('is read into a task', () => {
    expect(line('Chase statements Mossgate fri 3pm 30m urgent')).toMatchObject({
      title: 'Chase statements',
      clientId: 7,
      due: '2026-11-27',
      time: '15:00',
      estimate: 30,
      priority: 'urgent',
      people: [],
    })
  })
  it('says which pieces it understood, and where they stand', () => {
    const text = 'Ring Mossgate on 3 Dec'
    expect(line(text).pieces.map((p) => [p.kind, text.slice(p.from, p.to)])).toEqual([
      ['client', 'Mossgate'],
      ['date', 'on 3 Dec'],
    ])
  })
  it('takes the longest name, several people, tags with #', () => {
    expect(line('Post takings Tarn and Teasel @Tobias Devika Rao #records 1h 30m')).toMatchObject({
      title: 'Post takings',
      clientId: 8,
      people: [1, 2],
      tags: [5],
      estimate: 90,
    })
  })
  it('a time alone is today; words in quotes stay words; a second date stays in the title', () => {
    expect(line('Ring 4pm')).toMatchObject({ title: 'Ring', due: TODAY, time: '16:00' })
    expect(line('"Mossgate fri" 3 Dec')).toMatchObject({
      title: 'Mossgate fri',
      clientId: null,
      due: '2026-12-03',
    })
    expect(line('Compare mon with tue')).toMatchObject({
      title: 'Compare with tue',
      due: '2026-11-30',
    })
  })
  it('a name that two share names neither', () => {
    const two: Vocabulary = {
      ...words,
      people: [...words.people, { id: 3, names: ['Tobias Fell', 'Tobias'] }],
    }
    expect(capture('Ask Tobias', two, TODAY)).toMatchObject({ title: 'Ask Tobias', people: [] })
    expect(capture('Ask Tobias Fell', two, TODAY)).toMatchObject({ title: 'Ask', people: [3] })
  })
  it('“high” behind the title is a priority, within it a word', () => {
    expect(line('Chase statements high')).toMatchObject({
      ...{ title: 'Chase statements', priority: 'high' },
    })
    expect(line('Chase statements high fri 30m')).toMatchObject({
      ...{ title: 'Chase statements', priority: 'high', due: '2026-11-27' },
    })
    expect(line('Ring the High Street practice')).toMatchObject({
      ...{ title: 'Ring the High Street practice', priority: null },
    })
    expect(line('high')).toMatchObject({ title: 'high', priority: null })
  })
  it('says how often it comes again', () => {
    expect(line('Chase statements Mossgate every friday 30m')).toMatchObject({
      ...{ title: 'Chase statements', every: 'FREQ=WEEKLY;BYDAY=FR', due: null, estimate: 30 },
    })
    expect(line('Pay wages every last working day of the month')).toMatchObject({
      ...{ title: 'Pay wages', every: { workday: -1, of: 'month' } },
    })
  })
  it('an empty line is nothing', () =>
    expect(line('  ')).toMatchObject({ title: '', due: null, pieces: [] }))
})

it('fields are set by their names; what is no value of theirs stays title', () => {
  const read = (words: string) => (/^\d+$/.test(words) ? { fields: { 5: Number(words) } } : null)
  const vocabulary: Vocabulary = {
    ...{ people: [], clients: [], projects: [], tags: [] },
    fields: [{ name: 'Fee', read }],
  }
  const said = capture('Post takings fee: 120, fri', vocabulary, TODAY)
  expect(said).toMatchObject({
    ...{ title: 'Post takings', due: '2026-11-27', edits: [{ fields: { 5: 120 } }] },
  })
  expect(said.pieces.map(({ kind, text }) => [kind, text])).toEqual([
    ['field', 'fee: 120,'],
    ['date', 'fri'],
  ])
  expect(capture('Talk of the fee: later', vocabulary, TODAY)).toMatchObject({
    ...{ title: 'Talk of the fee: later', edits: [] },
  })
})
