import { plainText } from '#core/text/rich.ts'
import type { Found, FoundTask } from '#contract/find.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'
import { visible } from '../tasks/queries.ts'
import { matchWords } from './words.ts'

/** As many hits as are looked at, and as many as are told. */
const LOOK = 16
const TELL = 16

/** The full-text question over everything: words in names weigh more than words in texts. */
export const HITS = `select rowid, rank from search where search match ? and rank match 'bm25(8.0, 1.0)' order by rank limit ${LOOK}`
/**
 * The same among the tasks that are with one person, and what is said on them: others' hits take no
 * room from theirs.
 */
const OWN = `select rowid, rank from search where search match @match and rank match 'bm25(8.0, 1.0)' and
  (rowid % 4 = 0 and rowid / 4 in (select taskId from taskAssignees where personId = @me)
   or rowid % 4 = 1 and rowid / 4 in (select c.id from comments c join taskAssignees a on a.taskId = c.taskId where a.personId = @me))
  order by rank limit ${LOOK}`

/** Some words around the first place where one of those sought occurs. */
function excerpt(text: string, words: string): string | null {
  const plain = text.replace(/\s+/g, ' ')
  const at = words
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .map((w) => plain.toLowerCase().indexOf(w))
    .filter((i) => i >= 0)
    .sort((a, b) => a - b)[0]
  if (at === undefined) return null
  const from = Math.max(0, at - 40)
  return `${from > 0 ? '…' : ''}${plain.slice(from, from + 120)}${plain.length > from + 120 ? '…' : ''}`
}

/** The tasks among some numbers that a viewer may see, with just what the find box tells. */
function tasksById(engine: Engine, viewer: Viewer, ids: readonly number[]): Map<number, FoundTask> {
  const seen = visible(viewer)
  const rows = engine.db
    .prepare(
      `select t.id, t.title, t.state, coalesce(st.name, t.state) as stateName, st.colour as stateColour, t.due, c.short as client from tasks t
       left join states st on st.id = t.stateId left join projects p on p.id = t.projectId left join clients c on c.id = coalesce(t.clientId, p.clientId)
       where t.id in (select value from json_each(?)) and ${seen.sql}`,
    )
    .all(JSON.stringify(ids), ...seen.args) as FoundTask[]
  return new Map(rows.map((row) => [row.id, row]))
}
/** The description of a task, read only where its words are shown. */
const description = (engine: Engine, id: number): string =>
  engine.db.prepare('select description from tasks where id = ?').pluck().get(id) as string

/** Clockwork, saved views and people by name: few, so their names are simply looked through. */
const NAMED = `select 'view' as kind, id, name from views where (ownerId = @me or shared = 1) and name like @like escape '\\'
  union all select 'template', id, name from templates where name like @like escape '\\' union all select 'series', id, name from series where name like @like escape '\\'
  union all select 'rule', id, name from rules where name like @like escape '\\' union all select 'person', id, name from people where active = 1 and name like @like escape '\\' limit 12`

/**
 * What a person looks for: a task by its number, then by words in names, descriptions, comments;
 * projects, clients, saved views and clockwork by name.
 */
export function find(engine: Engine, viewer: Viewer, words: string): Found[] {
  const { db } = engine
  const found: Found[] = []
  const number = /^#?(\d{1,9})$/.exec(words.trim())
  if (number)
    for (const task of tasksById(engine, viewer, [Number(number[1])]).values())
      found.push({ kind: 'task', task, excerpt: null })
  const match = matchWords(words)
  if (match === null) return found
  const sought = words
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
  const inTitle = (title: string) => sought.every((w) => title.toLowerCase().includes(w))
  const hits = (
    isGuest(viewer) ? db.prepare(OWN).all({ match, me: viewer.id }) : db.prepare(HITS).all(match)
  ) as { rowid: number; rank: number }[]
  const id = (rowid: number) => Math.floor(rowid / 4)
  const comments = hits.filter((h) => h.rowid % 4 === 1).map((h) => id(h.rowid))
  const said = new Map<number, { taskId: number; body: string }>()
  if (comments.length)
    for (const c of db
      .prepare('select id, taskId, body from comments where id in (select value from json_each(?))')
      .all(JSON.stringify(comments)) as {
      id: number
      taskId: number
      body: string
    }[])
      said.set(c.id, c)
  const taskOf = (rowid: number) =>
    rowid % 4 === 0 ? id(rowid) : rowid % 4 === 1 ? said.get(id(rowid))?.taskId : undefined
  // Guests are shown only tasks they can see: the rows themselves are read through that check.
  const rows = tasksById(engine, viewer, [...new Set(hits.flatMap((h) => taskOf(h.rowid) ?? []))])
  const seen = new Set(found.map((f) => (f.kind === 'task' ? f.task.id : 0)))
  const name = (table: 'projects' | 'clients', row: number) =>
    (db.prepare(`select name from ${table} where id = ?`).get(row) as { name: string } | undefined)
      ?.name
  for (const { rowid } of hits) {
    if (found.length >= TELL) break
    const taskId = taskOf(rowid)
    if (taskId !== undefined) {
      const task = rows.get(taskId)
      if (!task || seen.has(taskId)) continue
      seen.add(taskId)
      // Words that stand in the title need no other place shown.
      const text =
        rowid % 4 === 1
          ? said.get(id(rowid))!.body
          : inTitle(task.title)
            ? ''
            : description(engine, taskId)
      found.push({ kind: 'task', task, excerpt: text ? excerpt(plainText(text), words) : null })
    } else if (!isGuest(viewer)) {
      const kind = rowid % 4 === 2 ? ('project' as const) : ('client' as const)
      const called = name(kind === 'project' ? 'projects' : 'clients', id(rowid))
      if (called) found.push({ kind, id: id(rowid), name: called, excerpt: null })
    }
  }
  if (!isGuest(viewer)) {
    const like = `%${words.trim().replace(/[\\%_]/g, (c) => `\\${c}`)}%`
    for (const row of db.prepare(NAMED).all({ me: viewer.id, like }) as {
      kind: 'view'
      id: number
      name: string
    }[])
      found.push({ ...row, excerpt: null })
  }
  return found
}
