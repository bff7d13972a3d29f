import type { FieldId, ProjectId } from '#core/brands.ts'
import { keptValue } from '#core/fields/parse.ts'
import { refuse } from '#core/refusal.ts'
import { customField, type CustomField, type FieldValue } from '#contract/fields.ts'
import type { FieldOwner } from '#contract/words.ts'
import type { Reader } from '../../database/query.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { personById } from '../people/queries.ts'
import { allFields, readsField, valuesOf } from './queries.ts'

/** Values of the firm's own fields, and those of projects and clients. */

/** A value as it is kept: one of the two is null. */
export interface Kept {
  readonly text: string | null
  readonly number: number | null
}
/** What fields are on, beside tasks. */
type Owner = Exclude<FieldOwner, 'task'>

/** A value as its field keeps it. @throws Refusal `bad-value` that says what would be right */
export function kept({ reader }: Engine, row: CustomField, value: FieldValue): Kept | null {
  const field = customField(row)
  const fit = keptValue(field, value)
  if (fit === null) return null
  if (row.kind === 'person' && !personById.get(reader, { id: Number(fit) }))
    refuse('bad-value', `“${row.name}” takes a person who is here.`, field.name)
  return typeof fit === 'string' ? { text: fit, number: null } : { text: null, number: Number(fit) }
}

/** The fields that projects or clients show to somebody. */
export const fieldsOn = (reader: Reader, viewer: Viewer, of: Owner): CustomField[] =>
  allFields(reader).filter(
    (field) => field.of === of && !field.hidden && readsField(viewer, field.readers),
  )

/** The fields that a project or a client shows to somebody, and their values by field. */
export function detailsOf(
  { reader }: Engine,
  viewer: Viewer,
  of: Owner,
  id: number,
): { customFields: CustomField[]; fields: Record<number, string | number> } {
  const customFields = fieldsOn(reader, viewer, of)
  const shown = new Set(customFields.map((field) => field.id))
  const fields: Record<number, string | number> = {}
  for (const { fieldId, text, number } of valuesOf[of].all(reader, { id })) {
    const value = text ?? number
    if (value !== null && shown.has(fieldId)) fields[fieldId] = value
  }
  return { customFields, fields }
}

/**
 * Looks at values of fields, and answers what sets them on a project or a client; null empties one.
 * @throws Refusal `field-gone`, `bad-value`
 */
export function setDetails(
  engine: Engine,
  viewer: Viewer,
  of: Owner,
  values: Readonly<Record<string, FieldValue>>,
): (write: Writer, id: number) => void {
  const here = fieldsOn(engine.reader, viewer, of)
  const wanted = Object.entries(values).map(([key, value]) => {
    const field =
      here.find(({ id }) => id === Number(key)) ??
      refuse('field-gone', 'This field is not shown here any more.', `fields.${key}`)
    return { fieldId: field.id, next: kept(engine, field, value) }
  })
  return (write, id) => {
    const now = new Map(valuesOf[of].all(engine.reader, { id }).map((row) => [row.fieldId, row]))
    for (const { fieldId, next } of wanted) {
      const row = now.get(fieldId)
      if (row && next) write.update(TABLE[of], row.id, next)
      else if (row) write.remove(TABLE[of], row.id)
      else if (next) insertValue(write, of, id, { fieldId, ...next })
    }
  }
}
const TABLE = { project: 'projectValues', client: 'clientValues' } as const
function insertValue(
  write: Writer,
  of: Owner,
  id: number,
  value: Kept & { readonly fieldId: FieldId },
): void {
  if (of === 'project') write.insert('projectValues', { projectId: id, ...value })
  else write.insert('clientValues', { clientId: id, ...value })
}

/** Gives a project the values that another has. */
export function copyDetails(
  { reader }: Engine,
  write: Writer,
  from: ProjectId,
  projectId: ProjectId,
): void {
  for (const { id: _, ...value } of valuesOf.project.all(reader, { id: from }))
    write.insert('projectValues', { projectId, ...value })
}
