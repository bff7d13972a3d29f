import { isSettable } from '#core/fields/field.ts'
import { parseEdit } from '#core/fields/parse.ts'
import { inBox } from '#core/fields/say.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { isMany } from '#core/fields/types.ts'
import { canSet, choicesFor, fieldOf, fieldsIn, type TaskField } from './fields.ts'
import type { Known } from './known.ts'

/** Clients are also known by their short names. */
const aliasOf = ({ directory }: Known, { to }: TaskField) =>
  to === 'client'
    ? (name: string) => directory.clients.find((c) => c.short.toLowerCase() === name)?.id
    : undefined

/** A cell's text as an edit of a field. @throws Error that says what would be right */
export function readCell(known: Known, path: string, typed: string, task?: TaskRow): TaskPatch {
  const field = fieldOf(known, path)
  if (!field || !isSettable(field)) return {}
  const alias = aliasOf(known, field)
  const choices = choicesFor(known, path, task)
  return parseEdit(field, typed, { today: known.today, choices, ...(alias && { alias }) })
}

/** A cell's text as an edit; null where it cannot be read, or says nothing. */
function readOr(known: Known, path: string, words: string): TaskPatch | null {
  try {
    const edit = readCell(known, path, words)
    return Object.keys(edit).length ? edit : null
  } catch {
    return null
  }
}
/** Fields that a line can set by their name: those of one value. */
export const writtenFields = (known: Known) =>
  fieldsIn(known)
    .filter(({ name, type }) => canSet(known, name) && !isMany(type) && name !== 'title')
    .map(({ name, label }) => ({
      name: label,
      read: (words: string) => readOr(known, name, words),
    }))

/** What stands in the box of a field that is written, not chosen. */
export function boxText(known: Known, field: TaskField, task: TaskRow): string {
  const text = inBox(field, field.read(task, known))
  const time = text && field.time?.read(task)
  return time ? `${text} ${time}` : text
}
