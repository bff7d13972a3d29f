import { sayDate, sayMinutes } from '#core/text/speak.ts'
import { STATE_NAMES, type State } from '#contract/words.ts'
import type { ActivityRow } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'

interface RawEntry {
  id: number
  at: number
  actorKind: string
  person: string | null
  rule: string | null
  series: string | null
  entity: string
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
}
/** Columns that follow from others and say nothing of their own. */
const SILENT = new Set(['version', 'closedAt', 'rung', 'rungOf', 'position'])

type Json = Record<string, unknown>

function sentence(engine: Engine, entry: RawEntry): string | null {
  const before = (entry.before ? JSON.parse(entry.before) : {}) as Json
  const after = (entry.after ? JSON.parse(entry.after) : {}) as Json
  const nameOf = (id: unknown) => (engine.db.prepare('select name from people where id = ?').get(id) as { name: string } | undefined)?.name ?? 'someone'
  switch (entry.entity) {
    case 'tasks': {
      if (entry.action === 'made') return 'made this task'
      const parts = Object.keys(after)
        .filter((k) => !SILENT.has(k))
        .map((k) => change(engine, k, before[k], after[k]))
      if (typeof after['rung'] === 'number' && after['rung'] > 0) parts.push(`took it to rung ${after['rung']}`)
      return parts.length ? parts.join('; ') : null
    }
    case 'taskAssignees':
      return entry.action === 'made' ? `assigned ${nameOf(after['personId'])}` : `took ${nameOf(before['personId'])} off`
    case 'checklistItems': {
      const title = (after['title'] ?? before['title'] ?? null) as string | null
      if (entry.action === 'made') return `added “${title}” to the checklist`
      if (entry.action === 'removed') return `removed “${title}” from the checklist`
      return 'done' in after ? (after['done'] ? 'ticked a checklist item' : 'unticked a checklist item') : 'reworded a checklist item'
    }
    case 'comments':
      return 'commented'
    default:
      return null
  }
}

function change(engine: Engine, field: string, before: unknown, after: unknown): string {
  if (field === 'description') return 'changed the description'
  const show = (value: unknown): string => {
    if (value === null || value === '') return 'none'
    if (field === 'estimate') return sayMinutes(Number(value))
    if (field === 'due' || field === 'start') return sayDate(String(value), engine.firm.today())
    return field === 'state' ? (STATE_NAMES[value as State] ?? String(value)) : String(value)
  }
  return `${LABELS[field] ?? field} ${show(before)} → ${show(after)}`
}

/** What happened to a task, newest first; rows without anything to say are left out. */
export function activity(engine: Engine, taskId: number): ActivityRow[] {
  const raw = engine.db
    .prepare(
      `select j.id, j.at, j.actorKind, j.entity, j.action, j.before, j.after, w.name as person, r.name as rule, s.name as series from journal j
       left join people w on j.actorKind = 'person' and w.id = j.actorId
       left join rules r on j.actorKind = 'rule' and r.id = j.actorId
       left join series s on j.actorKind = 'series' and s.id = j.actorId
       where j.taskId = ? order by j.id desc limit 300`,
    )
    .all(taskId) as RawEntry[]
  return raw.flatMap((entry) => {
    const text = sentence(engine, entry)
    if (text === null) return []
    const who = entry.person ?? (entry.rule ? `Rule “${entry.rule}”` : entry.series ? `Series “${entry.series}”` : 'Fernwick')
    return [{ id: entry.id, at: entry.at, who, automatic: entry.actorKind !== 'person', text }]
  })
}
