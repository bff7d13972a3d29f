import { guessMapping, MOST_TEMPLATE_TASKS } from '#core/formats/template-rows.ts'
import type { ReadTable } from '#contract/clockwork.ts'
import { readCsv } from '../imports/csv.ts'

/**
 * Reads an uploaded CSV into a table with its headings and a guess at what the columns mean.
 * @throws Refusal as `readCsv`
 */
export function readTable(bytes: Buffer): ReadTable {
  const read = readCsv(bytes, MOST_TEMPLATE_TASKS, 'a template holds')
  return { ...read, mapping: guessMapping(read.headings) }
}
