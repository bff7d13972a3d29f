import { sayValue, type Saying } from '#core/fields/say.ts'
import { customField, type CustomField, type FieldValue } from '#contract/fields.ts'

type Values = Readonly<Record<number, FieldValue>>

/** What an edit says of own fields: those alone whose value was changed; undefined for none. */
export function changedValues(before: Values, now: Values): Record<string, FieldValue> | undefined {
  const changed = Object.entries(now).filter(([id, value]) => before[Number(id)] !== value)
  return changed.length ? Object.fromEntries(changed) : undefined
}

/** The own fields that say something, each with what it says in words. */
export function saidValues(
  { customFields, fields }: { customFields: readonly CustomField[]; fields: Values },
  people: readonly { id: number; name: string }[],
  saying: Saying,
): { name: string; text: string; href: string | null }[] {
  return customFields.flatMap((field) => {
    const value = fields[field.id] ?? null
    if (value === null) return []
    const text =
      field.kind === 'person'
        ? (people.find(({ id }) => id === value)?.name ?? 'somebody who left')
        : sayValue(customField(field), value, saying)
    return [{ name: field.name, text, href: field.kind === 'link' ? String(value) : null }]
  })
}
