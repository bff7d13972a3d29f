import type { ChangeId } from '#core/brands.ts'
import type { ItemKind } from '#contract/words.ts'
import type { Reader, Row } from '../../database/query.ts'
import type { Entity, Stored } from '../../database/tables/engine.ts'
import type { Item } from '../../engine/journal.ts'
import type { Steps } from '../../engine/portions.ts'
import { itemOfRow } from './entries.ts'
import { entriesOfLinks, entriesOfRow, pagesOfChange, type entriesOfChange } from './queries.ts'
import type { Step } from './replay.ts'

/** What the journal holds of the rows that a change touched. */

type Entry = Row<typeof entriesOfChange>

/** Rows that say of two things that they belong together: known by both, not by their number. */
const LINKS: Readonly<Partial<Record<Entity, readonly [string, string]>>> = {
  taskAssignees: ['taskId', 'personId'],
  taskFollowers: ['taskId', 'personId'],
  taskTags: ['taskId', 'tagId'],
  fieldValues: ['taskId', 'fieldId'],
  projectValues: ['projectId', 'fieldId'],
  clientValues: ['clientId', 'fieldId'],
  clientTags: ['clientId', 'tagId'],
  hiddenFields: ['projectId', 'fieldId'],
  ruleOffs: ['projectId', 'ruleId'],
  teamMembers: ['teamId', 'personId'],
}
export const isLink = (entity: Entity): boolean => LINKS[entity] !== undefined

/** A row with all that the journal holds of it. */
export interface Known {
  readonly entity: Entity
  /** What tells it from other rows: its number, or what it ties together. */
  readonly key: string
  /** The numbers it has had, newest first. */
  readonly ids: readonly number[]
  /** What it belongs to, and the project that is in. */
  readonly item: Item | null
  readonly projectId: number | null
  readonly steps: readonly Step[]
}

/** What a link ties together, where a row of it says so; null for rows of other kinds. */
function linkKey(entity: Entity, row: Stored | null | undefined): string | null {
  const columns = LINKS[entity]
  return row && columns?.every((column) => column in row)
    ? columns.map((column) => String(row[column])).join(' ')
    : null
}

/**
 * The history of a link: of every row that ever tied the same two things together. Numbers of rows
 * are given again, so that what a changed row tied is what the row of that number did at that time.
 */
function knownLink(reader: Reader, entry: Entry): Known | null {
  const { entity, itemKind, itemId } = entry
  if (itemKind === null || itemId === null || !isLink(entity)) return null
  const all = entriesOfLinks.all(reader, { entity, kind: itemKind, item: itemId })
  const now = new Map<number, string | null>()
  let own = linkKey(entity, entry.after) ?? linkKey(entity, entry.before)
  const keyed = all.map((step) => {
    const key =
      linkKey(entity, step.after) ?? linkKey(entity, step.before) ?? now.get(step.entityId) ?? null
    now.set(step.entityId, key)
    if (own === null && step.id <= entry.id && step.entityId === entry.entityId) own = key
    return { step, key }
  })
  if (own === null) return null
  const steps = keyed.filter(({ key }) => key === own).map(({ step }) => step)
  const ids = [...new Set([entry.entityId, ...steps.map((step) => step.entityId)])].reverse()
  const item = { kind: itemKind, id: itemId }
  return { entity, key: own, ids, item, projectId: entry.projectId, steps }
}

const rowItself = (
  reader: Reader,
  entity: Entity,
  id: number,
  place: Pick<Known, 'item' | 'projectId'>,
): Known => ({
  entity,
  key: `#${id}`,
  ids: [id],
  ...place,
  steps: entriesOfRow.all(reader, { entity, id }),
})

const knownRow = (reader: Reader, entry: Entry): Known =>
  knownLink(reader, entry) ??
  rowItself(reader, entry.entity, entry.entityId, {
    item: itemOfRow(entry),
    projectId: entry.projectId,
  })

/** Where the things stand that have a life of their own. */
const HOME: Readonly<Partial<Record<ItemKind, Entity>>> = { task: 'tasks', project: 'projects' }

/**
 * The rows that a change touched, newest first, those of what it took back included; at last the
 * things they belong to, which an earlier taking back may have left for their sake.
 */
export function* rowsOf(reader: Reader, change: ChangeId): Steps<Known[]> {
  const known = new Map<string, Known>()
  const add = (row: Known) => {
    const name = `${row.entity} ${row.key}`
    if (!known.has(name)) known.set(name, row)
  }
  const seen = new Set<ChangeId>()
  const items = new Map<string, Item>()
  function take(entry: Entry): void {
    add(knownRow(reader, entry))
    const item = itemOfRow(entry)
    if (item) items.set(`${item.kind} ${item.id}`, item)
    if (entry.projectId !== null)
      items.set(`project ${entry.projectId}`, { kind: 'project', id: entry.projectId })
  }
  for (let next: ChangeId | null = change; next !== null && !seen.has(next);) {
    seen.add(next)
    let back: ChangeId | null = null
    for (const page of pagesOfChange(reader, next))
      for (const entry of page) {
        take(entry)
        back = entry.undoes
        yield
      }
    next = back
  }
  for (const item of items.values()) {
    const home = HOME[item.kind]
    if (home) add(rowItself(reader, home, item.id, { item, projectId: null }))
    yield
  }
  return [...known.values()]
}
