import type { ChangeRow } from '#contract/journal.ts'
import type { Row } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { journalFrom } from '../../engine/sweep.ts'
import { mayStructure, needMember, type Viewer } from '../../engine/viewer.ts'
import { itemOfRow, whoOf } from './entries.ts'
import { namesOf, type Named } from './names.ts'
import { changesBefore, changesIn, changesInProject, firstEntries, PAGE } from './queries.ts'
import { wordingOf } from './wording.ts'

type Head = Row<typeof changesBefore>

/** The heads of a page: of the whole journal, or of one project's. */
function headsOf({ reader }: Engine, of: { projectId?: number; before?: number }): Head[] {
  const before = of.before ?? Number.MAX_SAFE_INTEGER
  if (of.projectId === undefined) return changesBefore.all(reader, { before })
  const ids = changesInProject.all(reader, { project: of.projectId, before })
  return changesIn.all(reader, { ids: JSON.stringify(ids.map((row) => row.change)) })
}

/** The first lines of a change; one that had nothing left to take back says so. */
function saidOf({ undoes }: Head, lines: readonly string[]): string[] {
  if (undoes !== null && lines.length === 0) return ['what had been written over already']
  return [...new Set(lines)].slice(0, 4)
}

/** What each change did, in its first lines: the task's title before what was done to it. */
function linesOf(engine: Engine, heads: readonly Head[]): Map<number, string[]> {
  const changes = JSON.stringify(heads.map((head) => head.change))
  const entries = firstEntries
    .all(engine.reader, { changes })
    .map((row) => ({ ...row, item: itemOfRow(row) }))
  const say = wordingOf(engine, entries)
  const ids = entries.flatMap(({ item }) => (item?.kind === 'task' ? [item.id] : []))
  const titles = namesOf(engine.reader, new Map([['tasks' as const, new Set(ids)]]))
  const lines = new Map<number, string[]>()
  for (const entry of entries) {
    const text = say(entry)
    if (text === null) continue
    const title = entry.item?.kind === 'task' ? titles.of('tasks', entry.item.id) : undefined
    const list = lines.get(entry.change) ?? []
    lines.set(entry.change, list)
    list.push(title ? `${title}: ${text}` : text)
  }
  return lines
}

/** Where the name of an actor is found. */
const ACTORS: Readonly<Partial<Record<Head['actorKind'], Named>>> = {
  person: 'people',
  rule: 'rules',
  series: 'series',
}

/** Who made each change, looked up together. */
function actorsOf(engine: Engine, heads: readonly Head[]): (head: Head) => string {
  const mentions = new Map<Named, Set<number>>()
  for (const { actorKind, actorId } of heads) {
    const kind = ACTORS[actorKind]
    if (kind && actorId !== null) mentions.set(kind, (mentions.get(kind) ?? new Set()).add(actorId))
  }
  const names = namesOf(engine.reader, mentions)
  return ({ actorKind, actorId }) =>
    whoOf({
      person: actorKind === 'person' ? names.of('people', actorId) : null,
      rule: actorKind === 'rule' ? names.of('rules', actorId) : null,
      series: actorKind === 'series' ? names.of('series', actorId) : null,
    })
}

/**
 * The journal change by change, newest first: who did what to how many tasks, and whether it was
 * taken back.
 */
export function listChanges(
  engine: Engine,
  viewer: Viewer,
  of: { projectId?: number; before?: number },
): { changes: ChangeRow[]; next: number | null } {
  needMember(viewer, 'read the journal')
  const found = headsOf(engine, of)
  const heads = found.slice(0, PAGE)
  const lines = linesOf(engine, heads)
  const who = actorsOf(engine, heads)
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
  return { changes, next: found.length > PAGE ? (heads.at(-1)?.change ?? null) : null }
}
