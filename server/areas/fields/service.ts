import { refuse } from '#core/refusal.ts'
import type { CustomField, TagRow } from '#contract/fields.ts'
import type { FieldBody, TagBody } from '#contract/setup.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { allFields, fieldRow } from './queries.ts'

function checkField(engine: Engine, body: FieldBody, id: number | null): void {
  if (body.kind === 'choice' && !body.options.choices?.length)
    refuse('no-choices', 'A choice needs something to choose from.', 'options.choices')
  if (
    body.projectId &&
    !engine.db.prepare('select 1 from projects where id = ?').get(body.projectId)
  )
    refuse('no-such-project', `There is no project ${body.projectId}.`, 'projectId')
  const twice = allFields(engine.db).find(
    (f) =>
      f.id !== id &&
      f.name.toLowerCase() === body.name.toLowerCase() &&
      f.projectId === body.projectId &&
      f.templateId === body.templateId,
  )
  if (twice)
    refuse(
      'name-twice',
      `There is a field “${twice.name}” already${twice.hidden ? '; it is hidden, show it again instead' : ''}.`,
      'name',
    )
}
const columns = (body: FieldBody) => ({
  name: body.name,
  options: JSON.stringify(body.options),
  projectId: body.projectId,
  templateId: body.templateId,
  hidden: body.hidden ? 1 : 0,
})

export function makeField(engine: Engine, viewer: Viewer, body: FieldBody): CustomField[] {
  needStructure(viewer, 'make fields')
  checkField(engine, body, null)
  const { n } = engine.db
    .prepare('select coalesce(max(position), -1) + 1 as n from fields')
    .get() as { n: number }
  engine.journal.change(actorOf(viewer), (write) =>
    write.insert('fields', { ...columns(body), kind: body.kind, position: n }),
  )
  return allFields(engine.db)
}

/** Saves a field. Its type stays: values of another type would be lost. */
export function saveField(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: FieldBody,
): CustomField[] {
  needStructure(viewer, 'change fields')
  const now = fieldRow(engine.db, id) ?? refuse('not-found', `There is no field ${id}.`)
  if (now.kind !== body.kind)
    refuse(
      'kind-stays',
      'The type of a field stays as it is, since its values would be lost; hide it and make a new one.',
      'kind',
    )
  checkField(engine, body, id)
  const kept = new Set(body.options.choices?.map((c) => c.key))
  for (const choice of now.options.choices ?? []) {
    const { n } = engine.db
      .prepare('select count(*) as n from fieldValues where fieldId = ? and text = ?')
      .get(id, choice.key) as { n: number }
    if (!kept.has(choice.key) && n > 0)
      refuse(
        'choice-in-use',
        `${n === 1 ? 'One task has' : `${n} tasks have`} “${choice.name}”; change ${n === 1 ? 'it' : 'them'} first.`,
        'options.choices',
      )
  }
  engine.journal.change(actorOf(viewer), (write) => write.update('fields', id, columns(body)))
  return allFields(engine.db)
}

/** Hides a field in one project, or shows it again; values stay either way. */
export function hideField(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: { projectId: number; hidden: boolean },
): CustomField[] {
  needStructure(viewer, 'hide fields')
  if (!fieldRow(engine.db, id)) refuse('not-found', `There is no field ${id}.`)
  const row = engine.db
    .prepare('select id from hiddenFields where projectId = ? and fieldId = ?')
    .get(body.projectId, id) as { id: number } | undefined
  engine.journal.change(actorOf(viewer), (write) => {
    if (body.hidden && !row)
      write.insert('hiddenFields', { projectId: body.projectId, fieldId: id })
    if (!body.hidden && row) write.remove('hiddenFields', row.id)
  })
  return allFields(engine.db)
}

export const listTags = (engine: Engine): TagRow[] =>
  engine.db
    .prepare('select id, name, colour from tags order by name collate nocase')
    .all() as TagRow[]

function freeName(engine: Engine, name: string, id: number | null): void {
  const twice = engine.db
    .prepare('select name from tags where name = ? collate nocase and id is not ?')
    .get(name, id) as { name: string } | undefined
  if (twice) refuse('name-twice', `There is a tag “${twice.name}” already.`, 'name')
}

/** Every member may make a tag. */
export function makeTag(engine: Engine, viewer: Viewer, body: TagBody): TagRow {
  needMember(viewer, 'make tags')
  freeName(engine, body.name, null)
  return {
    id: engine.journal.change(actorOf(viewer), (write) => write.insert('tags', body)),
    ...body,
  }
}
export function saveTag(engine: Engine, viewer: Viewer, id: number, body: TagBody): TagRow {
  needMember(viewer, 'change tags')
  if (!engine.db.prepare('select 1 from tags where id = ?').get(id))
    refuse('not-found', 'That tag is gone.')
  freeName(engine, body.name, id)
  engine.journal.change(actorOf(viewer), (write) => write.update('tags', id, body))
  return { id, ...body }
}
/** Takes a tag off every task and away; one change, undone as one. */
export function removeTag(engine: Engine, viewer: Viewer, id: number): void {
  needStructure(viewer, 'remove tags')
  if (!engine.db.prepare('select 1 from tags where id = ?').get(id))
    refuse('not-found', 'That tag is gone.')
  engine.journal.change(actorOf(viewer), (write) => {
    for (const row of engine.db.prepare('select id from taskTags where tagId = ?').all(id) as {
      id: number
    }[])
      write.remove('taskTags', row.id)
    write.remove('tags', id)
  })
}
