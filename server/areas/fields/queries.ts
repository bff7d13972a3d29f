import type { SQLiteColumn } from 'drizzle-orm/sqlite-core'
import { and, asc, count, eq, isNull, max, ne, notExists, or, sql } from 'drizzle-orm'
import type { FieldId, PersonId, ProjectId, TagId, TemplateId } from '#core/brands.ts'
import type { Lookup } from '#core/conditions/ask.ts'
import { lookupWith, type CustomField, type TagRow } from '#contract/fields.ts'
import type { Readers } from '#contract/words.ts'
import { ready, within, type Reader } from '../../database/query.ts'
import { caseless } from '../../database/sql.ts'
import {
  clientTags,
  clientValues,
  fields,
  fieldValues,
  hiddenFields,
  people,
  projectValues,
  tags,
  taskTags,
} from '../../database/tables/index.ts'
import { isGuest, mayStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import { seesItsProject } from '../access/queries.ts'
import { stateRow } from '../states/queries.ts'

/** A field as it is kept. */
export const fieldColumns = {
  id: fields.id,
  of: fields.of,
  name: fields.name,
  kind: fields.kind,
  options: fields.options,
  projectId: fields.projectId,
  templateId: fields.templateId,
  hidden: fields.hidden,
  readers: fields.readers,
}
const every = ready((orm) =>
  orm.select(fieldColumns).from(fields).orderBy(asc(fields.position), asc(fields.id)),
)
const byId = ready((orm, a: { id: FieldId }) =>
  orm.select(fieldColumns).from(fields).where(eq(fields.id, a.id)),
)
const shownIn = ready((orm, a: { project: ProjectId | null; template: TemplateId | null }) =>
  orm
    .select(fieldColumns)
    .from(fields)
    .where(
      and(
        eq(fields.of, 'task'),
        eq(fields.hidden, false),
        or(isNull(fields.projectId), eq(fields.projectId, sql`${a.project}`)),
        or(isNull(fields.templateId), eq(fields.templateId, sql`${a.template}`)),
        notExists(
          orm
            .select({ id: hiddenFields.id })
            .from(hiddenFields)
            .where(
              and(
                eq(hiddenFields.fieldId, fields.id),
                eq(hiddenFields.projectId, sql`${a.project}`),
              ),
            ),
        ),
      ),
    )
    .orderBy(asc(fields.position), asc(fields.id)),
)

export const allFields = (reader: Reader): CustomField[] => every.all(reader)
export const fieldRow = (reader: Reader, id: FieldId): CustomField | undefined =>
  byId.get(reader, { id })

const nameOf = ready((orm, a: { id: PersonId }) =>
  orm.select({ name: people.name }).from(people).where(eq(people.id, a.id)),
)
/** Finds fields of tasks by their path. */
export const taskFields = (reader: Reader): Lookup =>
  lookupWith({
    custom: (id) => fieldRow(reader, id),
    state: (id) => stateRow(reader, id),
    nameOf: (id) => nameOf.get(reader, { id })?.name,
  })
/** The same for somebody: what is not theirs to ask is not there. */
export function fieldsFor(reader: Reader, viewer: Viewer): Lookup {
  const every = taskFields(reader)
  if (mayStructure(viewer)) return every
  return (path) => {
    const found = every(path)
    if (!found || !readsField(viewer, found.readers)) return undefined
    const own = found.custom === undefined ? undefined : fieldRow(reader, found.custom)
    return own && !seesField(reader, viewer, own) ? undefined : found
  }
}

/** Whether somebody reads the values of a field. */
export const readsField = (viewer: Viewer, readers: Readers = 'everyone'): boolean =>
  readers === 'everyone' || (readers === 'members' ? !isGuest(viewer) : mayStructure(viewer))
/** Whether a field is there for somebody: theirs to read, and of no project they do not see. */
export const seesField = (reader: Reader, viewer: Viewer, field: CustomField): boolean =>
  readsField(viewer, field.readers) &&
  (field.projectId === null ||
    seesItsProject.get(reader, { id: field.projectId, sight: sightOf(viewer) }) !== undefined)
export const fieldsSeen = (reader: Reader, viewer: Viewer): CustomField[] =>
  allFields(reader).filter((field) => seesField(reader, viewer, field))

/** A project as its fields need it: its number, and the template it came from. */
export interface FieldsHome {
  readonly id: ProjectId
  readonly templateId: TemplateId | null
}
/**
 * The fields that a task of a project (or of none) shows: the firm's, its template's and its own,
 * less what is hidden.
 */
export const fieldsOf = (reader: Reader, project: FieldsHome | null): CustomField[] =>
  shownIn.all(reader, { project: project?.id ?? null, template: project?.templateId ?? null })

export const lastFieldPosition = ready((orm) =>
  orm.select({ position: max(fields.position) }).from(fields),
)
type Values = typeof fieldValues | typeof projectValues | typeof clientValues
const chosenIn = (values: Values) =>
  within((orm, a: { field: FieldId; choice: string }) =>
    orm
      .select({ times: count() })
      .from(values)
      .where(and(eq(values.fieldId, a.field), eq(values.text, a.choice))),
  )
/** How many of what a field is on have a choice chosen. */
export const choosing = {
  task: chosenIn(fieldValues),
  project: chosenIn(projectValues),
  client: chosenIn(clientValues),
}
const valuesOn = (values: typeof projectValues | typeof clientValues, owner: SQLiteColumn) =>
  within((orm, a: { id: number }) =>
    orm
      .select({
        ...{ id: sql<number>`${values.id}`, fieldId: values.fieldId },
        ...{ text: values.text, number: values.number },
      })
      .from(values)
      .where(sql`${owner} = ${a.id}`),
  )
/** The values that a project or a client has. */
export const valuesOf = {
  project: valuesOn(projectValues, projectValues.projectId),
  client: valuesOn(clientValues, clientValues.clientId),
}
export const hidingOf = ready((orm, a: { project: ProjectId; field: FieldId }) =>
  orm
    .select({ id: hiddenFields.id })
    .from(hiddenFields)
    .where(and(eq(hiddenFields.projectId, a.project), eq(hiddenFields.fieldId, a.field))),
)
export const hiddenIn = ready((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: hiddenFields.fieldId })
    .from(hiddenFields)
    .where(eq(hiddenFields.projectId, a.project)),
)

export const tagColumns = { id: tags.id, name: tags.name, colour: tags.colour }
const everyTag = ready((orm) => orm.select(tagColumns).from(tags).orderBy(caseless(tags.name)))
export const listTags = (reader: Reader): TagRow[] => everyTag.all(reader)
export const tagById = ready((orm, a: { id: TagId }) =>
  orm.select(tagColumns).from(tags).where(eq(tags.id, a.id)),
)
/** Another tag of the same name. */
export const namesake = ready((orm, a: { name: string; but: TagId }) =>
  orm
    .select({ name: tags.name })
    .from(tags)
    .where(and(eq(caseless(tags.name), a.name), ne(tags.id, a.but))),
)
export const taggingsWith = within((orm, a: { tag: TagId }) =>
  orm.select({ id: taskTags.id }).from(taskTags).where(eq(taskTags.tagId, a.tag)),
)
export const clientsTagged = within((orm, a: { tag: TagId }) =>
  orm.select({ id: clientTags.id }).from(clientTags).where(eq(clientTags.tagId, a.tag)),
)
