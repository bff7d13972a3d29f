import exceljs from 'exceljs'
import Papa from 'papaparse'
import { refuse } from '#core/refusal.ts'

function decode(bytes: Buffer): { text: string; encoding: string } {
  if (bytes[0] === 0xff && bytes[1] === 0xfe)
    return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' }
  if (bytes[0] === 0xfe && bytes[1] === 0xff)
    return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' }
  if (bytes.includes(0))
    refuse(
      'not-csv',
      'This is not a CSV file: it holds binary data. Save the sheet as CSV and bring that in.',
      'file',
    )
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' }
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'Windows-1252' }
  }
}

/** Rows of text with their headings, as a file holds them; `notes` say what to look at. */
export interface FileRows {
  readonly headings: string[]
  readonly rows: string[][]
  readonly encoding: string
  readonly notes: string[]
}

/**
 * What a table must hold to be brought in: headings, something below them, not more than `most`
 * rows of `what`.
 */
function checked(all: string[][], most: number, what: string): Pick<FileRows, 'headings' | 'rows'> {
  while (all.length && all.at(-1)!.every((c) => !c.trim())) all.pop()
  if (all.length === 0)
    refuse(
      'empty-file',
      'The file holds no text; it needs a heading line and a line for each task.',
      'file',
    )
  const rows = all.slice(1)
  if (rows.length === 0)
    refuse(
      'empty-file',
      'The file has a heading line and nothing below it; put each task on a line of its own.',
      'file',
    )
  if (rows.length > most)
    refuse(
      'too-many-rows',
      `The file has ${rows.length.toLocaleString('en-GB')} rows; ` +
        `${what} ${most.toLocaleString('en-GB')} tasks at most. Split it into several files.`,
      'file',
    )
  return { headings: all[0]!.map((h) => h.trim()), rows }
}

/**
 * Reads a CSV file. Encodings other than UTF-8 are recognised and named.
 * @throws Refusal `empty-file`, `not-csv`, `too-many-rows`.
 */
export function readCsv(bytes: Buffer, most: number, what: string): FileRows {
  if (bytes.length === 0)
    refuse(
      'empty-file',
      'The file is empty; it needs a heading line and a line for each task.',
      'file',
    )
  const { text, encoding } = decode(bytes)
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').replace(/[\r\n]+\s*$/, ''), {
    skipEmptyLines: false,
    delimitersToGuess: [',', ';', '\t', '|'],
  })
  if (/^\s*(<|\{|%PDF|PK)/.test(text))
    refuse('not-csv', 'This is not a CSV file. Save the sheet as CSV and bring that in.', 'file')
  const notes: string[] = []
  if (encoding !== 'UTF-8')
    notes.push(
      `The file is not UTF-8; it was read as ${encoding}. Look whether accents came through.`,
    )
  const ragged = parsed.errors.find((e) => e.type === 'Quotes')
  if (ragged)
    notes.push(
      `Line ${(ragged.row ?? 0) + 1} has a quotation mark that is never closed; look at the rows from there on.`,
    )
  return { ...checked(parsed.data, most, what), encoding, notes }
}

/**
 * A date of a workbook, which knows no zones, with its time where it has one: 2026-12-03,
 * 2026-12-03 15:00.
 */
const sayWhen = (date: Date): string =>
  date.toISOString().slice(0, 16).replace('T00:00', '').replace('T', ' ')

/** A cell of a workbook as text. A formula is kept as its text, never computed. */
function cellText(value: exceljs.CellValue): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return sayWhen(value)
  if (typeof value !== 'object') return String(value)
  if ('formula' in value || 'sharedFormula' in value)
    return `=${'formula' in value ? value.formula : value.sharedFormula}`
  if ('richText' in value) return value.richText.map((part) => part.text).join('')
  if ('hyperlink' in value) return typeof value.text === 'string' ? value.text : value.hyperlink
  return 'error' in value ? String(value.error) : ''
}

/** The bytes of a buffer alone, which may be a part of a larger one. */
function arrayOf(bytes: Buffer): ArrayBuffer {
  const copy = new ArrayBuffer(bytes.byteLength)
  new Uint8Array(copy).set(bytes)
  return copy
}

/** Reads the first sheet of a workbook. @throws Refusal as `readCsv` */
async function readXlsx(bytes: Buffer, most: number, what: string): Promise<FileRows> {
  const book = new exceljs.Workbook()
  try {
    await book.xlsx.load(arrayOf(bytes))
  } catch {
    refuse(
      'not-xlsx',
      'This workbook cannot be read. Save the sheet as XLSX or CSV again and bring that in.',
      'file',
    )
  }
  const sheet = book.worksheets[0] ?? refuse('empty-file', 'The workbook has no sheet.', 'file')
  const all: string[][] = []
  let formulas = 0
  sheet.eachRow({ includeEmpty: true }, (row, n) => {
    all[n - 1] = Array.from({ length: sheet.columnCount }, (_, i) => {
      const { value } = row.getCell(i + 1)
      if (
        value !== null &&
        typeof value === 'object' &&
        ('formula' in value || 'sharedFormula' in value)
      )
        formulas++
      return cellText(value)
    })
  })
  const notes = [
    ...(book.worksheets.length > 1
      ? [
          `The workbook has ${book.worksheets.length} sheets; only the first, “${sheet.name}”, was read.`,
        ]
      : []),
    ...(formulas
      ? [
          `${formulas === 1 ? 'One cell holds' : `${formulas} cells hold`} a formula; ` +
            'its text was kept, it was not computed.',
        ]
      : []),
  ]
  return {
    ...checked(
      all.map((row) => row ?? []),
      most,
      what,
    ),
    encoding: 'XLSX',
    notes,
  }
}

/** Reads a CSV file or a workbook, whichever it is. */
export const readRows = async (bytes: Buffer, most: number, what: string): Promise<FileRows> =>
  bytes[0] === 0x50 && bytes[1] === 0x4b ? readXlsx(bytes, most, what) : readCsv(bytes, most, what)
