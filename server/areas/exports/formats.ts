import exceljs from 'exceljs'
import Papa from 'papaparse'
import { toInstant } from '#core/calendar/dates.ts'
import { icalendar, type CalendarEntry } from '#core/formats/icalendar.ts'
import { minorDigits } from '#core/money/money.ts'
import { plainText } from '#core/text/rich.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { outline } from '../tasks/outline.ts'
import { taskRows } from '../tasks/queries.ts'
import type { Cell, SheetData } from './sheet.ts'

/** A currency's code and its digits, in the words of number formats (ECMA-376, 18.8.31). */
const moneyFormat = (currency: string): string =>
  `[$${currency}] #,##0${minorDigits(currency) ? `.${'0'.repeat(minorDigits(currency))}` : ''}`
const sayWhen = (cell: Cell & { kind: 'date' }): string =>
  cell.time === null ? cell.date : `${cell.date} ${cell.time}`
const plain = (cell: Cell | null): string | number =>
  cell === null
    ? ''
    : cell.kind === 'text'
      ? cell.text
      : cell.kind === 'date'
        ? sayWhen(cell)
        : cell.number

/**
 * A CSV file (RFC 4180) with a byte order mark, so that spreadsheets read its letters right. What
 * would be a formula is made text.
 */
export function toCsv(data: SheetData): Buffer {
  const grouped = data.groups.length > 1 || Boolean(data.groups[0]?.name)
  const head = [...(grouped ? ['Group'] : []), ...data.columns.map((c) => c.name)]
  const rows = data.groups.flatMap((g) =>
    g.rows.map((row) => [...(grouped ? [g.name] : []), ...row.map(plain)]),
  )
  return Buffer.from(
    `\ufeff${Papa.unparse([head, ...rows], { newline: '\r\n', escapeFormulae: true })}\r\n`,
    'utf8',
  )
}

/**
 * A workbook: a heading that stays, groups with their totals as formulas, dates and money as what
 * they are.
 */
export async function toXlsx(name: string, data: SheetData, at: number): Promise<Buffer> {
  const book = new exceljs.Workbook()
  book.created = new Date(at)
  const sheet = book.addWorksheet(name.replace(/[\\/?*[\]:]/g, ' ').slice(0, 31) || 'Work', {
    views: [{ state: 'frozen', ySplit: 1 }],
  })
  sheet.columns = data.columns.map((c) => ({
    header: c.name,
    key: c.field,
    width: c.field === 'title' ? 46 : 18,
  }))
  sheet.getRow(1).font = { bold: true }
  sheet.getRow(1).border = { bottom: { style: 'medium' } }
  const grouped = data.groups.length > 1 || Boolean(data.groups[0]?.name)
  const ranges: string[][] = data.columns.map(() => [])
  for (const group of data.groups) {
    if (grouped) {
      const head = sheet.addRow([`${group.name} (${group.rows.length})`])
      head.font = { bold: true }
      head.border = { bottom: { style: 'thin' } }
    }
    const from = sheet.rowCount + 1
    for (const cells of group.rows) {
      const row = sheet.addRow(
        cells.map((c) =>
          c === null
            ? null
            : c.kind === 'text'
              ? c.text
              : c.kind === 'date'
                ? new Date(`${c.date}T${c.time ?? '00:00'}:00Z`)
                : c.number,
        ),
      )
      cells.forEach((c, i) => {
        if (c?.kind === 'date')
          row.getCell(i + 1).numFmt = c.time === null ? 'ddd d mmm yyyy' : 'ddd d mmm yyyy hh:mm'
        if (c?.kind === 'money') row.getCell(i + 1).numFmt = moneyFormat(data.columns[i]!.currency!)
        if (c?.kind === 'hours') row.getCell(i + 1).numFmt = '0.00'
      })
    }
    if (group.rows.length)
      data.columns.forEach(
        (c, i) =>
          c.sums &&
          ranges[i]!.push(
            `${sheet.getColumn(i + 1).letter}${from}:${sheet.getColumn(i + 1).letter}${sheet.rowCount}`,
          ),
      )
  }
  if (data.columns.some((c) => c.sums) && sheet.rowCount > 1) {
    const total = sheet.addRow(['Total'])
    total.font = { bold: true }
    total.border = { top: { style: 'medium' } }
    data.columns.forEach((c, i) => {
      if (!c.sums || !ranges[i]!.length) return
      const sum = data.groups
        .flatMap((g) => g.rows)
        .reduce((n, row) => n + (row[i] && 'number' in row[i] ? row[i].number : 0), 0)
      total.getCell(i + 1).value = {
        formula: `SUM(${ranges[i]!.join(',')})`,
        result: Math.round(sum * 100) / 100,
      }
      total.getCell(i + 1).numFmt = c.currency ? moneyFormat(c.currency) : '0.00'
    })
  }
  return Buffer.from(await book.xlsx.writeBuffer())
}

/** What a view finds that has a due date, as an iCalendar file. */
export function toIcs(engine: Engine, viewer: Viewer, name: string, query: TaskQuery): Buffer {
  const ids = [
    ...new Set(
      outline(engine, viewer, { ...query, group: null, tree: false, sums: [] }).groups.flatMap(
        (g) => g.ids,
      ),
    ),
  ]
  const entries = taskRows(engine, viewer, ids).flatMap((task): CalendarEntry[] => {
    if (task.due === null) return []
    const { description } = engine.db
      .prepare('select description from tasks where id = ?')
      .get(task.id) as { description: string }
    const timed = task.dueTime !== null && (task.start === null || task.start === task.due)
    return [
      {
        uid: `task-${task.id}@fernwick`,
        summary:
          task.client && !task.title.includes(task.client.short)
            ? `${task.title} (${task.client.short})`
            : task.title,
        description: [plainText(description), task.assignees.map((a) => a.name).join(', ')]
          .filter(Boolean)
          .join('\n\n'),
        categories: task.tags.map((t) => t.name),
        when: timed
          ? {
              at: toInstant(task.due as never, task.dueTime as never, engine.firm.zone()),
              minutes: task.estimate ?? 30,
            }
          : { first: task.start ?? task.due, last: task.due },
        stamp: engine.clock.now(),
      },
    ]
  })
  return Buffer.from(icalendar(name, entries), 'utf8')
}
