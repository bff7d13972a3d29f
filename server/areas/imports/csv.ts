import Papa from 'papaparse'
import { refuse } from '#core/refusal.ts'
import { checkedTable, tooManyRows, type FileRows, type Wanted } from './table.ts'

/** As many lines of a CSV file, empty ones too, as are read at all. */
const MOST_LINES = 100_000

export function decode(bytes: Buffer): { text: string; encoding: string } {
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

/** A text without the empty lines at its end, in one pass however many there are. */
function withoutEmptyEnd(text: string): string {
  const bare = text.trimEnd()
  const blank = text.slice(bare.length)
  const from = blank.search(/[\r\n]/)
  return from < 0 ? text : bare + blank.slice(0, from)
}

/**
 * Reads a CSV file. Encodings other than UTF-8 are recognised and named.
 * @throws Refusal `empty-file`, `not-csv`, `too-many-rows`.
 */
export function readCsv(bytes: Buffer, wanted: Wanted): FileRows {
  if (bytes.length === 0)
    refuse(
      'empty-file',
      'The file is empty; it needs a heading line and a line for each task.',
      'file',
    )
  const { text, encoding } = decode(bytes)
  const parsed = Papa.parse<string[]>(withoutEmptyEnd(text.replace(/^\uFEFF/, '')), {
    skipEmptyLines: false,
    delimitersToGuess: [',', ';', '\t', '|'],
    preview: MOST_LINES,
  })
  if (parsed.meta.truncated) tooManyRows(MOST_LINES, wanted)
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
  return { ...checkedTable(parsed.data, wanted), encoding, notes }
}
