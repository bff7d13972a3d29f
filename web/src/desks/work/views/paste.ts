import Papa from 'papaparse'
import type { Scope } from '#contract/query.ts'
import type { EditsBody, NewTask, TaskPatch, TaskRow } from '#contract/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { joined } from '#core/fields/parse.ts'
import { readCell } from '#web/fields/read.ts'

/**
 * What a spreadsheet's copied cells mean, laid over rows from the active cell: edits, new tasks
 * below the last row, and what could not be read.
 */
export function pasted(
  text: string,
  fields: readonly string[],
  rows: readonly (TaskRow | undefined)[],
  known: Known,
  scope: Scope,
): EditsBody & { faults: string[] } {
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' })
  const edits: EditsBody['edits'] = []
  const make: NewTask[] = []
  const faults: string[] = []
  data.forEach((line, r) => {
    const task = rows[r]
    let patch: TaskPatch = {}
    line.slice(0, fields.length).forEach((cell, c) => {
      try {
        patch = joined(patch, readCell(known, fields[c]!, cell, task))
      } catch (error) {
        faults.push(`Row ${r + 1}, ${(error as Error).message}`)
      }
    })
    if (task) {
      if (Object.keys(patch).length) edits.push({ id: task.id, patch })
    } else if (patch.title)
      make.push({
        ...patch,
        title: patch.title,
        ...(scope.of === 'project' && { projectId: scope.id }),
        ...(scope.of === 'client' && { clientId: scope.id }),
      })
    else if (line.some((cell) => cell.trim()))
      faults.push(`Row ${r + 1} has no title, so no task can be made of it.`)
  })
  return { edits, make, faults }
}
