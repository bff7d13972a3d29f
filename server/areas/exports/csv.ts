import Papa from 'papaparse'
import type { Cell } from './cells.ts'
import type { SheetData } from './sheet.ts'

function plain(cell: Cell | null): string | number {
  if (cell === null) return ''
  if (cell.kind === 'text') return cell.text
  if (cell.kind !== 'date') return cell.number
  return cell.time === null ? cell.date : `${cell.date} ${cell.time}`
}

/**
 * A CSV file (RFC 4180) with a byte order mark, so that spreadsheets read its letters right. What
 * would be a formula is made text.
 */
export function toCsv(data: SheetData): Buffer {
  const grouped = data.groups.length > 1 || Boolean(data.groups[0]?.name)
  const head = [...(grouped ? ['Group'] : []), ...data.columns.map((column) => column.name)]
  const rows = data.groups.flatMap((group) =>
    group.rows.map((row) => [...(grouped ? [group.name] : []), ...row.map(plain)]),
  )
  const options = { newline: '\r\n', escapeFormulae: true }
  return Buffer.from(`\ufeff${Papa.unparse([head, ...rows], options)}\r\n`, 'utf8')
}
