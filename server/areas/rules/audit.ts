import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm'
import type { ProjectId, TaskId } from '#core/brands.ts'
import { localTime } from '#core/calendar/dates.ts'
import { evaluateLadder } from '#core/rules/ladder.ts'
import type { LateAudit } from '#contract/rules.ts'
import { most, ready, within, type Row } from '../../database/query.ts'
import { seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { alarms, clients, projects, ruleOffs, tasks } from '../../database/tables/index.ts'
import { alarmByKey } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { lateIn } from '../tasks/late.ts'
import { rests } from '../tasks/rest.ts'
import { rungDelays } from './ladder-alarms.ts'
import { activeRules, type RuleRecord } from './queries.ts'

/** Of every open late task: its next alarm, or the reason why there is none. */

/** As many late tasks as are looked at. */
const MOST = 20_000
const lateTasks = ready((orm, a: { sight: Sight; date: string; time: string }) =>
  orm
    .select({
      ...{ id: tasks.id, title: tasks.title, due: tasks.due, dueTime: tasks.dueTime },
      ...{ projectId: tasks.projectId, project: projects.name, templateId: projects.templateId },
      clientId: clients.id,
      client: clients.short,
    })
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .leftJoin(clients, eq(clients.id, sql`coalesce(${tasks.clientId}, ${projects.clientId})`))
    .where(and(isNull(tasks.archivedAt), lateIn(a), seesTask(a.sight, tasks.id)))
    .orderBy(asc(tasks.due), asc(tasks.id))
    .limit(most(MOST)),
)
type Late = Row<typeof lateTasks>

const alarmsOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ at: alarms.at, rule: alarms.ruleId, kind: alarms.kind })
    .from(alarms)
    .where(
      and(
        ...[eq(alarms.itemKind, 'task'), eq(alarms.itemId, a.id)],
        inArray(alarms.kind, ['ladder', 'repeat', 'dated', 'reminder']),
      ),
    )
    .orderBy(asc(alarms.at)),
)
const offs = within((orm) =>
  orm.select({ rule: ruleOffs.ruleId, project: ruleOffs.projectId }).from(ruleOffs),
)

/** Whether a rule acts on a late task. */
function acting(engine: Engine): (rule: RuleRecord, task: Late) => boolean {
  const off = new Set(offs.all(engine.reader).map(({ rule, project }) => `${rule} ${project}`))
  const place = (task: Late) => ({
    ...{ client: task.clientId, template: task.templateId, project: task.projectId },
  })
  return ({ id, definition: { scope } }, task) =>
    (scope === undefined || scope.of === 'firm' || place(task)[scope.of] === scope.id) &&
    !(task.projectId !== null && off.has(`${id} ${task.projectId satisfies ProjectId}`))
}

/** Reasons why nothing comes to a late task; the last is one there must never be. */
export const NO_ALARM = {
  stopped: 'Everything automatic is stopped',
  rests: 'It stands still: its project, or what it is a part of, does',
  none: 'No rule on late work acts there',
  placing: 'A rule is just being put up over it',
  behind: 'All rungs are behind it',
  gap: 'An alarm is missing',
} as const
type Reason = keyof typeof NO_ALARM

type Standing = ReturnType<typeof alarmsOf.all>
/** The rules that have a rung ahead of a late task. */
function climbing({ firm, clock }: Engine, task: Late, ladders: readonly RuleRecord[]) {
  const { due, dueTime } = task
  if (due === null) return []
  const at = { date: due, time: dueTime === null ? null : localTime(dueTime) }
  const place = [at, firm.calendar(), firm.zone(), clock.now()] as const
  return ladders.filter(
    ({ definition }) => evaluateLadder(rungDelays(definition), ...place).next !== null,
  )
}
/** Why nothing comes to a late task; null where something does, and no alarm is missing. */
function reasonFor(
  engine: Engine,
  task: Late,
  { ladders, standing }: { ladders: readonly RuleRecord[]; standing: Standing },
): Reason | null {
  const { reader, firm } = engine
  if (firm.stoppedAt() !== null) return 'stopped'
  if (rests(reader, task.id)) return 'rests'
  if (ladders.some(({ id }) => alarmByKey.get(reader, { key: `placing:${id}` }))) return 'placing'
  const has = (rule: number) =>
    standing.some((alarm) => alarm.kind === 'ladder' && alarm.rule === rule)
  // Each ladder has an alarm of its own, whatever else comes.
  if (climbing(engine, task, ladders).some(({ id }) => !has(id))) return 'gap'
  if (standing.length > 0) return null
  return ladders.length === 0 ? 'none' : 'behind'
}

/** Every open late task that somebody sees, with its next alarm, or the reason why it has none. */
export function lateAudit(engine: Engine, viewer: Viewer): LateAudit {
  needMember(viewer, 'see what comes to late work')
  const { reader, firm } = engine
  const { date, time } = firm.nowLocal()
  const rules = new Map(activeRules.all(reader).map((rule) => [rule.id, rule]))
  const acts = acting(engine)
  const found = lateTasks.all(reader, { sight: sightOf(viewer), date, time })
  const rows = found.map((task): LateAudit['tasks'][number] => {
    const { id, title } = task
    const own = [...rules.values()].filter((rule) => acts(rule, task))
    const ladders = own.filter(({ definition }) => definition.trigger.kind === 'late')
    // A reminder is no rule's.
    const standing = alarmsOf
      .all(reader, { id })
      .filter(({ rule }) => rule === null || own.some((one) => one.id === rule))
    const reason = reasonFor(engine, task, { ladders, standing })
    const [next] = reason === null ? standing : []
    const by = next?.rule == null ? null : (rules.get(next.rule)?.name ?? null)
    return {
      ...{ id, title, place: task.project ?? task.client },
      next: next ? { at: next.at, rule: by } : null,
      reason: reason && NO_ALARM[reason],
    }
  })
  const gaps = rows.filter(({ reason }) => reason === NO_ALARM.gap).length
  return { late: rows.length, watched: rows.filter(({ next }) => next).length, gaps, tasks: rows }
}
