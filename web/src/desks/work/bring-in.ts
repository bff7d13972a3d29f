import { readNumber } from '#core/text/read.ts'
import { isSettable } from '#core/fields/field.ts'
import { joined } from '#core/fields/parse.ts'
import type { EditsBody, TaskPatch } from '#contract/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { fieldOf, fieldsIn } from '#web/fields/fields.ts'
import { readCell } from '#web/fields/read.ts'

/** Tasks out of a table: what its columns mean, and what its lines become. */

export interface Rows {
  readonly headings: readonly string[]
  readonly rows: readonly (readonly string[])[]
  readonly notes: readonly string[]
}

const GUESS: readonly [RegExp, string][] = [
  [/^(task|title|subject|what|name|item)/i, 'title'],
  [/^(phase|stage|section|group)/i, 'phaseName'],
  [/^(due|deadline|end|finish)/i, 'due'],
  [/^(start|begin)/i, 'start'],
  [/^(who|assign|owner|responsible|person|on it)/i, 'assignee'],
  [/^(estimate|effort|minutes|hours|duration)/i, 'estimate'],
  [/^prio/i, 'priority'],
  [/^(state|status)/i, 'state'],
  [/^(tag|label)/i, 'tag'],
  [/^client/i, 'client'],
  [/^(desc|note|detail|comment)/i, 'description'],
]

/** What a column can mean: a field, by the name it is known by. */
export interface Meant {
  readonly field: string
  readonly name: string
}
/** What columns can mean in a scope. */
export const meanings = (known: Known): Meant[] => [
  ...fieldsIn(known)
    .filter((f) => isSettable(f) && (f.column || f.type === 'rich'))
    .filter((f) => f.name !== 'project' && f.name !== 'phase')
    .map((f) => ({ field: f.name, name: f.label })),
  { field: 'phaseName', name: 'Phase, made if it is missing' },
]

/** What columns seem to mean by their headings; each field is guessed once. */
export function guessed(headings: readonly string[], fields: readonly Meant[]): string[] {
  const used = new Set<string>()
  return headings.map((heading) => {
    const name = heading.trim().toLowerCase()
    const guess =
      fields.find((field) => field.name.toLowerCase() === name)?.field ??
      GUESS.find(([pattern]) => pattern.test(heading.trim()))?.[1]
    if (guess === undefined || used.has(guess)) return ''
    used.add(guess)
    return guess
  })
}

type Made = EditsBody['make'][number]
type Line = TaskPatch & { readonly phaseName?: string }

/** A column of hours says so at its head: 1.5 under it is an hour and a half. */
function inHours(heading: string, text: string): string {
  const number = /\bhours?\b|\bhrs?\b|\(h\)/i.test(heading) ? readNumber(text) : null
  return number === null ? text : `${number.toFixed(2)}h`
}

/** One cell as a part of the task. @throws Error that says what would be right */
function readPart(field: string, heading: string, text: string, known: Known): Line {
  const words = text.trim()
  if (field === 'title' && !words) return {}
  if (field === 'phaseName') return words ? { phaseName: words.slice(0, 80) } : {}
  const length = fieldOf(known, field)?.type === 'minutes'
  return readCell(known, field, length ? inHours(heading, text) : text)
}

/** One line: its task as far as it can be read, and what cannot be. */
function readLine(
  cells: readonly string[],
  {
    headings,
    mapping,
    known,
  }: { headings: Rows['headings']; mapping: readonly string[]; known: Known },
): { line: Line; bad: string[] } {
  let line: Line = {}
  const bad: string[] = []
  for (const [c, field] of mapping.entries())
    try {
      if (field) line = joined(line, readPart(field, headings[c]!, cells[c] ?? '', known))
    } catch (error) {
      bad.push((error as Error).message)
    }
  if (!line.title && !bad.length) bad.push('There is no title.')
  if (line.start && line.due && line.start > line.due) bad.push('Start: it is after the due date.')
  return { line, bad }
}

/** The tasks that lines become, in the project that is named, and what cannot be read, by line. */
export function readRows(
  file: Rows | null,
  mapping: readonly string[],
  known: Known,
): { made: Made[]; faults: { line: number; text: string }[] } {
  const made: Made[] = []
  const faults: { line: number; text: string }[] = []
  const { headings = [], rows = [] } = file ?? {}
  for (const [i, cells] of rows.entries()) {
    if (cells.every((cell) => !cell.trim())) continue
    const { line, bad } = readLine(cells, { headings, mapping, known })
    if (bad.length) faults.push({ line: i + 2, text: bad.join(' ') })
    else
      made.push({
        ...line,
        title: line.title!,
        ...(known.scope.of === 'project' && { projectId: known.scope.id }),
      })
  }
  return { made, faults }
}
