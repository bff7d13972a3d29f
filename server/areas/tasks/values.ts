import type { TaskId } from '#core/brands.ts'
import { isoDate } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { CustomField, CustomKind, FieldValue } from '#contract/fields.ts'
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
const asText = (text: string): Kept => ({ text, number: null })
const asNumber = (number: number): Kept => ({ text: null, number })

/** How each kind of field keeps a value; null where the value does not fit. */
const KEEP: Readonly<
  Record<CustomKind, (value: string | number | boolean, of: CustomField, e: Engine) => Kept | null>
> = {
  text: (value) => (typeof value === 'string' ? asText(value) : null),
  link: (value) =>
    typeof value === 'string' && /^https?:\/\/[^\s]+$/i.test(value) ? asText(value) : null,
  date: (value, field) =>
    typeof value === 'string' ? asText(isoDate(value, `field:${field.id}`)) : null,
  choice: (value, { options }) =>
    options.choices?.some((choice) => choice.key === value) ? asText(String(value)) : null,
  number: (value) => (typeof value === 'number' && Number.isFinite(value) ? asNumber(value) : null),
  money: (value) =>
    typeof value === 'number' && Number.isSafeInteger(value) ? asNumber(value) : null,
  person: (value, _, { reader }) =>
    typeof value === 'number' && personById.get(reader, { id: value }) ? asNumber(value) : null,
  'yes-no': (value) =>
    typeof value === 'boolean' || value === 0 || value === 1 ? asNumber(value ? 1 : 0) : null,
}
/** What each kind takes, as a refusal says it. */
const TAKES: Readonly<Record<CustomKind, string>> = {
  text: 'text',
  link: 'an address that begins with http:// or https://',
  date: 'a date written YYYY-MM-DD',
  choice: 'one of its choices',
  number: 'a number',
  money: 'an amount in whole minor units',
  person: 'a person who is here',
  'yes-no': 'yes or no',
}

/** A value as its field keeps it. @throws Refusal `bad-value` that says what would be right */
function kept(engine: Engine, field: CustomField, value: FieldValue): Kept | null {
  if (value === null || value === '') return null
  return (
    KEEP[field.kind](value, field, engine) ??
    refuse('bad-value', `“${field.name}” takes ${TAKES[field.kind]}.`, `field:${field.id}`)
  )
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
