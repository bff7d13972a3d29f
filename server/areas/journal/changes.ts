import type { ChangeRow } from '#contract/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { mayStructure, needMember, type Viewer } from '../../engine/viewer.ts'
import { sayEntry, type RawEntry } from '../tasks/activity.ts'

const PAGE = 60

interface Head {
  change: number
  at: number
  actorKind: string
  actorId: number | null
  who: string | null
  tasks: number
  entries: number
  undoes: number | null
  undone: number | null
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
  const { db } = engine
  const heads = db
    .prepare(
      `select j."change", min(j.at) as at, j.actorKind, j.actorId, max(j.undoes) as undoes, count(distinct j.taskId) as tasks, count(*) as entries,
       (select max(u."change") from journal u where u.undoes = j."change") as undone,
       case j.actorKind when 'person' then (select name from people where id = j.actorId) when 'rule' then (select 'Rule “' || name || '”' from rules where id = j.actorId)
       when 'series' then (select 'Series “' || name || '”' from series where id = j.actorId) end as who
       from journal j where j."change" < @before ${of.projectId === undefined ? '' : 'and j."change" in (select "change" from journal where projectId = @project)'}
       group by j."change" order by j."change" desc limit ${PAGE + 1}`,
    )
    .all({
      before: of.before ?? Number.MAX_SAFE_INTEGER,
      ...(of.projectId !== undefined && { project: of.projectId }),
    }) as Head[]
  const more = heads.length > PAGE
  const changes = heads.slice(0, PAGE).map((h): ChangeRow => {
    const entries = db
      .prepare(
        `select j.*, null as person, null as rule, null as series, t.title as taskTitle from journal j left join tasks t on t.id = j.taskId where j."change" = ? order by j.id limit 12`,
      )
      .all(h.change) as (RawEntry & { taskTitle: string | null })[]
    const lines = entries.flatMap((entry) => {
      const text = sayEntry(engine, entry)
      return text === null ? [] : [entry.taskTitle ? `${entry.taskTitle}: ${text}` : text]
    })
    return {
      change: h.change,
      at: h.at,
      who: h.who ?? 'Fernwick',
      automatic: h.actorKind !== 'person',
      tasks: h.tasks,
      lines: [...new Set(lines)].slice(0, 4),
      undoes: h.undoes,
      undone: h.undone !== null,
      mayUndo:
        h.undone === null &&
        ((h.actorKind === 'person' && h.actorId === viewer.id) || mayStructure(viewer)),
    }
  })
  return { changes, next: more ? (changes.at(-1)?.change ?? null) : null }
}
