import { and, asc, count, desc, eq, gte, lt, or, sql } from 'drizzle-orm'
import type { PersonId, ProjectId, RuleId, RunId, SeriesId, TaskId } from '#core/brands.ts'
import { addDays, localTime, toInstant, toLocal } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { RunDays, RunDetail, RunEntry } from '#contract/rules.ts'
import type { Outcome } from '#contract/words.ts'
import { most, ready, within, type Reader, type Row } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import {
  journal,
  notices,
  outbox,
  people,
  projects,
  rules,
  runs,
  series,
  tasks,
} from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { linesOfChanges } from '../journal/changes.ts'
import { tellTo } from './say.ts'

/** The run log: what rules and series did and did not do, and each run whole. */

const shown = {
  id: runs.id,
  at: runs.at,
  outcome: runs.outcome,
  summary: runs.summary,
  reasons: runs.reasons,
  times: runs.times,
  rule: { id: rules.id, name: rules.name },
  series: { id: series.id, name: series.name },
  task: { id: tasks.id, title: tasks.title },
  project: { id: projects.id, name: projects.name },
  change: runs.change,
  undone: sql<number>`exists (select 1 from ${journal} where ${journal.undoes} = ${runs.change})`,
}
/** As many runs as one page of the log tells. */
const PAGE = 100
interface RunPage {
  readonly sight: Sight
  readonly before: number
  readonly rule: RuleId | null
  readonly series: SeriesId | null
  readonly task: TaskId | null
  readonly project: ProjectId | null
  readonly person: PersonId | null
  readonly outcome: Outcome | null
  /** Words of what was done, why, or to what; in any case of letters. */
  readonly text: string | null
}
const NARROW = ['rule', 'series', 'task', 'project', 'person', 'outcome', 'text'] as const
type Narrow = (typeof NARROW)[number]

/** A run told somebody something, or put them on, or took them off. */
const concerns = (person: PersonId | null) => sql`(${runs.id} in
  (select "n"."runId" from ${notices} "n" where "n"."personId" = ${person} and "n"."runId" is not null)
  or exists (select 1 from ${journal} "j" where "j"."change" = ${runs.change}
    and "j"."entity" in ('taskAssignees', 'taskFollowers')
    and coalesce("j"."after", "j"."before") ->> '$.personId' = ${person}))`
const says = (
  sight: Sight,
  text: string | null,
) => sql`(instr(lower(${runs.summary}), lower(${text})) > 0
  or exists (select 1 from json_each(${runs.reasons}) "line"
    where ("line"."type" = 'text' or ${sight.all}) and instr(lower("line"."value"), lower(${text})) > 0)
  or instr(lower(coalesce(${tasks.title}, ${projects.name}, '')), lower(${text})) > 0)`

/** A run on what somebody does not see is not told; of what is gone, its texts are. */
const seesRun = (sight: Sight) =>
  sql`(${sight.all} or case ${runs.itemKind}
    when 'task' then ${seesTask(sight, runs.itemId)}
    when 'project' then ${seesProject(sight, runs.itemId)} else 1 end)`

/** A question for each way of narrowing the log, so that each begins at an index of its own. */
const log = (by: ReadonlySet<Narrow>) =>
  ready((orm, a: { [K in keyof RunPage]: RunPage[K] }) =>
    orm
      .select(shown)
      .from(runs)
      .leftJoin(rules, eq(rules.id, runs.ruleId))
      .leftJoin(series, eq(series.id, runs.seriesId))
      .leftJoin(
        tasks,
        and(eq(runs.itemKind, 'task'), eq(tasks.id, runs.itemId), seesTask(a.sight, tasks.id)),
      )
      .leftJoin(projects, and(eq(projects.id, PROJECT_OF_RUN), seesProject(a.sight, projects.id)))
      .where(
        and(
          lt(runs.id, a.before),
          seesRun(a.sight),
          by.has('rule') ? eq(runs.ruleId, sql`${a.rule}`) : undefined,
          by.has('series') ? eq(runs.seriesId, sql`${a.series}`) : undefined,
          by.has('person') ? concerns(a.person) : undefined,
          by.has('text') ? says(a.sight, a.text) : undefined,
          by.has('task')
            ? and(eq(runs.itemKind, 'task'), eq(runs.itemId, sql`${a.task}`))
            : undefined,
          by.has('project')
            ? or(
                and(eq(runs.itemKind, 'project'), eq(runs.itemId, sql`${a.project}`)),
                and(
                  eq(runs.itemKind, 'task'),
                  sql`${runs.itemId} in (select "own"."id" from ${tasks} "own"
                    where "own"."projectId" = ${a.project})`,
                ),
              )
            : undefined,
          by.has('outcome') ? eq(runs.outcome, sql`${a.outcome}`) : undefined,
        ),
      )
      .orderBy(desc(runs.id))
      .limit(most(PAGE)),
  )
const PROJECT_OF_RUN = sql`case ${runs.itemKind} when 'project' then ${runs.itemId} else ${tasks.projectId} end`
const logs = new Map<string, ReturnType<typeof log>>()

/** One page of the run log, newest first, narrowed by what is given. */
function runLog(reader: Reader, page: RunPage): Row<ReturnType<typeof log>>[] {
  const by = new Set(NARROW.filter((name) => page[name] !== null))
  const key = [...by].join()
  let question = logs.get(key)
  if (!question) logs.set(key, (question = log(by)))
  return question.all(reader, { ...page })
}

/** How the run log may be narrowed. */
export interface RunFilter {
  readonly ruleId?: RuleId
  readonly seriesId?: SeriesId
  readonly taskId?: TaskId
  readonly projectId?: ProjectId
  /** Who was told, put on or taken off. */
  readonly personId?: PersonId
  readonly outcome?: RunEntry['outcome']
  readonly text?: string
  /** The id of the last one seen. */
  readonly before?: number
}

/** The run log, newest first. */
export function listRuns(engine: Engine, viewer: Viewer, filter: RunFilter): RunEntry[] {
  needMember(viewer, 'see the run log')
  return runLog(engine.reader, {
    sight: sightOf(viewer),
    before: filter.before ?? Number.MAX_SAFE_INTEGER,
    ...{ rule: filter.ruleId ?? null, series: filter.seriesId ?? null },
    ...{ task: filter.taskId ?? null, project: filter.projectId ?? null },
    ...{ person: filter.personId ?? null, outcome: filter.outcome ?? null },
    text: filter.text ?? null,
  }).map(({ reasons, undone, ...run }) => ({
    ...run,
    reasons: reasons.map(tellTo(viewer)),
    undone: Boolean(Number(undone)),
  }))
}

const runById = ready((orm, a: { id: RunId; sight: Sight }) =>
  orm
    .select({
      ...{ id: runs.id, key: runs.key, version: runs.version, ruleId: runs.ruleId },
      ...{ itemKind: runs.itemKind, itemId: runs.itemId, outcome: runs.outcome },
      ...{ change: runs.change, causeId: runs.causeId, took: runs.took },
    })
    .from(runs)
    .where(and(eq(runs.id, a.id), seesRun(a.sight))),
)
/** A run, as somebody may know of it. @throws Refusal `not-found` */
export const needRun = ({ reader }: Engine, viewer: Viewer, id: RunId) =>
  runById.get(reader, { id, sight: sightOf(viewer) }) ??
  refuse('not-found', `There is no run ${id}; old ones go after a time.`)

const toldBy = within((orm, a: { run: RunId }) =>
  orm
    .select({ person: people.name, text: notices.body })
    .from(notices)
    .innerJoin(people, eq(people.id, notices.personId))
    .where(eq(notices.runId, a.run))
    .orderBy(asc(notices.id)),
)
/** Mail that a run wrote: its keys begin with the run’s. */
const mailBy = within((orm, a: { from: string; past: string }) =>
  orm
    .select({
      ...{ recipient: outbox.recipient, subject: outbox.subject, state: outbox.state },
      at: outbox.sentAt,
    })
    .from(outbox)
    .where(and(gte(outbox.key, a.from), lt(outbox.key, a.past)))
    .orderBy(asc(outbox.key)),
)
const changeOf = within((orm, a: { id: number }) =>
  orm.select({ change: journal.change }).from(journal).where(eq(journal.id, a.id)),
)

/** One run whole: what led to it, what it changed from what to what, whom it told. */
export function runDetail(engine: Engine, viewer: Viewer, id: RunId): RunDetail {
  needMember(viewer, 'see the run log')
  const { reader } = engine
  const { key, version, ruleId, outcome, change, causeId, took, itemId } = needRun(
    engine,
    viewer,
    id,
  )
  const cause = causeId === null ? undefined : changeOf.get(reader, { id: causeId })?.change
  const lines = linesOfChanges(engine, viewer, [change, cause].filter(isThere))
  return {
    ...{ id, version, took },
    cause: isThere(cause) ? (lines.get(cause) ?? []) : [],
    changes: isThere(change) ? (lines.get(change) ?? []) : [],
    told: toldBy.all(reader, { run: id }),
    // The character after the one that parts the key from what follows.
    mail: mailBy.all(reader, { from: `${key}:`, past: `${key};` }),
    mayAgain: ruleId !== null && itemId !== null && outcome !== 'skipped',
  }
}
const isThere = <T>(value: T | null | undefined): value is T => value != null

/** Parts of an hour that days of every zone begin with. */
const QUARTER = 900_000
const perQuarter = within((orm, a: { rule: RuleId; since: number }) =>
  orm
    .select({ at: sql<number>`${runs.at} / ${QUARTER} * ${QUARTER}`.as('quarter'), runs: count() })
    .from(runs)
    .where(and(eq(runs.ruleId, a.rule), gte(runs.at, a.since), eq(runs.outcome, 'done')))
    .groupBy(sql`quarter`)
    .orderBy(sql`quarter`),
)
/** How often a rule ran on each of the last 30 days that it ran on. */
export function runDays(engine: Engine, viewer: Viewer, rule: RuleId): RunDays {
  needMember(viewer, 'see the run log')
  const { reader, firm } = engine
  const from = addDays(firm.today(), -30)
  const since = toInstant(from, localTime('00:00'), firm.zone())
  return { from, days: perDay(perQuarter.all(reader, { rule, since }), firm.zone()) }
}
/** Runs at moments, counted by the day. */
export function perDay(
  found: readonly { readonly at: number; readonly runs?: number }[],
  zone: string,
): RunDays['days'] {
  const by = new Map<string, number>()
  for (const { at, runs: many = 1 } of found) {
    const { date } = toLocal(at, zone)
    by.set(date, (by.get(date) ?? 0) + many)
  }
  return [...by].map(([day, of]) => ({ day, runs: of }))
}
