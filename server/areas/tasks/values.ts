import type { TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { FieldValue } from '#contract/fields.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { fieldsOf, type FieldsHome } from '../fields/queries.ts'
import { kept } from '../fields/values.ts'
import { valueOf } from './queries.ts'

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
