import exceljs from 'exceljs'
import { unzipSync, zipSync } from 'fflate'
import { Refusal, refuse } from '#core/refusal.ts'
import {
  checkedTable,
  MOST_COLUMNS,
  tooManyColumns,
  tooManyRows,
  type FileRows,
  type Wanted,
} from './table.ts'

/**
 * A date of a workbook, which knows no zones, with its time where it has one: 2026-12-03,
 * 2026-12-03 15:00. Empty for one that is no date of any calendar.
 */
const sayWhen = (date: Date): string =>
  Number.isNaN(date.getTime())
    ? ''
    : date.toISOString().slice(0, 16).replace('T00:00', '').replace('T', ' ')

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

/** As many bytes as a workbook may hold, unpacked. */
const MOST_UNPACKED = 96 * 1024 * 1024
/** What is read of a workbook: its sheets with their texts and formats; no pictures, no macros. */
const PARTS =
  /^(\[Content_Types\]|_rels\/.*|xl\/(_rels\/.*|workbook|styles|sharedStrings|worksheets\/[^/]*))/

/**
 * The parts of a workbook that are read, unpacked within bounds and packed anew: what an archive
 * says of its size may not be so. @throws Refusal `too-large`
 */
function boundedBook(bytes: Buffer): ArrayBuffer {
  let unpacked = 0
  const parts = unzipSync(bytes, {
    filter({ name, originalSize }) {
      if (!PARTS.test(name)) return false
      unpacked += originalSize
      if (unpacked > MOST_UNPACKED)
        refuse('too-large', 'This workbook unpacks to over 96 MB; save less of it.', 'file')
      return true
    },
  })
  const packed = zipSync(parts, { level: 0 })
  const copy = new ArrayBuffer(packed.byteLength)
  new Uint8Array(copy).set(packed)
  return copy
}

/** What stands in a sheet by rows and columns far apart, merged or checked, is not gone through. */
const LEFT_OUT = ['dataValidations', 'mergeCells', 'conditionalFormatting', 'autoFilter', 'cols']

async function openBook(bytes: Buffer): Promise<exceljs.Worksheet> {
  const book = new exceljs.Workbook()
  try {
    await book.xlsx.load(boundedBook(bytes), { ignoreNodes: LEFT_OUT })
  } catch (error) {
    if (error instanceof Refusal) throw error
    refuse(
      'not-xlsx',
      'This workbook cannot be read. Save the sheet as XLSX or CSV again and bring that in.',
      'file',
    )
  }
  return book.worksheets[0] ?? refuse('empty-file', 'The workbook has no sheet.', 'file')
}

/** The cells of a sheet that hold something, as rows of text, and how many hold a formula. */
function textsOf(sheet: exceljs.Worksheet, wanted: Wanted) {
  const all: string[][] = []
  let formulas = 0
  sheet.eachRow((row, n) => {
    row.eachCell(({ value }, column) => {
      const text = cellText(value)
      if (!text) return
      if (text.startsWith('=') && typeof value === 'object') formulas++
      // A cell far away: what lies between is not laid out.
      if (n > wanted.most + 1) tooManyRows(n - 1, wanted)
      if (column > MOST_COLUMNS) tooManyColumns()
      while (all.length < n) all.push([])
      const cells = all[n - 1]!
      while (cells.length < column) cells.push('')
      cells[column - 1] = text
    })
  })
  const width = Math.max(0, ...all.map((cells) => cells.length))
  for (const cells of all) while (cells.length < width) cells.push('')
  return { all, formulas }
}

/** Reads the first sheet of a workbook. @throws Refusal as `readCsv` */
export async function readXlsx(bytes: Buffer, wanted: Wanted): Promise<FileRows> {
  const sheet = await openBook(bytes)
  const { all, formulas } = textsOf(sheet, wanted)
  const sheets = sheet.workbook.worksheets.length
  const notes = [
    ...(sheets > 1
      ? [`The workbook has ${sheets} sheets; only the first, “${sheet.name}”, was read.`]
      : []),
    ...(formulas
      ? [
          `${formulas === 1 ? 'One cell holds' : `${formulas} cells hold`} a formula; ` +
            'its text was kept, it was not computed.',
        ]
      : []),
  ]
  return { ...checkedTable(all, wanted), encoding: 'XLSX', notes }
}
