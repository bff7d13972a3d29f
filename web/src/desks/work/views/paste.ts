import Papa from 'papaparse'
import type { IsoDate } from '#core/brands.ts'
import { readMoney } from '#core/money/money.ts'
import { readDate, readMinutes, readNumber, readWhen } from '#core/text/read.ts'
import { customId } from '#contract/fields.ts'
import type { Scope } from '#contract/query.ts'
import type { EditsBody, NewTask, TaskPatch, TaskRow } from '#contract/tasks.ts'
import { choicesFor, isSettable, specOf, type Known } from './fields.ts'

/** A cell's text as an edit of a field. @throws Error that says what would be right */
export function readCell(known: Known, field: string, text: string, task?: TaskRow): TaskPatch {
  const words = text.trim()
  const spec = specOf(known, field)
  const id = customId(field)
  const own = known.directory.fields.find((f) => f.id === id)
  const bad = (want: string): never => {
    throw new Error(`${spec?.name ?? field}: “${words.slice(0, 40)}” is not ${want}.`)
  }
  if (!spec || !isSettable(field)) return {}
  const put = (value: string | number | null): TaskPatch =>
    id === null
      ? ({
          [{ client: 'clientId', project: 'projectId', phase: 'phaseId', state: 'stateId' }[
            field
          ] ?? field]: value,
        } as TaskPatch)
      : { fields: { [id]: value } }
  switch (spec.type) {
    case 'text':
    case 'link':
      if (field === 'title') return words ? { title: words.slice(0, 200) } : bad('a title')
      return put(words || null)
    case 'date':
      if (field === 'due' && words !== '') {
        const when =
          readWhen(words, known.today as IsoDate) ?? bad('a date, such as 3 Dec or 3/12/2026')
        return { due: when.date, ...(when.time && { dueTime: when.time }) }
      }
      return words === ''
        ? put(null)
        : put(readDate(words, known.today as IsoDate) ?? bad('a date, such as 3 Dec or 3/12/2026'))
    case 'minutes':
      return words === ''
        ? { estimate: null }
        : { estimate: readMinutes(words, true) ?? bad('a length of time, such as 90 or 1h 30m') }
    case 'number':
    case 'money': {
      if (words === '') return put(null)
      return put(
        (spec.type === 'money'
          ? readMoney(words, own?.options.currency ?? 'GBP')
          : readNumber(words)) ?? bad('a number'),
      )
    }
    case 'flag':
      return /^(yes|y|true|1|✓|x)$/i.test(words)
        ? { fields: { [id!]: true } }
        : /^(no|n|false|0|)$/i.test(words)
          ? { fields: { [id!]: false } }
          : bad('yes or no')
    case 'people':
    case 'choice': {
      const choices = choicesFor(known, field, task)
      const named = (name: string) => {
        const key = name.trim().toLowerCase()
        const found = choices.filter((c) => c.name.toLowerCase() === key)
        const close = found.length
          ? found
          : choices.filter((c) => c.name.toLowerCase().startsWith(key))
        if (field === 'client' && !close.length) {
          const short = known.directory.clients.find((c) => c.short.toLowerCase() === key)
          if (short) return short.id
        }
        return close.length === 1
          ? close[0]!.value
          : bad(
              close.length
                ? `clear: ${close
                    .map((c) => c.name)
                    .slice(0, 3)
                    .join(', ')}`
                : `one of: ${choices
                    .slice(0, 6)
                    .map((c) => c.name)
                    .join(', ')}`,
            )
      }
      if (field === 'assignee' || field === 'tag') {
        const ids = words === '' ? [] : words.split(/[,;]/).map((n) => Number(named(n)))
        return field === 'assignee' ? { assignees: ids } : { tags: ids }
      }
      if (words === '')
        return field === 'state' ? {} : field === 'priority' ? { priority: 'normal' } : put(null)
      return put(named(words))
    }
    default:
      return {}
  }
}

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
    const patch: TaskPatch = {}
    line.slice(0, fields.length).forEach((cell, c) => {
      try {
        const { fields: values, ...rest } = readCell(known, fields[c]!, cell, task)
        Object.assign(patch, rest)
        if (values) patch.fields = { ...patch.fields, ...values }
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
