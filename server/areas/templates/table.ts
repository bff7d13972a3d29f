import Papa from 'papaparse'
import { guessMapping, MOST_TEMPLATE_TASKS } from '#core/formats/template-rows.ts'
import { refuse } from '#core/refusal.ts'
import type { ReadTable } from '#contract/clockwork.ts'

function decode(bytes: Buffer): { text: string; encoding: string } {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' }
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' }
  if (bytes.includes(0)) refuse('not-csv', 'This is not a CSV file: it holds binary data. Save the sheet as CSV and bring that in.', 'file')
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' }
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'Windows-1252' }
  }
}

/**
 * Reads an uploaded CSV into a table with its headings and a guess at what the columns mean. Encodings other
 * than UTF-8 are recognised and named.
 * @throws Refusal `empty-file`, `not-csv`, `too-many-rows`.
 */
export function readTable(bytes: Buffer): ReadTable {
  if (bytes.length === 0) refuse('empty-file', 'The file is empty; it needs a heading line and a line for each task.', 'file')
  const { text, encoding } = decode(bytes)
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').replace(/[\r\n]+\s*$/, ''), { skipEmptyLines: false, delimitersToGuess: [',', ';', '\t', '|'] })
  const all = parsed.data
  while (all.length && all.at(-1)!.every((c) => !c.trim())) all.pop()
  if (all.length === 0) refuse('empty-file', 'The file holds no text; it needs a heading line and a line for each task.', 'file')
  const headings = all[0]!.map((h) => h.trim())
  if (/^\s*(<|\{|%PDF|PK)/.test(text)) refuse('not-csv', 'This is not a CSV file. Save the sheet as CSV and bring that in.', 'file')
  const rows = all.slice(1)
  if (rows.length === 0) refuse('empty-file', 'The file has a heading line and nothing below it; put each task on a line of its own.', 'file')
  if (rows.length > MOST_TEMPLATE_TASKS)
    refuse(
      'too-many-rows',
      `The file has ${rows.length.toLocaleString('en-GB')} rows; a template holds ${MOST_TEMPLATE_TASKS.toLocaleString('en-GB')} tasks at most. Split it into several files.`,
      'file',
    )
  const notes: string[] = []
  if (encoding !== 'UTF-8') notes.push(`The file is not UTF-8; it was read as ${encoding}. Look whether accents came through.`)
  const ragged = parsed.errors.find((e) => e.type === 'Quotes')
  if (ragged) notes.push(`Line ${(ragged.row ?? 0) + 1} has a quotation mark that is never closed; look at the rows from there on.`)
  return { headings, rows, mapping: guessMapping(headings), encoding, notes }
}
