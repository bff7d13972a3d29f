import { refuse } from '#core/refusal.ts'
import { fieldsIn } from '#core/text/merge.ts'
import type { RuleBody, RuleDefinition, RuleView, RunView, Who } from '#contract/rules.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { isActive, personName } from '../people/queries.ts'

interface Row {
  id: number
  name: string
  on: number
  ownerId: number | null
  definition: string
  pausedBecause: string | null
  version: number
}

const FIELDS = new Set(['task', 'client', 'project', 'due', 'days late'])
const DAYS_30 = 30 * 86_400_000

const whoIn = (definition: RuleDefinition): Who[] =>
  definition.rungs.flatMap((r) => r.actions).flatMap((a) => ('who' in a ? [a.who] : []))

function warnings(engine: Engine, row: Row, definition: RuleDefinition): string[] {
  const out: string[] = []
  for (const who of whoIn(definition)) {
    if (who.is === 'person' && !isActive(engine, who.id))
      out.push(
        `${personName(engine, who.id) ?? 'A person it names'} has left; steps that name them do nothing until you choose someone else.`,
      )
    if (
      who.is === 'team' &&
      !engine.db
        .prepare(
          'select 1 from teamMembers m join people w on w.id = m.personId and w.active = 1 where m.teamId = ?',
        )
        .get(who.id)
    )
      out.push('A team it assigns to has nobody active in it.')
  }
  if (row.ownerId === null || !isActive(engine, row.ownerId))
    out.push('It has no owner who is here; nobody hears when it fails.')
  return [...new Set(out)]
}

function view(engine: Engine, row: Row): RuleView {
  const definition = JSON.parse(row.definition) as RuleDefinition
  const counts = engine.db
    .prepare('select count(*) as n, max(at) as last from runs where ruleId = ? and at > ?')
    .get(row.id, engine.clock.now() - DAYS_30) as {
    n: number
    last: number | null
  }
  return {
    id: row.id,
    name: row.name,
    on: row.on === 1,
    version: row.version,
    pausedBecause: row.pausedBecause,
    definition,
    owner:
      row.ownerId === null
        ? null
        : { id: row.ownerId, name: personName(engine, row.ownerId) ?? '' },
    warnings: warnings(engine, row, definition),
    runs30: counts.n,
    lastRunAt: counts.last,
  }
}

export function listRules(engine: Engine, viewer: Viewer): RuleView[] {
  needMember(viewer, 'see rules')
  return (
    engine.db
      .prepare('select * from rules order by pausedBecause is null, "on" desc, name')
      .all() as Row[]
  ).map((row) => view(engine, row))
}

export function ruleView(engine: Engine, viewer: Viewer, id: number): RuleView {
  needMember(viewer, 'see rules')
  const row = engine.db.prepare('select * from rules where id = ?').get(id) as Row | undefined
  return row ? view(engine, row) : refuse('not-found', `There is no rule ${id}.`)
}

/** What the shapes cannot say: people are here, teams exist, merge fields have values. */
function checkRule(engine: Engine, body: RuleBody): void {
  for (const who of whoIn(body.definition)) {
    if (who.is === 'person' && !isActive(engine, who.id))
      refuse(
        'person-left',
        `${personName(engine, who.id) ?? 'That person'} has left; choose someone who is here.`,
        'definition.rungs',
      )
    if (who.is === 'team' && !engine.db.prepare('select 1 from teams where id = ?').get(who.id))
      refuse('no-such-team', 'That team does not exist.', 'definition.rungs')
  }
  if (body.ownerId !== null && !isActive(engine, body.ownerId))
    refuse(
      'person-left',
      `${personName(engine, body.ownerId) ?? 'The owner'} has left; a rule needs an owner who is here.`,
      'ownerId',
    )
  for (const action of body.definition.rungs.flatMap((r) => r.actions)) {
    const text = 'text' in action ? action.text : action.kind === 'make-task' ? action.title : ''
    const unknown = fieldsIn(text).find((f) => !FIELDS.has(f))
    if (unknown)
      refuse(
        'unknown-field',
        `{${unknown}} has no value here; use ${[...FIELDS].map((f) => `{${f}}`).join(', ')}.`,
        'definition.rungs',
      )
  }
}

export function insertRule(engine: Engine, write: Writer, body: RuleBody, on: boolean): number {
  checkRule(engine, body)
  return write.insert('rules', {
    name: body.name,
    on: on ? 1 : 0,
    ownerId: body.ownerId,
    definition: JSON.stringify(body.definition),
    updatedAt: write.at,
  })
}

/** A new rule is off until it is switched on. */
export function makeRule(engine: Engine, viewer: Viewer, body: RuleBody): RuleView {
  needStructure(viewer, 'make rules')
  return ruleView(
    engine,
    viewer,
    engine.journal.change(actorOf(viewer), (write) => insertRule(engine, write, body, false)),
  )
}

/** Saves a rule as its next version; one that had paused itself starts again. */
export function saveRule(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: RuleBody,
  seenVersion: number | null,
): RuleView {
  needStructure(viewer, 'change rules')
  checkRule(engine, body)
  engine.journal.change(actorOf(viewer), (write) => {
    const { version } = ruleView(engine, viewer, id)
    needNewest(seenVersion, version)
    write.update('rules', id, {
      name: body.name,
      ownerId: body.ownerId,
      definition: JSON.stringify(body.definition),
      version: version + 1,
      pausedBecause: null,
      failures: 0,
      updatedAt: write.at,
    })
  })
  return ruleView(engine, viewer, id)
}

export function switchRule(engine: Engine, viewer: Viewer, id: number, on: boolean): RuleView {
  needStructure(viewer, 'switch rules on or off')
  ruleView(engine, viewer, id)
  engine.journal.change(actorOf(viewer), (write) =>
    write.update('rules', id, { on: on ? 1 : 0, ...(on && { pausedBecause: null, failures: 0 }) }),
  )
  return ruleView(engine, viewer, id)
}

/** The run log, newest first; `before` is the id of the last one seen. */
export function listRuns(
  engine: Engine,
  viewer: Viewer,
  filter: { ruleId?: number; taskId?: number; outcome?: string; before?: number },
): RunView[] {
  needMember(viewer, 'see the run log')
  const rows = engine.db
    .prepare(
      `select n.id, n.at, n.outcome, n.summary, n.reasons, r.id as ruleId, r.name as rule, s.id as seriesId, s.name as series, t.id as taskId, t.title, p.id as projectId, p.name as project
       from runs n left join rules r on r.id = n.ruleId left join series s on s.id = n.seriesId left join tasks t on t.id = n.taskId left join projects p on p.id = n.projectId
       where (@ruleId is null or n.ruleId = @ruleId) and (@taskId is null or n.taskId = @taskId) and (@outcome is null or n.outcome = @outcome) and (@before is null or n.id < @before) order by n.id desc limit 100`,
    )
    .all({ ruleId: null, taskId: null, outcome: null, before: null, ...filter }) as {
    id: number
    at: number
    outcome: RunView['outcome']
    summary: string
    reasons: string
    ruleId: number | null
    rule: string
    seriesId: number | null
    series: string
    taskId: number | null
    title: string
    projectId: number | null
    project: string
  }[]
  return rows.map((r) => ({
    id: r.id,
    at: r.at,
    outcome: r.outcome,
    summary: r.summary,
    reasons: JSON.parse(r.reasons) as string[],
    rule: r.ruleId === null ? null : { id: r.ruleId, name: r.rule },
    series: r.seriesId === null ? null : { id: r.seriesId, name: r.series },
    task: r.taskId === null ? null : { id: r.taskId, title: r.title },
    project: r.projectId === null ? null : { id: r.projectId, name: r.project },
  }))
}
