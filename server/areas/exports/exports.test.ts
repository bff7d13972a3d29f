import { toCsv } from './csv.ts'
import { toIcs } from './calendar.ts'
import { sheetName, toXlsx } from './xlsx.ts'
import exceljs from 'exceljs'
import ICAL from 'ical.js'
import { parse } from 'csv-parse/sync'
import { describe, expect, it } from 'vitest'
import { icalendar } from '#core/formats/icalendar.ts'
import type { TaskQuery } from '#contract/query.ts'
import { ENGINE, lab } from '../../test/lab.ts'
import { insertTask } from '../tasks/write.ts'
import { makeField } from '../fields/service.ts'
import { readRows } from '../imports/rows.ts'
import { editTask, makeTask } from '../tasks/service.ts'

import { sheetData } from './sheet.ts'

const QUERY: TaskQuery = {
  scope: { of: 'firm' },
  filter: { match: 'all', of: [] },
  sort: [],
  group: 'priority',
  tree: false,
  sums: [],
  every: false,
}

function room() {
  const l = lab()
  const fee = makeField(l.engine, l.imogen, {
    name: 'Fee',
    kind: 'money',
    options: { currency: 'GBP' },
    projectId: null,
    templateId: null,
    hidden: false,
  }).result[0]!.id
  makeTask(l.engine, l.imogen, {
    title: '=1+2',
    due: '2026-12-03',
    dueTime: '15:00',
    estimate: 90,
    priority: 'urgent',
    fields: { [fee]: 1250 },
  })
  makeTask(l.engine, l.imogen, {
    title: 'Quote " comma , line\nbreak',
    due: '2026-12-18',
    start: '2026-12-16',
    estimate: 30,
    description: '<p>First</p><p>Second; third, fourth\\ end</p>',
    fields: { [fee]: 750 },
  })
  makeTask(l.engine, l.imogen, { title: '@SUM(A1)' })
  return {
    l,
    fee,
    data: sheetData(l.engine, l.imogen, QUERY, ['due', 'estimate', `field:${fee}`, 'field:999']),
  }
}

// RFC 4180, read back by another package than wrote it (csv-parse).
it('CSV: quotes, commas and line breaks come back as they went; nothing in it can run as a formula', () => {
  const { data } = room()
  const rows = parse(toCsv(data), { bom: true, relax_column_count: false }) as string[][]
  expect(rows).toEqual([
    ['Group', 'Title', 'Due', 'Estimate (hours)', 'Fee'],
    ['Urgent', "'=1+2", '2026-12-03 15:00', '1.5', '12.5'],
    ['Normal', 'Quote " comma , line\nbreak', '2026-12-18', '0.5', '7.5'],
    ['Normal', "'@SUM(A1)", '', '', ''],
  ])
})

it('when a task entered each state stands in a column of its own, by the firm’s clock', () => {
  const l = lab()
  const id = makeTask(l.engine, l.imogen, { title: 'Post' }).result.id
  const [waiting, done] = ['waiting', 'done'].map(
    (kind) => l.rows<{ id: number }>(`select id from states where kind = '${kind}'`)[0]!.id,
  ) as [number, number]
  l.until('2026-11-24T10:30')
  editTask(l.engine, l.imogen, id, { patch: { state: 'waiting' }, seen: null })
  l.until('2026-11-25T09:00')
  editTask(l.engine, l.imogen, id, { patch: { state: 'under-way' }, seen: null })
  const data = sheetData(l.engine, l.imogen, QUERY, [
    `entered:${waiting}`,
    `entered:${done}`,
    'entered:999',
  ])
  expect(data.columns.map((c) => c.name)).toEqual(['Title', 'Entered “Waiting”', 'Entered “Done”'])
  expect(data.groups[0]!.rows[0]).toEqual([
    { kind: 'text', text: 'Post' },
    { kind: 'date', date: '2026-11-24', time: '10:30' },
    null,
  ])
})

it('money has the digits of its currency', async () => {
  const l = lab()
  const [yen, dinar] = ['JPY', 'BHD'].map(
    (currency) =>
      makeField(l.engine, l.imogen, {
        name: currency,
        kind: 'money',
        options: { currency },
        projectId: null,
        templateId: null,
        hidden: false,
      }).result.find((f) => f.name === currency)!.id,
  ) as [number, number]
  makeTask(l.engine, l.imogen, { title: 'Post', fields: { [yen]: 1250, [dinar]: 1250 } })
  const data = sheetData(l.engine, l.imogen, QUERY, [`field:${yen}`, `field:${dinar}`])
  expect((parse(toCsv(data), { bom: true }) as string[][])[1]!.slice(1)).toEqual([
    'Post',
    '1250',
    '1.25',
  ])
  const book = new exceljs.Workbook()
  await book.xlsx.load((await toXlsx('Work', data, l.clock.now())) as unknown as ArrayBuffer)
  expect(['B3', 'C3'].map((at) => book.worksheets[0]!.getCell(at).numFmt)).toEqual([
    '[$JPY] #,##0',
    '[$BHD] #,##0.000',
  ])
})

it.each(["'; drop table tasks; --", "'", 'History', '', ' ', 'a/b:c?', 'x'.repeat(60), "O'Neill"])(
  'a view called “%s” leaves as a workbook',
  (name) => {
    const plain = sheetName(name)
    expect(plain.length).toBeGreaterThan(0)
    expect(plain.length).toBeLessThanOrEqual(31)
    // The package says no to what workbooks do not take.
    expect(() => new exceljs.Workbook().addWorksheet(plain)).not.toThrow()
  },
)

describe('XLSX', () => {
  it('holds dates, hours and money as such, groups, and totals that are formulas with their result', async () => {
    const { l, data } = room()
    const book = new exceljs.Workbook()
    await book.xlsx.load(
      (await toXlsx('Work / all', data, l.clock.now())) as unknown as ArrayBuffer,
    )
    const sheet = book.worksheets[0]!
    const values = sheet.getSheetValues().slice(1) as unknown[][]
    expect(values.map((row) => row[1])).toEqual([
      'Title',
      'Urgent (1)',
      '=1+2',
      'Normal (2)',
      'Quote " comma , line\nbreak',
      '@SUM(A1)',
      'Total',
    ])
    expect(sheet.getCell('A3').type).toBe(exceljs.ValueType.String)
    expect(sheet.getCell('B3').value).toEqual(new Date('2026-12-03T15:00:00Z'))
    expect(sheet.getCell('D7').value).toEqual({ formula: 'SUM(D3:D3,D5:D6)', result: 20 })
    expect(sheet.getCell('C7').result).toBe(2)
    expect(sheet.views[0]).toMatchObject({ state: 'frozen', ySplit: 1 })
  })
  it('brought in, formulas are text, dates are dates, and what is no workbook is said to be none', async () => {
    const book = new exceljs.Workbook()
    const sheet = book.addWorksheet('List')
    sheet.addRows([
      ['Task', 'Due', 'Hours'],
      ['One', new Date('2026-12-03T00:00:00Z'), { formula: '1+2', result: 3 }],
      ['Two', new Date('2026-12-04T15:00:00Z'), 2],
    ])
    const read = await readRows(Buffer.from(await book.xlsx.writeBuffer()), {
      most: 100,
      what: 'a file holds',
    })
    expect(read).toMatchObject({
      headings: ['Task', 'Due', 'Hours'],
      rows: [
        ['One', '2026-12-03', '=1+2'],
        ['Two', '2026-12-04 15:00', '2'],
      ],
    })
    expect(read.notes[0]).toMatch(/One cell holds a formula/)
    await expect(
      readRows(Buffer.from('PK\u0003\u0004 not a workbook'), { most: 100, what: 'a file holds' }),
    ).rejects.toThrow(/cannot be read/)
    await expect(
      readRows(Buffer.from('Task\na\nb\nc\n'), { most: 2, what: 'a file holds' }),
    ).rejects.toThrow(/3 rows; a file holds 2/)
  })
})

// RFC 5545, read back by ical.js.
describe('iCalendar', () => {
  it('spans are whole days with their end after the last, times are instants, text comes back as it went', () => {
    const { l } = room()
    const text = toIcs(l.engine, l.imogen, 'Work', QUERY).toString('utf8')
    const events = new ICAL.Component(ICAL.parse(text) as never)
      .getAllSubcomponents('vevent')
      .map((c) => new ICAL.Event(c))
    expect(events).toHaveLength(2)
    const [timed, span] = [
      events.find((e) => e.summary === '=1+2')!,
      events.find((e) => e.summary.startsWith('Quote'))!,
    ]
    expect(timed.startDate.toJSDate().toISOString()).toBe('2026-12-03T15:00:00.000Z')
    expect(timed.duration.toSeconds()).toBe(90 * 60)
    expect([span.startDate.isDate, span.startDate.toString(), span.endDate.toString()]).toEqual([
      true,
      '2026-12-16',
      '2026-12-19',
    ])
    expect(span.summary).toBe('Quote " comma , line\nbreak')
    expect(span.description).toBe('First\nSecond; third, fourth\\ end')
  })
  it('no line is over 75 octets, and none tears a letter apart', () => {
    const text = icalendar('Ünïcödé', [
      {
        uid: 'u',
        summary: 'ä€😀'.repeat(60),
        description: '',
        categories: ['a,b'],
        when: { first: '2026-12-03', last: '2026-12-03' },
        stamp: 0,
      },
    ])
    expect(text.endsWith('END:VCALENDAR\r\n')).toBe(true)
    for (const line of text.split('\r\n')) {
      expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75)
      expect(line).not.toContain('\ufffd')
    }
    expect(
      new ICAL.Event(new ICAL.Component(ICAL.parse(text) as never).getFirstSubcomponent('vevent')!)
        .summary,
    ).toBe('ä€😀'.repeat(60))
  })
})

it('every task leaves, however many stand in one group; columns named twice leave once', () => {
  const l = lab()
  const many = 2_500
  l.engine.journal.change(ENGINE, (write) => {
    for (let i = 0; i < many; i++)
      insertTask(l.engine, write, { title: `Post ${i}`, due: '2026-12-03' })
  })
  const columns = Array.from({ length: 600 }, () => 'due')
  const rows = parse(toCsv(sheetData(l.engine, l.imogen, QUERY, columns)), { bom: true })
  expect([rows.length, rows[0]]).toEqual([many + 1, ['Group', 'Title', 'Due']])
  const ics = toIcs(l.engine, l.imogen, 'Work', QUERY).toString()
  expect(ics.match(/BEGIN:VEVENT/g)).toHaveLength(many)
})
