import { plainText } from '#core/text/rich.ts'
import type { Found, FoundTask } from '#contract/find.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, sightOf, type Viewer } from '../../engine/viewer.ts'
import { clientById } from '../people/queries.ts'
import { descriptionOf } from '../tasks/queries.ts'
import {
  foundProject,
  foundTasks,
  HITS,
  hidden,
  hits,
  hitsSeen,
  KINDS,
  newestTitles,
  saidIn,
} from './queries.ts'
import { byName } from './names.ts'
import { matchBeginning, matchWords } from './words.ts'

const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

/** Some words around the first place where one of those sought occurs. */
function excerpt(text: string, sought: readonly string[]): string | null {
  const plain = text.replace(/\s+/g, ' ')
  const lower = plain.toLowerCase()
  const places = sought.map((word) => lower.indexOf(word)).filter((i) => i >= 0)
  if (places.length === 0) return null
  const from = Math.max(0, Math.min(...places) - 40)
  const to = from + 120
  return `${from > 0 ? '…' : ''}${plain.slice(from, to)}${plain.length > to ? '…' : ''}`
}

/** A hit of the full-text index: which kind of thing, and its number. */
interface Hit {
  readonly kind: (typeof KINDS)[number] | undefined
  readonly id: number
}

/** One search: what is sought, and by whom. */
interface Search {
  readonly engine: Engine
  readonly viewer: Viewer
  readonly sought: readonly string[]
}

function hitsOf({ engine: { reader }, viewer }: Search, match: string): Hit[] {
  const sight = sightOf(viewer)
  // From whom nothing is hidden finds as whoever sees everything: no hit is looked at twice.
  const open = sight.all || (sight.inside && hidden.get(reader, { sight })?.projects === 0)
  const found = open ? hits.all(reader, { match }) : hitsSeen.all(reader, { match, sight })
  return found.map(({ rowid }) => ({ kind: KINDS[rowid % 4], id: Math.floor(rowid / 4) }))
}

/** The tasks among some numbers that the viewer may see. */
function tasksIn({ engine: { reader }, viewer }: Search, ids: readonly number[]) {
  const rows: FoundTask[] = foundTasks.all(reader, {
    ids: JSON.stringify(ids),
    sight: sightOf(viewer),
  })
  return new Map(rows.map((row) => [row.id, row]))
}

/** Tasks that are hit by their own words or by what is said on them, each once. */
function taskFinds(search: Search, all: readonly Hit[]): Map<Hit, Found> {
  const { engine, viewer, sought } = search
  const sight = sightOf(viewer)
  const comments = all.filter((hit) => hit.kind === 'comment').map((hit) => hit.id)
  const said = new Map(
    comments.length
      ? saidIn
          .all(engine.reader, { ids: JSON.stringify(comments), sight })
          .map((comment) => [comment.id, comment])
      : [],
  )
  const taskOf = ({ kind, id }: Hit): number | undefined =>
    kind === 'task' ? id : kind === 'comment' ? said.get(id)?.taskId : undefined
  const tasks = tasksIn(search, [...new Set(all.flatMap((hit) => taskOf(hit) ?? []))])
  const inTitle = (title: string) => sought.every((word) => title.toLowerCase().includes(word))
  // Words that stand in the title need no other place shown; a description is read only for them.
  const textOf = (hit: Hit, task: FoundTask): string => {
    if (hit.kind === 'comment') return said.get(hit.id)?.body ?? ''
    if (inTitle(task.title)) return ''
    return descriptionOf.get(engine.reader, { id: task.id, sight })?.description ?? ''
  }
  const finds = new Map<Hit, Found>()
  const seen = new Set<number>()
  for (const hit of all) {
    const task = tasks.get(taskOf(hit) ?? 0)
    if (!task || seen.has(task.id)) continue
    seen.add(task.id)
    const text = textOf(hit, task)
    finds.set(hit, {
      kind: 'task',
      task,
      excerpt: (text && excerpt(plainText(text), sought)) || null,
    })
  }
  return finds
}

/** Projects and clients that are hit; guests are shown no clients. */
function otherFind({ engine: { reader }, viewer }: Search, { kind, id }: Hit): Found[] {
  if (kind !== 'project' && (isGuest(viewer) || kind !== 'client')) return []
  const row =
    kind === 'project'
      ? foundProject.get(reader, { id, sight: sightOf(viewer) })
      : clientById.get(reader, { id })
  return row ? [{ kind, id, name: row.name, excerpt: null }] : []
}

/**
 * What a person looks for: a task by its number, then by words in names, descriptions, comments;
 * projects, clients, saved views and clockwork by name.
 */
export function find(engine: Engine, viewer: Viewer, words: string): Found[] {
  const search: Search = { engine, viewer, sought: wordsOf(words) }
  const number = /^#?(\d{1,9})$/.exec(words.trim())?.[1]
  const byNumber = number === undefined ? [] : [...tasksIn(search, [Number(number)]).values()]
  const found: Found[] = byNumber.map((task) => ({ kind: 'task', task, excerpt: null }))
  const match = matchWords(words)
  if (match === null) return found
  const all = hitsOf(search, match)
  const tasks = taskFinds(search, all)
  const byWords = all.flatMap((hit): Found[] => {
    const task = tasks.get(hit)
    return task ? [task] : otherFind(search, hit)
  })
  const known = new Set(byNumber.map((task) => task.id))
  for (const each of byWords)
    if (!(each.kind === 'task' && known.has(each.task.id))) found.push(each)
  found.splice(HITS)
  if (isGuest(viewer)) return found
  const more = byName(engine.reader, words, viewer.id)
  return [...found, ...more.map((row) => ({ ...row, excerpt: null }))]
}

/**
 * The first that a search as one types shows, until `find` has looked at everything: the newest tasks
 * whose titles hold the words.
 */
export function findFirst(engine: Engine, viewer: Viewer, words: string): Found[] {
  const match = matchBeginning(words)
  if (match === null) return []
  const search: Search = { engine, viewer, sought: wordsOf(words) }
  const sought = { match, words: JSON.stringify(search.sought), sight: sightOf(viewer) }
  const ids = newestTitles.all(engine.reader, sought).map(({ id }) => id)
  const tasks = tasksIn(search, ids)
  return ids.flatMap((id): Found[] => {
    const task = tasks.get(id)
    return task ? [{ kind: 'task', task, excerpt: null }] : []
  })
}
