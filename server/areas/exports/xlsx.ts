import exceljs from 'exceljs'
import { refuse } from '#core/refusal.ts'
import { minorDigits } from '#core/money/money.ts'
import type { Cell } from './cells.ts'
import type { Column, SheetData } from './sheet.ts'

/** A currency's code and its digits, in the words of number formats (ECMA-376, 18.8.31). */
function moneyFormat(currency: string): string {
  const digits = minorDigits(currency)
  return `[$${currency}] #,##0${digits ? `.${'0'.repeat(digits)}` : ''}`
}

/** A cell's value as a workbook keeps it; it knows no zones. */
function valueOf(cell: Cell | null): exceljs.CellValue {
  if (cell === null) return null
  if (cell.kind === 'text') return cell.text
  if (cell.kind === 'date') return new Date(`${cell.date}T${cell.time ?? '00:00'}:00Z`)
  return cell.number
}

/** How a cell is shown; undefined for what needs no format. */
function formatOf(cell: Cell | null, column: Column | undefined): string | undefined {
  if (cell?.kind === 'date') return cell.time === null ? 'ddd d mmm yyyy' : 'ddd d mmm yyyy hh:mm'
  if (cell?.kind === 'money') return moneyFormat(column?.currency ?? 'GBP')
  return cell?.kind === 'hours' ? '0.00' : undefined
}

type Rows = SheetData['groups'][number]['rows']

function addRows(sheet: exceljs.Worksheet, columns: readonly Column[], rows: Rows): void {
  for (const cells of rows) {
    const row = sheet.addRow(cells.map(valueOf))
    for (const [i, cell] of cells.entries()) {
      const format = formatOf(cell, columns[i])
      if (format) row.getCell(i + 1).numFmt = format
    }
  }
}

/** What a column adds up to. */
const sumOf = (data: SheetData, i: number): number =>
  data.groups
    .flatMap((group) => group.rows)
    .reduce((sum, row) => {
      const cell = row[i]
      return sum + (cell && 'number' in cell ? cell.number : 0)
    }, 0)

/** The totals at the foot, as formulas over the rows of each group. */
function addTotals(
  sheet: exceljs.Worksheet,
  data: SheetData,
  spans: readonly (readonly [number, number])[],
): void {
  const total = sheet.addRow(['Total'])
  total.font = { bold: true }
  total.border = { top: { style: 'medium' } }
  for (const [i, column] of data.columns.entries()) {
    if (!column.sums) continue
    const { letter } = sheet.getColumn(i + 1)
    const ranges = spans.map(([from, to]) => `${letter}${from}:${letter}${to}`)
    const cell = total.getCell(i + 1)
    const result = Math.round(sumOf(data, i) * 100) / 100
    cell.value = { formula: `SUM(${ranges.join(',')})`, result }
    cell.numFmt = column.currency ? moneyFormat(column.currency) : '0.00'
  }
}

/** A name as workbooks take it for a sheet: short, of plain signs, and not the one they keep. */
export function sheetName(name: string): string {
  const plain = name
    .replace(/[\\/?*[\]:]/g, ' ')
    .replaceAll("'", '’')
    .slice(0, 31)
    .trim()
  return /^(history)?$/i.test(plain) ? 'Work' : plain
}

function newSheet(book: exceljs.Workbook, name: string, columns: readonly Column[]) {
  const sheet = book.addWorksheet(sheetName(name), { views: [{ state: 'frozen', ySplit: 1 }] })
  sheet.columns = columns.map(({ name: header, field }) => ({
    header,
    key: field,
    width: field === 'title' ? 46 : 18,
  }))
  sheet.getRow(1).font = { bold: true }
  sheet.getRow(1).border = { bottom: { style: 'medium' } }
  return sheet
}

/** As many rows as a workbook is made of: it is laid out whole before it is written. */
const MOST_ROWS = 50_000

/**
 * A workbook: a heading that stays, groups with their totals as formulas, dates and money as what
 * they are. `at` is when it was made, in epoch milliseconds. @throws Refusal `too-many-rows`
 */
export async function toXlsx(name: string, data: SheetData, at: number): Promise<Buffer> {
  const count = data.groups.reduce((sum, group) => sum + group.rows.length, 0)
  if (count > MOST_ROWS)
    refuse(
      'too-many-rows',
      `A workbook takes ${MOST_ROWS.toLocaleString('en-GB')} tasks at most, and this view holds ` +
        `${count.toLocaleString('en-GB')}; save it as CSV, or narrow it.`,
    )
  const book = new exceljs.Workbook()
  book.created = new Date(at)
  const sheet = newSheet(book, name, data.columns)
  const grouped = data.groups.length > 1 || Boolean(data.groups[0]?.name)
  const spans: [number, number][] = []
  for (const group of data.groups) {
    if (grouped) {
      const head = sheet.addRow([`${group.name} (${group.rows.length})`])
      head.font = { bold: true }
      head.border = { bottom: { style: 'thin' } }
    }
    const from = sheet.rowCount + 1
    addRows(sheet, data.columns, group.rows)
    if (group.rows.length) spans.push([from, sheet.rowCount])
  }
  if (spans.length && data.columns.some((column) => column.sums)) addTotals(sheet, data, spans)
  return Buffer.from(await book.xlsx.writeBuffer())
}
