import { readCsv } from './csv.ts'
import type { FileRows } from './table.ts'
import { readXlsx } from './xlsx.ts'

/** Reads a CSV file or a workbook, whichever it is. */
export const readRows = async (bytes: Buffer, most: number, what: string): Promise<FileRows> =>
  bytes[0] === 0x50 && bytes[1] === 0x4b ? readXlsx(bytes, most, what) : readCsv(bytes, most, what)
