import { sayDate, sayMinutes } from '#core/text/speak.ts'
import { sayValue, type FieldValue } from '#contract/fields.ts'
import type { ActivityRow } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import { fieldRow } from '../fields/queries.ts'

export interface RawEntry {
  id: number
  at: number
  actorKind: string
  person: string | null
  rule: string | null
  series: string | null
  entity: string
  entityId: number
  taskId: number | null
  action: string
  before: string | null
  after: string | null
}

const LABELS: Record<string, string> = {
  title: 'title',
  description: 'description',
  state: 'state',
  priority: 'priority',
  start: 'start',
  due: 'due date',
  dueTime: 'due time',
  estimate: 'estimate',
  phaseId: 'phase',
  projectId: 'project',
  clientId: 'client',
  parentId: 'parent',
  stateId: 'state',
  archivedAt: 'archived',
  mergedInto: 'merged into',
  doneBy: 'done when',
  datesFollow: 'dates follow subtasks',
  stateFollows: 'state follows subtasks',
}
/** Columns that follow from others and say nothing of their own. */
const SILENT = new Set(['version', 'closedAt', 'rung', 'rungOf', 'position', 'state'])

type Json = Record<string, unknown>

/** One journal entry in words; null for what says nothing of its own. */
export function sayEntry(engine: Engine, entry: RawEntry): string | null {
  const before = (entry.before ? JSON.parse(entry.before) : {}) as Json
  const after = (entry.after ? JSON.parse(entry.after) : {}) as Json
  const named = (table: 'people' | 'tags', id: unknown, none: string) =>
    (
      engine.db.prepare(`select name from ${table} where id = ?`).get(id) as
        { name: string } | undefined
    )?.name ?? none
  const nameOf = (id: unknown) => named('people', id, 'someone')
  switch (entry.entity) {
    case 'tasks': {
      if (entry.action === 'made') return 'made this task'
      const parts = Object.keys(after)
        .filter((k) => !SILENT.has(k))
        .flatMap((k) => change(engine, k, before[k], after[k]) ?? [])
      if (typeof after['rung'] === 'number' && after['rung'] > 0)
        parts.push(`took it to rung ${after['rung']}`)
      return parts.length ? parts.join('; ') : null
    }
    case 'taskAssignees':
      if (entry.action === 'made') return `assigned ${nameOf(after['personId'])}`
      if (entry.action === 'removed') return `took ${nameOf(before['personId'])} off`
      return 'doneAt' in after
        ? after['doneAt']
          ? 'finished one part'
          : 'opened one part again'
        : 'changed a part of the estimate'
    case 'taskFollowers':
      return entry.action === 'made'
        ? `${nameOf(after['personId'])} follows it`
        : `${nameOf(before['personId'])} follows it no more`
    case 'taskTags':
      return entry.action === 'made'
        ? `tagged it “${named('tags', after['tagId'], 'a tag')}”`
        : `took the tag “${named('tags', before['tagId'], 'a tag')}” off`
    case 'fieldValues': {
      const field = fieldRow(
        engine.db,
        Number(after['fieldId'] ?? before['fieldId'] ?? valueField(engine, entry) ?? 0),
      )
      const shown = (row: Json): string => {
        const value = (row['text'] ?? row['number'] ?? null) as FieldValue
        return (
          (field ? sayValue(field, value, nameOf, engine.firm.today()) : String(value ?? '')) ||
          'none'
        )
      }
      const name = field?.name ?? 'a field'
      return entry.action === 'removed'
        ? `emptied ${name}`
        : `${name} ${entry.action === 'made' ? '' : `${shown(before)} `}→ ${shown(after)}`
    }
    case 'attachments':
      return 'taskId' in after && entry.action === 'changed'
        ? 'brought a file along'
        : entry.action === 'made'
          ? `added “${String(after['name'])}”`
          : `took “${String(before['name'])}” off`
    case 'projects':
      return entry.action === 'made' ? 'made the project' : 'changed the project'
    case 'phases':
      return entry.action === 'made'
        ? `added the phase “${String(after['name'])}”`
        : entry.action === 'removed'
          ? `removed the phase “${String(before['name'])}”`
          : 'changed a phase'
    case 'milestones':
      return entry.action === 'made'
        ? `set the milestone “${String(after['name'])}”`
        : entry.action === 'removed'
          ? `removed the milestone “${String(before['name'])}”`
          : 'changed a milestone'
    case 'posts':
      return 'wrote about the project'
    case 'states':
    case 'stateSets':
      return 'changed the states'
    case 'fields':
    case 'hiddenFields':
      return 'changed the fields'
    case 'tags':
      return entry.action === 'made' ? `made the tag “${String(after['name'])}”` : 'changed a tag'
    case 'views':
      return 'changed a saved view'
    case 'templates':
      return 'changed a template'
    case 'series':
      return 'changed a series'
    case 'rules':
      return 'changed a rule'
    case 'checklistItems': {
      const title = (after['title'] ?? before['title'] ?? null) as string | null
      if (entry.action === 'made') return `added “${title}” to the checklist`
      if (entry.action === 'removed') return `removed “${title}” from the checklist`
      return 'done' in after
        ? after['done']
          ? 'ticked a checklist item'
          : 'unticked a checklist item'
        : 'reworded a checklist item'
    }
    case 'comments':
      return entry.action === 'made'
        ? 'commented'
        : entry.action === 'removed'
          ? 'removed a comment'
          : 'taskId' in after
            ? 'brought a comment along'
            : 'reworded a comment'
    default:
      return null
  }
}

/** Which field a value was of: from its making, since the row itself may be gone. */
const valueField = (engine: Engine, { taskId, entityId, id }: RawEntry) =>
  engine.db
    .prepare(
      "select json_extract(after, '$.fieldId') from journal where taskId = ? and entity = 'fieldValues' and entityId = ? and action = 'made' and id < ? order by id desc limit 1",
    )
    .pluck()
    .get(taskId, entityId, id)

/** Columns that hold the number of a row elsewhere, and where its name is. */
const NAMED: Record<string, string> = {
  stateId: 'states',
  phaseId: 'phases',
  projectId: 'projects',
  clientId: 'clients',
}

/**
 * One column's change in words; null where both sides read the same, as when a state gives way to
 * its namesake in another set.
 */
function change(engine: Engine, field: string, before: unknown, after: unknown): string | null {
  if (field === 'description') return 'changed the description'
  if (field === 'archivedAt')
    return after === null ? 'brought it back from the archive' : 'archived it'
  if (field === 'datesFollow' || field === 'stateFollows')
    return `${LABELS[field]}: ${after ? 'yes' : 'no'}`
  const show = (value: unknown): string => {
    if (value === null || value === '') return 'none'
    if (field === 'estimate') return sayMinutes(Number(value))
    if (field === 'due' || field === 'start') return sayDate(String(value), engine.firm.today())
    const table = NAMED[field]
    if (table)
      return (
        (
          engine.db.prepare(`select name from ${table} where id = ?`).get(value) as
            { name: string } | undefined
        )?.name ?? 'one that is gone'
      )
    return String(value)
  }
  const [from, to] = [show(before), show(after)]
  return from === to ? null : `${LABELS[field] ?? field} ${from} → ${to}`
}

/** What happened to a task, newest first; rows without anything to say are left out. */
export function activity(engine: Engine, taskId: number): ActivityRow[] {
  const raw = engine.db
    .prepare(
      `select j.id, j.at, j.actorKind, j.entity, j.entityId, j.taskId, j.action, j.before, j.after, w.name as person, r.name as rule, s.name as series from journal j
       left join people w on j.actorKind = 'person' and w.id = j.actorId
       left join rules r on j.actorKind = 'rule' and r.id = j.actorId
       left join series s on j.actorKind = 'series' and s.id = j.actorId
       where j.taskId = ? order by j.id desc limit 300`,
    )
    .all(taskId) as RawEntry[]
  return raw.flatMap((entry) => {
    const text = sayEntry(engine, entry)
    if (text === null) return []
    const who =
      entry.person ??
      (entry.rule ? `Rule “${entry.rule}”` : entry.series ? `Series “${entry.series}”` : 'Fernwick')
    return [{ id: entry.id, at: entry.at, who, automatic: entry.actorKind !== 'person', text }]
  })
}
