import { readCsv } from './csv.ts'
import type { FileRows, Wanted } from './table.ts'
import { readXlsx } from './xlsx.ts'

/** Reads a CSV file or a workbook, whichever it is. */
export const readRows = async (bytes: Buffer, wanted: Wanted): Promise<FileRows> =>
  bytes[0] === 0x50 && bytes[1] === 0x4b ? readXlsx(bytes, wanted) : readCsv(bytes, wanted)
