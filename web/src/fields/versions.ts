import { customName, type Field } from '#core/fields/field.ts'
import { fieldsOf } from '#core/fields/catalogue.ts'
import { sayOf, sayValue } from '#core/fields/say.ts'
import { isRef, type Single } from '#core/fields/types.ts'
import type { TaskPatch, TaskSheet } from '#contract/tasks.ts'
import { choicesFor, fieldOf } from './fields.ts'
import type { Known } from './known.ts'

/** What an edit says, and what stands instead of it, in words: for whoever has to choose. */

export interface Difference {
  readonly label: string
  readonly mine: string
  readonly theirs: string
}
type TaskField = Field<'task'>

/** Parts of an edit that are no fields of their own. */
const MORE: Readonly<Record<string, string>> = {
  dueTime: 'Time of day',
  estimates: 'Parts of the estimate',
  doneBy: 'Done when',
  datesFollow: 'Dates follow subtasks',
  stateFollows: 'State follows subtasks',
  archived: 'Archived',
  reviewed: 'Reviewed',
}
const nothing = 'none'

/** What an edit sets a field to, in words: numbers of things by their names. */
function sayEdit(known: Known, field: TaskField, value: unknown, edit: TaskPatch): string {
  if (value === null || value === undefined || value === '') return nothing
  const names = new Map(choicesFor(known, field.name).map((c) => [c.value, c.name]))
  const words = [value].flat().map((each) => {
    const name = names.get(each as string | number)
    return name ?? sayValue(field, each as Single, known)
  })
  const time = field.time && (edit as Readonly<Record<string, unknown>>)[field.time.key]
  return [...words, ...(time ? [String(time)] : [])].join(', ') || nothing
}

/** A part of an edit: the field it sets, if it is one; how the edit calls it, and what to. */
interface Part {
  readonly field: TaskField | undefined
  readonly key: string
  readonly value: unknown
}
const fieldKeyed = (key: string): TaskField | undefined =>
  fieldsOf('task').find((field) => field.key === key)
function partsOf(known: Known, edit: TaskPatch): Part[] {
  return Object.entries(edit).flatMap(([key, value]): Part[] => {
    // A time of day is said with its date.
    if (fieldsOf('task').some(({ time, key: of }) => time?.key === key && of && of in edit))
      return []
    if (key !== 'fields' && key !== 'values') return [{ field: fieldKeyed(key), key, value }]
    return Object.entries(value as object).map(([name, part]) => {
      const path = key === 'fields' ? customName(Number(name)) : name
      return { field: fieldOf(known, path), key: path, value: part }
    })
  })
}

const plain = (value: unknown): string =>
  value === null || value === undefined || value === ''
    ? nothing
    : typeof value === 'boolean'
      ? value
        ? 'yes'
        : 'no'
      : typeof value === 'object'
        ? Object.values(value).join(', ')
        : String(value)

/** An edit and the version it met, part by part. */
export const differences = (known: Known, mine: TaskPatch, theirs: TaskSheet): Difference[] =>
  partsOf(known, mine).map(({ field, key, value }) =>
    field
      ? {
          label: field.label,
          mine: sayEdit(known, field, value, mine),
          theirs: sayOf(field, theirs, known) || nothing,
        }
      : {
          label: MORE[key] ?? key,
          mine: plain(value),
          theirs: plain((theirs as unknown as Record<string, unknown>)[key]),
        },
  )
/** What an edit says, in one line. */
export const sayPatch = (known: Known, edit: TaskPatch): string =>
  partsOf(known, edit)
    .map(({ field, key, value }) =>
      field
        ? `${field.label}: ${sayEdit(known, field, value, edit)}`
        : `${MORE[key] ?? key}: ${plain(value)}`,
    )
    .join('; ')

const same = (a: unknown, b: unknown): boolean =>
  JSON.stringify(a ?? null) === JSON.stringify(b ?? null)
const idsOf = (value: unknown): unknown =>
  [value].flat().map((each) => (isRef(each) ? each.id : each))
/** What parts of an edit are kept as that are no fields. */
const KEPT: Readonly<Record<string, (of: TaskSheet) => unknown>> = {
  estimates: ({ assignees }) => assignees.map(({ id, estimate }) => [id, estimate]),
}

/** Whether what an edit touches still is in `theirs` as it was in `base`. */
export const untouched = (
  known: Known,
  edit: TaskPatch,
  base: TaskSheet,
  theirs: TaskSheet,
): boolean =>
  partsOf(known, edit).every(({ field, key }) => {
    if (field) return same(idsOf(field.read(base, known)), idsOf(field.read(theirs, known)))
    const kept = KEPT[key] ?? ((of: TaskSheet) => (of as unknown as Record<string, unknown>)[key])
    return same(kept(base), kept(theirs))
  })
