import { plainText } from '#core/text/rich.ts'
import type { Found } from '#contract/find.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'
import { taskRows } from '../tasks/queries.ts'
import { matchWords } from './words.ts'

/** As many hits as are looked at, and as many as are told. */
const LOOK = 60
const TELL = 30

/** The full-text question over everything: words in names weigh more than words in texts. */
export const HITS = `select rowid, rank from search where search match ? and rank match 'bm25(8.0, 1.0)' order by rank limit ${LOOK}`

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

/** What a person looks for: a task by its number, then by words in names, descriptions, comments; projects, clients, saved views and clockwork by name. */
export function find(engine: Engine, viewer: Viewer, words: string): Found[] {
  const { db } = engine
  const found: Found[] = []
  const number = /^#?(\d{1,9})$/.exec(words.trim())
  if (number) for (const task of taskRows(engine, viewer, [Number(number[1])])) found.push({ kind: 'task', task, excerpt: null })
  const match = matchWords(words)
  if (match === null) return found
  const hits = db.prepare(HITS).all(match) as { rowid: number; rank: number }[]
  const id = (rowid: number) => Math.floor(rowid / 4)
  const comments = hits.filter((h) => h.rowid % 4 === 1).map((h) => id(h.rowid))
  const said = new Map(
    (
      db.prepare('select id, taskId, body from comments where id in (select value from json_each(?))').all(JSON.stringify(comments)) as {
        id: number
        taskId: number
        body: string
      }[]
    ).map((c) => [c.id, c]),
  )
  const taskOf = (rowid: number) => (rowid % 4 === 0 ? id(rowid) : rowid % 4 === 1 ? said.get(id(rowid))?.taskId : undefined)
  // Guests are shown only tasks they can see: the rows themselves are read through that check.
  const rows = new Map(taskRows(engine, viewer, [...new Set(hits.flatMap((h) => taskOf(h.rowid) ?? []))]).map((t) => [t.id, t]))
  const seen = new Set(found.map((f) => (f.kind === 'task' ? f.task.id : 0)))
  const name = (table: 'projects' | 'clients', row: number) => (db.prepare(`select name from ${table} where id = ?`).get(row) as { name: string } | undefined)?.name
  for (const { rowid } of hits) {
    const taskId = taskOf(rowid)
    if (taskId !== undefined) {
      const task = rows.get(taskId)
      if (!task || seen.has(taskId)) continue
      seen.add(taskId)
      const text =
        rowid % 4 === 1
          ? plainText(said.get(id(rowid))!.body)
          : plainText((db.prepare('select description from tasks where id = ?').get(taskId) as { description: string }).description)
      found.push({ kind: 'task', task, excerpt: excerpt(text, words) })
    } else if (!isGuest(viewer)) {
      const kind = rowid % 4 === 2 ? ('project' as const) : ('client' as const)
      const called = name(kind === 'project' ? 'projects' : 'clients', id(rowid))
      if (called) found.push({ kind, id: id(rowid), name: called, excerpt: null })
    }
  }
  if (!isGuest(viewer)) {
    const like = `%${words.trim().replace(/[\\%_]/g, (c) => `\\${c}`)}%`
    for (const [kind, sql] of [
      ['view', 'select id, name from views where (ownerId = @me or shared = 1)'],
      ['template', 'select id, name from templates where @me is not null'],
      ['series', 'select id, name from series where @me is not null'],
      ['rule', 'select id, name from rules where @me is not null'],
    ] as const)
      for (const row of db.prepare(`${sql} and name like @like escape '\\' order by name limit 5`).all({ me: viewer.id, like }) as { id: number; name: string }[])
        found.push({ kind, ...row, excerpt: null })
  }
  return found.slice(0, TELL)
}
