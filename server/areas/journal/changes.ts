import type { ChangeId, ClientId, PersonId, ProjectId } from '#core/brands.ts'
import type { ChangeRow, JournalKind } from '#contract/journal.ts'
import type { Row } from '../../database/query.ts'
import type { Sight } from '../../database/sight.ts'
import type { Item } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { journalFrom } from '../../engine/sweep.ts'
import { mayStructure, needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { itemOfRow, whoOf } from './entries.ts'
import { namesOf, type Named } from './names.ts'
import {
  changesBefore,
  changesBy,
  changesIn,
  changesInProject,
  firstEntries,
  LOOKED,
  newestChange,
  PAGE,
} from './queries.ts'
import { wordingOf } from './wording.ts'

type Head = Row<typeof changesBefore>

/** How the journal may be narrowed: to a project, to what somebody did, or what was done by itself. */
export interface ChangeFilter {
  readonly projectId?: ProjectId
  readonly personId?: PersonId
  readonly clientId?: ClientId
  /** What rules, series and the engine did. */
  readonly itself?: boolean
  readonly kind?: JournalKind
  /** The number of the last change seen. */
  readonly before?: number
}
/** The rows that each kind of change is about. */
const ENTITIES: Readonly<Record<JournalKind, readonly string[]>> = {
  work: [
    ...['tasks', 'taskAssignees', 'taskFollowers', 'taskTags', 'fieldValues', 'checklistItems'],
    'reminders',
  ],
  talk: ['comments', 'attachments', 'posts'],
  projects: ['projects', 'phases', 'milestones', 'projectValues'],
  clockwork: ['templates', 'series', 'seriesDates', 'rules', 'ruleOffs'],
  'set-up': [
    ...['states', 'stateSets', 'fields', 'hiddenFields', 'tags', 'views', 'firm', 'people'],
    ...['clients', 'clientRoles', 'clientStates', 'clientTags', 'clientValues'],
    ...['holidays', 'timeOff', 'teams', 'teamMembers', 'teamAsks', 'shares'],
  ],
}

/** Heads of changes, and before which the next page begins; null where there is none. */
interface Heads {
  readonly heads: Head[]
  readonly next: number | null
}
const nextOf = (found: readonly { change: number }[]): number | null =>
  found.length > PAGE ? found[PAGE - 1]!.change : null
const readHeads = (
  { engine: { reader }, sight }: Reading,
  found: readonly { change: number }[],
): Head[] =>
  changesIn.all(reader, {
    ids: JSON.stringify(found.slice(0, PAGE).map((row) => row.change)),
    sight,
  })
/** Who reads, and from where. */
interface Reading {
  readonly engine: Engine
  readonly sight: Sight
  /** What is done for this client alone. */
  readonly client: ClientId | null
}
/** Where looking stops: so many changes before one. */
function floorOf({ engine }: Reading, before: number): number {
  const newest = newestChange.get(engine.reader)?.change ?? 0
  return Math.max(0, Math.min(before, newest) - LOOKED)
}

/** Those of somebody, or about something, among the last so many before one. */
function headsBy(reading: Reading, of: ChangeFilter, before: number): Heads {
  const { engine, sight } = reading
  const floor = floorOf(reading, before)
  const found = changesBy.all(engine.reader, {
    ...{ before, floor, sight, itself: of.itself ? 1 : 0 },
    ...{ person: of.personId ?? null, project: of.projectId ?? null },
    client: reading.client,
    entities: of.kind === undefined ? null : JSON.stringify(ENTITIES[of.kind]),
  })
  // Where fewer are found than a page has, there may be more further back than was looked.
  return { heads: readHeads(reading, found), next: nextOf(found) ?? (floor > 0 ? floor : null) }
}
function headsOf(reading: Reading, of: ChangeFilter): Heads {
  const { engine, sight } = reading
  const before = of.before ?? Number.MAX_SAFE_INTEGER
  if (of.personId !== undefined || of.itself || (of.kind ?? of.clientId) !== undefined)
    return headsBy(reading, of, before)
  if (of.projectId === undefined) {
    // Who sees everything finds a page at once; others are not looked for for ever.
    const floor = sight.all ? 0 : floorOf(reading, before)
    const found = changesBefore.all(engine.reader, { before, floor, sight })
    return { heads: found.slice(0, PAGE), next: nextOf(found) ?? (floor > 0 ? floor : null) }
  }
  const found = changesInProject.all(engine.reader, { project: of.projectId, before, sight })
  return { heads: readHeads(reading, found), next: nextOf(found) }
}

/** The first lines of a change; one that had nothing left to take back says so. */
function saidOf({ undoes }: Head, lines: readonly string[]): string[] {
  if (undoes !== null && lines.length === 0) return ['what had been written over already']
  return [...new Set(lines)].slice(0, 4)
}

/** What is named before what was done to it. */
const NAMED: Readonly<Record<string, Named>> = { task: 'tasks', client: 'clients' }
/** What each change did, in its first lines: the task's title, or the client, before what was done. */
function linesOf(
  reading: Reading,
  viewer: Viewer,
  heads: readonly Pick<Head, 'change'>[],
): Map<number, string[]> {
  const { engine, sight } = reading
  const changes = JSON.stringify(heads.map((head) => head.change))
  const entries = firstEntries
    .all(engine.reader, { changes, sight, client: reading.client })
    .map((row) => ({ ...row, item: itemOfRow(row) }))
  const say = wordingOf(engine, viewer, entries)
  const mentions = new Map<Named, Set<number>>()
  for (const { item } of entries) {
    const kind = item && NAMED[item.kind]
    if (kind) mentions.set(kind, (mentions.get(kind) ?? new Set()).add(item.id))
  }
  const names = namesOf(engine.reader, sight, mentions)
  const titleOf = (item: Item | null): string | undefined => {
    const kind = item && NAMED[item.kind]
    // Who asks about one client knows whom it is about.
    return kind && (kind === 'tasks' || reading.client === null)
      ? names.of(kind, item.id)
      : undefined
  }
  const lines = new Map<number, string[]>()
  for (const entry of entries) {
    const text = say(entry)
    if (text === null) continue
    const title = titleOf(entry.item)
    const list = lines.get(entry.change) ?? []
    lines.set(entry.change, list)
    const own = list.findLastIndex((line) => title && line.startsWith(`“${title}”: `))
    // What else was done to a task follows what was said of it first.
    if (own >= 0 && own === list.length - 1) list[own] += `; ${text}`
    // What names it already is said as it is.
    else list.push(title && !text.includes(`“${title}”`) ? `“${title}”: ${text}` : text)
  }
  return lines
}

/** What some changes did, each side of it, as far as somebody sees it. */
export const linesOfChanges = (
  engine: Engine,
  viewer: Viewer,
  changes: readonly ChangeId[],
): Map<number, string[]> =>
  linesOf(
    { engine, sight: sightOf(viewer), client: null },
    viewer,
    changes.map((change) => ({ change })),
  )

/** Where the name of an actor is found. */
const ACTORS: Readonly<Partial<Record<Head['actorKind'], Named>>> = {
  person: 'people',
  rule: 'rules',
  series: 'series',
}

/** Who made each change, looked up together. */
function actorsOf({ engine, sight }: Reading, heads: readonly Head[]): (head: Head) => string {
  const mentions = new Map<Named, Set<number>>()
  const mention = (kind: Named | undefined, id: number | null) => {
    if (kind && id !== null) mentions.set(kind, (mentions.get(kind) ?? new Set()).add(id))
  }
  for (const { actorKind, actorId, tokenId } of heads) {
    mention(ACTORS[actorKind], actorId)
    mention('tokens', tokenId)
  }
  const names = namesOf(engine.reader, sight, mentions)
  return ({ actorKind, actorId, tokenId }) =>
    whoOf({
      person: actorKind === 'person' ? names.of('people', actorId) : null,
      rule: actorKind === 'rule' ? names.of('rules', actorId) : null,
      series: actorKind === 'series' ? names.of('series', actorId) : null,
      token: names.of('tokens', tokenId),
    })
}

/**
 * The journal change by change, newest first: who did what to how many tasks, and whether it was
 * taken back.
 */
export function listChanges(
  engine: Engine,
  viewer: Viewer,
  of: ChangeFilter,
): { changes: ChangeRow[]; next: number | null } {
  needMember(viewer, 'read the journal')
  const reading: Reading = { engine, sight: sightOf(viewer), client: of.clientId ?? null }
  const { heads, next } = headsOf(reading, of)
  const lines = linesOf(reading, viewer, heads)
  const who = actorsOf(reading, heads)
  const from = journalFrom(engine)
  // What only keeps books, as a rung reached by somebody who was merely told, is no row of its own.
  const says = (head: Head) => head.actorKind === 'person' || lines.has(head.change) || head.undoes
  const changes = heads.filter(says).map((head): ChangeRow => {
    const own = head.actorKind === 'person' && head.actorId === viewer.id
    return {
      change: head.change,
      at: head.at,
      who: who(head),
      automatic: head.actorKind !== 'person',
      tasks: head.tasks,
      lines: saidOf(head, lines.get(head.change) ?? []),
      undoes: head.undoes,
      undone: head.undone !== null,
      mayUndo: head.undone === null && head.at >= from && (own || mayStructure(viewer)),
    }
  })
  return { changes, next }
}
