import { describe, expect, it } from 'vitest'
import type { LocalStamp } from '../brands.ts'
import { calendar } from '../calendar/calendar.ts'
import { firstOccurrences } from './schedule.ts'

/**
 * Source: RFC 5545, section 3.8.5.3, every worked example, with DTSTART in America/New_York as
 * there. Dates as the RFC lists them: "MONTH days" groups; a time other than 09:00 after T. `…`
 * where the RFC goes on.
 */
const S = '1997-09-02T09:00'
const EXAMPLES: readonly [name: string, start: string, rule: string, dates: string][] = [
  ['daily for 10', S, 'FREQ=DAILY;COUNT=10', '1997-09 2-11'],
  [
    'daily until December 24, 1997',
    S,
    'FREQ=DAILY;UNTIL=19971224T000000Z',
    '1997-09 2-30; 1997-10 1-31; 1997-11 1-30; 1997-12 1-23',
  ],
  [
    'every other day',
    S,
    'FREQ=DAILY;INTERVAL=2',
    '1997-09 2,4,6,8,10,12,14,16,18,20,22,24,26,28,30; 1997-10 2,4,6,8,10,12,14,16,18,20,22,24,26,28,30; 1997-11 1,3 …',
  ],
  ['every 10 days, 5', S, 'FREQ=DAILY;INTERVAL=10;COUNT=5', '1997-09 2,12,22; 1997-10 2,12'],
  [
    'every day in January for 3 years',
    '1998-01-01T09:00',
    'FREQ=YEARLY;UNTIL=20000131T140000Z;BYMONTH=1;BYDAY=SU,MO,TU,WE,TH,FR,SA',
    '1998-01 1-31; 1999-01 1-31; 2000-01 1-31',
  ],
  [
    'every day in January for 3 years, daily',
    '1998-01-01T09:00',
    'FREQ=DAILY;UNTIL=20000131T140000Z;BYMONTH=1',
    '1998-01 1-31; 1999-01 1-31; 2000-01 1-31',
  ],
  [
    'weekly for 10',
    S,
    'FREQ=WEEKLY;COUNT=10',
    '1997-09 2,9,16,23,30; 1997-10 7,14,21,28; 1997-11 4',
  ],
  [
    'weekly until December 24',
    S,
    'FREQ=WEEKLY;UNTIL=19971224T000000Z',
    '1997-09 2,9,16,23,30; 1997-10 7,14,21,28; 1997-11 4,11,18,25; 1997-12 2,9,16,23',
  ],
  [
    'every other week',
    S,
    'FREQ=WEEKLY;INTERVAL=2;WKST=SU',
    '1997-09 2,16,30; 1997-10 14,28; 1997-11 11,25; 1997-12 9,23; 1998-01 6,20; 1998-02 3,17 …',
  ],
  [
    'weekly on Tuesday and Thursday, until',
    S,
    'FREQ=WEEKLY;UNTIL=19971007T000000Z;WKST=SU;BYDAY=TU,TH',
    '1997-09 2,4,9,11,16,18,23,25,30; 1997-10 2',
  ],
  [
    'weekly on Tuesday and Thursday, count',
    S,
    'FREQ=WEEKLY;COUNT=10;WKST=SU;BYDAY=TU,TH',
    '1997-09 2,4,9,11,16,18,23,25,30; 1997-10 2',
  ],
  [
    'every other week on MO, WE, FR until',
    '1997-09-01T09:00',
    'FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR',
    '1997-09 1,3,5,15,17,19,29; 1997-10 1,3,13,15,17,27,29,31; 1997-11 10,12,14,24,26,28; 1997-12 8,10,12,22',
  ],
  [
    'every other week on TU and TH, 8',
    S,
    'FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH',
    '1997-09 2,4,16,18,30; 1997-10 2,14,16',
  ],
  [
    'first Friday, 10',
    '1997-09-05T09:00',
    'FREQ=MONTHLY;COUNT=10;BYDAY=1FR',
    '1997-09 5; 1997-10 3; 1997-11 7; 1997-12 5; 1998-01 2; 1998-02 6; 1998-03 6; 1998-04 3; 1998-05 1; 1998-06 5',
  ],
  [
    'first Friday until',
    '1997-09-05T09:00',
    'FREQ=MONTHLY;UNTIL=19971224T000000Z;BYDAY=1FR',
    '1997-09 5; 1997-10 3; 1997-11 7; 1997-12 5',
  ],
  [
    'every other month, first and last Sunday, 10',
    '1997-09-07T09:00',
    'FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU',
    '1997-09 7,28; 1997-11 2,30; 1998-01 4,25; 1998-03 1,29; 1998-05 3,31',
  ],
  [
    'second-to-last Monday, 6',
    '1997-09-22T09:00',
    'FREQ=MONTHLY;COUNT=6;BYDAY=-2MO',
    '1997-09 22; 1997-10 20; 1997-11 17; 1997-12 22; 1998-01 19; 1998-02 16',
  ],
  [
    'third-to-last day of the month',
    '1997-09-28T09:00',
    'FREQ=MONTHLY;BYMONTHDAY=-3',
    '1997-09 28; 1997-10 29; 1997-11 28; 1997-12 29; 1998-01 29; 1998-02 26 …',
  ],
  [
    '2nd and 15th, 10',
    S,
    'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15',
    '1997-09 2,15; 1997-10 2,15; 1997-11 2,15; 1997-12 2,15; 1998-01 2,15',
  ],
  [
    'first and last day, 10',
    '1997-09-30T09:00',
    'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1',
    '1997-09 30; 1997-10 1,31; 1997-11 1,30; 1997-12 1,31; 1998-01 1,31; 1998-02 1',
  ],
  [
    'every 18 months on the 10th to 15th, 10',
    '1997-09-10T09:00',
    'FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15',
    '1997-09 10-15; 1999-03 10-13',
  ],
  [
    'every Tuesday, every other month',
    S,
    'FREQ=MONTHLY;INTERVAL=2;BYDAY=TU',
    '1997-09 2,9,16,23,30; 1997-11 4,11,18,25; 1998-01 6,13,20,27; 1998-03 3,10,17,24,31 …',
  ],
  [
    'June and July, 10',
    '1997-06-10T09:00',
    'FREQ=YEARLY;COUNT=10;BYMONTH=6,7',
    '1997-06 10; 1997-07 10; 1998-06 10; 1998-07 10; 1999-06 10; 1999-07 10; 2000-06 10; ' +
      '2000-07 10; 2001-06 10; 2001-07 10',
  ],
  [
    'every other year, January to March, 10',
    '1997-03-10T09:00',
    'FREQ=YEARLY;INTERVAL=2;COUNT=10;BYMONTH=1,2,3',
    '1997-03 10; 1999-01 10; 1999-02 10; 1999-03 10; 2001-01 10; 2001-02 10; 2001-03 10; ' +
      '2003-01 10; 2003-02 10; 2003-03 10',
  ],
  [
    'every third year, 1st, 100th, 200th day, 10',
    '1997-01-01T09:00',
    'FREQ=YEARLY;INTERVAL=3;COUNT=10;BYYEARDAY=1,100,200',
    '1997-01 1; 1997-04 10; 1997-07 19; 2000-01 1; 2000-04 9; 2000-07 18; 2003-01 1; 2003-04 10; 2003-07 19; 2006-01 1',
  ],
  [
    '20th Monday of the year',
    '1997-05-19T09:00',
    'FREQ=YEARLY;BYDAY=20MO',
    '1997-05 19; 1998-05 18; 1999-05 17 …',
  ],
  [
    'Monday of week 20',
    '1997-05-12T09:00',
    'FREQ=YEARLY;BYWEEKNO=20;BYDAY=MO',
    '1997-05 12; 1998-05 11; 1999-05 17 …',
  ],
  [
    'every Thursday in March',
    '1997-03-13T09:00',
    'FREQ=YEARLY;BYMONTH=3;BYDAY=TH',
    '1997-03 13,20,27; 1998-03 5,12,19,26; 1999-03 4,11,18,25 …',
  ],
  [
    'every Thursday, June to August',
    '1997-06-05T09:00',
    'FREQ=YEARLY;BYDAY=TH;BYMONTH=6,7,8',
    '1997-06 5,12,19,26; 1997-07 3,10,17,24,31; 1997-08 7,14,21,28; 1998-06 4,11,18,25; ' +
      '1998-07 2,9,16,23,30; 1998-08 6,13,20,27 …',
  ],
  [
    'every Friday the 13th',
    '1997-09-02T09:00',
    'FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13',
    '1998-02 13; 1998-03 13; 1998-11 13; 1999-08 13; 2000-10 13 …',
  ],
  [
    'the Saturday after the first Sunday',
    '1997-09-13T09:00',
    'FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13',
    '1997-09 13; 1997-10 11; 1997-11 8; 1997-12 13; 1998-01 10; 1998-02 7; 1998-03 7; ' +
      '1998-04 11; 1998-05 9; 1998-06 13 …',
  ],
  [
    'US election day',
    '1996-11-05T09:00',
    'FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8',
    '1996-11 5; 2000-11 7; 2004-11 2 …',
  ],
  [
    'third of TU, WE, TH, 3 months',
    '1997-09-04T09:00',
    'FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3',
    '1997-09 4; 1997-10 7; 1997-11 6',
  ],
  [
    'second-to-last weekday of the month',
    '1997-09-29T09:00',
    'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2',
    '1997-09 29; 1997-10 30; 1997-11 27; 1997-12 30; 1998-01 29; 1998-02 26; 1998-03 30 …',
  ],
  [
    'every 3 hours until 17:00',
    S,
    'FREQ=HOURLY;INTERVAL=3;UNTIL=19970902T210000Z',
    '1997-09 2T09:00,2T12:00,2T15:00',
  ],
  [
    'every 15 minutes, 6',
    S,
    'FREQ=MINUTELY;INTERVAL=15;COUNT=6',
    '1997-09 2T09:00,2T09:15,2T09:30,2T09:45,2T10:00,2T10:15',
  ],
  [
    'every hour and a half, 4',
    S,
    'FREQ=MINUTELY;INTERVAL=90;COUNT=4',
    '1997-09 2T09:00,2T10:30,2T12:00,2T13:30',
  ],
  [
    'two weeks, WKST=MO',
    '1997-08-05T09:00',
    'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO',
    '1997-08 5,10,19,24',
  ],
  [
    'two weeks, WKST=SU',
    '1997-08-05T09:00',
    'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU',
    '1997-08 5,17,19,31',
  ],
  [
    'an invalid date is ignored',
    '2007-01-15T09:00',
    'FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5',
    '2007-01 15,30; 2007-02 15; 2007-03 15,30',
  ],
]

const TWENTY = [
  'FREQ=DAILY;BYHOUR=9,10,11,12,13,14,15,16;BYMINUTE=0,20,40',
  'FREQ=MINUTELY;INTERVAL=20;BYHOUR=9,10,11,12,13,14,15,16',
]

/** Reads "1997-09 2,4; 1997-10 1-3" into date-times. */
function listed(dates: string): { stamps: string[]; goesOn: boolean } {
  const goesOn = dates.endsWith('…')
  const stamps = dates
    .replace(' …', '')
    .split('; ')
    .flatMap((group) => {
      const [month, days] = group.split(' ') as [string, string]
      return days.split(',').flatMap((item) => {
        const [first, last] = item.split('-')
        if (last !== undefined && !item.includes('T'))
          return Array.from(
            { length: +last - +first! + 1 },
            (_, i) => `${month}-${String(+first! + i).padStart(2, '0')}T09:00`,
          )
        const [day, time = '09:00'] = item.split('T')
        return [`${month}-${day!.padStart(2, '0')}T${time}`]
      })
    })
  return { stamps, goesOn }
}

describe('RFC 5545, section 3.8.5.3', () => {
  it.each(EXAMPLES)('%s', (_, start, rule, dates) => {
    const { stamps, goesOn } = listed(dates)
    const found = firstOccurrences(
      { start: start as LocalStamp, zone: 'America/New_York', rule },
      calendar(),
      goesOn ? stamps.length : stamps.length + 1,
    )
    expect(found.map((o) => o.scheduled)).toEqual(stamps)
  })

  it.each(TWENTY)('every 20 minutes from 9:00 to 16:40: %s', (rule) => {
    const found = firstOccurrences(
      { start: S as LocalStamp, zone: 'America/New_York', rule },
      calendar(),
      48,
    ).map((o) => o.scheduled)
    const day = Array.from(
      { length: 24 },
      (_, i) =>
        `${String(9 + Math.floor(i / 3)).padStart(2, '0')}:${String((i % 3) * 20).padStart(2, '0')}`,
    )
    expect(found).toEqual([
      ...day.map((t) => `1997-09-02T${t}`),
      ...day.map((t) => `1997-09-03T${t}`),
    ])
  })

  it('instants follow the zone: EDT before 26 October 1997, EST after', () => {
    const found = firstOccurrences(
      { start: S as LocalStamp, zone: 'America/New_York', rule: 'FREQ=WEEKLY;COUNT=9' },
      calendar(),
      9,
    )
    expect(found.map((o) => new Date(o.instant).toISOString().slice(11, 16))).toEqual([
      '13:00',
      '13:00',
      '13:00',
      '13:00',
      '13:00',
      '13:00',
      '13:00',
      '13:00',
      '14:00',
    ])
  })
})
