import type { FieldId, ProjectId, TagId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { CustomField, TagRow } from '#contract/fields.ts'
import type { FieldBody, TagBody } from '#contract/setup.ts'
import type { Reader } from '../../database/query.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { projectById } from '../projects/queries.ts'
import { templateById } from '../templates/queries.ts'
import {
  allFields,
  choosing,
  clientsTagged,
  fieldRow,
  fieldsSeen,
  hidingOf,
  lastFieldPosition,
  listTags,
  namesake,
  tagById,
  taggingsWith,
} from './queries.ts'

/** Where a field is shown must be there. @throws Refusal `no-such-project`, `no-such-template`, `firm-wide` */
function checkHome({ reader }: Engine, body: FieldBody): void {
  if (body.projectId && !projectById.get(reader, { id: body.projectId }))
    refuse('no-such-project', `There is no project ${body.projectId}.`, 'projectId')
  if (body.templateId && !templateById.get(reader, { id: body.templateId }))
    refuse('no-such-template', `There is no template ${body.templateId}.`, 'templateId')
  const { of = 'task' } = body
  if (of !== 'task' && (body.projectId || body.templateId))
    refuse('firm-wide', `A field of ${of}s is one of the whole firm.`, 'of')
}
/** @throws Refusal `no-choices`, `no-such-project`, `no-such-template`, `firm-wide`, `name-twice` */
function checkField(engine: Engine, body: FieldBody, id: FieldId | null): void {
  if (body.kind === 'choice' && !body.options.choices?.length)
    refuse('no-choices', 'A choice needs something to choose from.', 'options.choices')
  checkHome(engine, body)
  const { of = 'task' } = body
  const twice = allFields(engine.reader).find(
    (field) =>
      field.id !== id &&
      field.of === of &&
      field.name.toLowerCase() === body.name.toLowerCase() &&
      field.projectId === body.projectId &&
      field.templateId === body.templateId,
  )
  if (twice)
    refuse(
      'name-twice',
      `There is a field “${twice.name}” already${twice.hidden ? '; it is hidden, show it again instead' : ''}.`,
      'name',
    )
}
const columnsOf = ({ kind: _, of: __, ...columns }: FieldBody) => columns

function changing(
  engine: Engine,
  viewer: Viewer,
  work: (write: Writer) => void,
): Changed<CustomField[]> {
  const { change } = engine.journal.change(actorOf(viewer), work)
  return { result: allFields(engine.reader), change }
}

export function makeField(engine: Engine, viewer: Viewer, body: FieldBody): Changed<CustomField[]> {
  needStructure(viewer, 'make fields')
  checkField(engine, body, null)
  const position = (lastFieldPosition.get(engine.reader)?.position ?? -1) + 1
  return changing(engine, viewer, (write) => {
    write.insert('fields', {
      ...{ ...columnsOf(body), kind: body.kind },
      ...{ of: body.of ?? 'task', position },
    })
  })
}

/** Choices that somebody has chosen stay. @throws Refusal `choice-in-use` */
function checkChoices({ reader }: Engine, field: CustomField, body: FieldBody): void {
  const kept = new Set(body.options.choices?.map((choice) => choice.key))
  for (const choice of field.options.choices ?? []) {
    if (kept.has(choice.key)) continue
    const question = choosing[field.of]
    const times = question.get(reader, { field: field.id, choice: choice.key })?.times ?? 0
    const [they, them] =
      times === 1 ? [`One ${field.of} has`, 'it'] : [`${times} ${field.of}s have`, 'them']
    if (times > 0)
      refuse('choice-in-use', `${they} “${choice.name}”; change ${them} first.`, 'options.choices')
  }
}

/** Saves a field. Its type, and what it is on, stay: values would be lost. */
export function saveField(
  engine: Engine,
  viewer: Viewer,
  id: FieldId,
  body: FieldBody,
): Changed<CustomField[]> {
  needStructure(viewer, 'change fields')
  const now = fieldRow(engine.reader, id) ?? refuse('not-found', `There is no field ${id}.`)
  if (now.kind !== body.kind)
    refuse(
      'kind-stays',
      'The type of a field stays as it is, since its values would be lost; hide it and make a new one.',
      'kind',
    )
  if (body.of && now.of !== body.of)
    refuse('of-stays', `This is a field of ${now.of}s, and stays one.`, 'of')
  checkField(engine, { ...body, of: now.of }, id)
  checkChoices(engine, now, body)
  return changing(engine, viewer, (write) => {
    write.update('fields', id, columnsOf(body))
  })
}

/** Hides a field in one project, or shows it again; values stay either way. */
export function hideField(
  engine: Engine,
  viewer: Viewer,
  id: FieldId,
  { projectId, hidden }: { projectId: ProjectId; hidden: boolean },
): Changed<CustomField[]> {
  needStructure(viewer, 'hide fields')
  if (fieldRow(engine.reader, id)?.of !== 'task')
    refuse('not-found', `There is no field of tasks ${id}.`)
  if (!projectById.get(engine.reader, { id: projectId }))
    refuse('not-found', `There is no project ${projectId}.`, 'projectId')
  const row = hidingOf.get(engine.reader, { project: projectId, field: id })
  return changing(engine, viewer, (write) => {
    if (hidden && !row) write.insert('hiddenFields', { projectId, fieldId: id })
    if (!hidden && row) write.remove('hiddenFields', row.id)
  })
}

/** The tags that everybody may choose from. */
export function tagList({ reader }: Engine, viewer: Viewer): TagRow[] {
  needMember(viewer, 'see the tags')
  return listTags(reader)
}
/** The fields of the firm, for who sets them up. */
export function fieldList({ reader }: Engine, viewer: Viewer): CustomField[] {
  needMember(viewer, 'see the fields')
  return fieldsSeen(reader, viewer)
}

/** @throws Refusal `tag-gone` */
export function checkTags(reader: Reader, tags: readonly TagId[]): void {
  for (const id of tags)
    if (!tagById.get(reader, { id }))
      refuse('tag-gone', 'That tag was removed in the meantime.', 'tags')
}
function freeName({ reader }: Engine, name: string, id: TagId | null): void {
  const twice = namesake.get(reader, { name, but: id ?? 0 })
  if (twice) refuse('name-twice', `There is a tag “${twice.name}” already.`, 'name')
}
function needTag({ reader }: Engine, id: TagId): void {
  if (!tagById.get(reader, { id })) refuse('not-found', 'That tag is gone.')
}

/** Every member may make a tag. */
export function makeTag(engine: Engine, viewer: Viewer, body: TagBody): Changed<TagRow> {
  needMember(viewer, 'make tags')
  freeName(engine, body.name, null)
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('tags', body),
  )
  return { result: { id, ...body }, change }
}

export function saveTag(engine: Engine, viewer: Viewer, id: TagId, body: TagBody): Changed<TagRow> {
  needMember(viewer, 'change tags')
  needTag(engine, id)
  freeName(engine, body.name, id)
  const { change } = engine.journal.change(actorOf(viewer), (write) =>
    write.update('tags', id, body),
  )
  return { result: { id, ...body }, change }
}

/** Takes a tag off every task and client, and away; one change, undone as one. */
export function removeTag(engine: Engine, viewer: Viewer, id: TagId): Changed<void> {
  needStructure(viewer, 'remove tags')
  needTag(engine, id)
  return engine.journal.change(actorOf(viewer), (write) => {
    for (const tagging of taggingsWith.all(engine.reader, { tag: id }))
      write.remove('taskTags', tagging.id)
    for (const tagging of clientsTagged.all(engine.reader, { tag: id }))
      write.remove('clientTags', tagging.id)
    write.remove('tags', id)
  })
}
