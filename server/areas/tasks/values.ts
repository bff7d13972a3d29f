import type { TaskId } from '#core/brands.ts'
import { keptValue } from '#core/fields/parse.ts'
import { refuse } from '#core/refusal.ts'
import { customField, type CustomField, type FieldValue } from '#contract/fields.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { fieldsOf, type FieldsHome } from '../fields/queries.ts'
import { personById } from '../people/queries.ts'
import { valueOf } from './queries.ts'

/** A value as it is kept: one of the two is null. */
interface Kept {
  readonly text: string | null
  readonly number: number | null
}

/** A value as its field keeps it. @throws Refusal `bad-value` that says what would be right */
function kept({ reader }: Engine, row: CustomField, value: FieldValue): Kept | null {
  const field = customField(row)
  const fit = keptValue(field, value)
  if (fit === null) return null
  if (row.kind === 'person' && !personById.get(reader, { id: Number(fit) }))
    refuse('bad-value', `“${row.name}” takes a person who is here.`, field.name)
  return typeof fit === 'string' ? { text: fit, number: null } : { text: null, number: Number(fit) }
}

/** Sets values of custom fields; null empties one. @throws Refusal `field-gone`, `bad-value` */
export function setFields(
  engine: Engine,
  write: Writer,
  { taskId, home }: { taskId: TaskId; home: FieldsHome | null },
  values: Readonly<Record<string, FieldValue>>,
): boolean {
  const here = fieldsOf(engine.reader, home)
  let changed = false
  for (const [key, value] of Object.entries(values)) {
    const field =
      here.find((f) => f.id === Number(key)) ??
      refuse('field-gone', 'This field is not shown here any more.', `field:${key}`)
    const row = valueOf.get(engine.reader, { id: taskId, field: field.id })
    const next = kept(engine, field, value)
    if (next === null && row) write.remove('fieldValues', row.id)
    else if (next && !row) write.insert('fieldValues', { taskId, fieldId: field.id, ...next })
    else if (!next || !row || !write.update('fieldValues', row, next)) continue
    changed = true
  }
  return changed
}
