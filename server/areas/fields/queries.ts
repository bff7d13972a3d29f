import type { CustomField, CustomKind, FieldOptions } from '#contract/fields.ts'
import type { Database } from '../../database/open.ts'

interface Raw {
  id: number
  name: string
  kind: CustomKind
  options: string
  projectId: number | null
  templateId: number | null
  hidden: number
}
const SELECT = 'select id, name, kind, options, projectId, templateId, hidden from fields'
const toField = (raw: Raw): CustomField => ({
  ...raw,
  options: JSON.parse(raw.options) as FieldOptions,
  hidden: raw.hidden === 1,
})

export const allFields = (db: Database): CustomField[] =>
  (db.prepare(`${SELECT} order by position, id`).all() as Raw[]).map(toField)

export function fieldRow(db: Database, id: number): CustomField | undefined {
  const raw = db.prepare(`${SELECT} where id = ?`).get(id) as Raw | undefined
  return raw && toField(raw)
}

/**
 * The fields that a task of a project (or of none) shows: the firm's, its template's and its own,
 * less what is hidden.
 */
export function fieldsOf(db: Database, projectId: number | null): CustomField[] {
  return (
    db
      .prepare(
        `${SELECT} f where f.hidden = 0 and (f.projectId is null or f.projectId = @p) and (f.templateId is null or f.templateId = (select templateId from projects where id = @p))
         and not exists (select 1 from hiddenFields h where h.fieldId = f.id and h.projectId = @p) order by f.position, f.id`,
      )
      .all({ p: projectId }) as Raw[]
  ).map(toField)
}
