import { guessMapping, isHeading, MOST_TEMPLATE_TASKS } from '#core/formats/template-rows.ts'
import type { ReadTable } from '#contract/clockwork.ts'
import { readRows } from '../imports/rows.ts'

/**
 * Reads an uploaded CSV or workbook, or what was pasted, into a table with a guess at what the
 * columns mean; a first line that says nothing headings say is a task like the others.
 * @throws Refusal as `readRows`
 */
export async function readTable(bytes: Buffer): Promise<ReadTable> {
  const wanted = { most: MOST_TEMPLATE_TASKS, what: 'a template holds', isHeading }
  const read = await readRows(bytes, wanted)
  return { ...read, mapping: guessMapping(read.headings, read.rows) }
}
