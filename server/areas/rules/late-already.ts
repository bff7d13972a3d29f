import type { RuleId, TaskId } from '#core/brands.ts'
import { localTime } from '#core/calendar/dates.ts'
import type { Condition } from '#core/conditions/condition.ts'
import { evaluateLadder } from '#core/rules/ladder.ts'
import { offsetAt } from '#core/rules/moment.ts'
import { refuse } from '#core/refusal.ts'
import type { LateAlready, RuleDefinition } from '#contract/rules.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { factsOf } from '../tasks/facts.ts'
import { outline } from '../tasks/outline.ts'
import { rests } from '../tasks/rest.ts'
import { taskRows } from '../tasks/rows.ts'
import { dateOf, offsetOf } from './dated.ts'
import { rungDelays } from './ladder-alarms.ts'
import { dueOf, ruleById } from './queries.ts'
import { inScope } from './subject.ts'

/** As many of the tasks as are named, and as are looked through at all. */
const NAMED = 8
const MOST = 200_000

/** What a rule that time wakes finds already: what is asked of tasks, and what decides of one. */
interface Finds {
  readonly asks: readonly Condition[]
  readonly reached: (id: TaskId) => boolean
}
function findsOf(engine: Engine, definition: RuleDefinition): Finds | null {
  const { reader, firm, clock } = engine
  const place = { calendar: firm.calendar(), zone: firm.zone() }
  const { trigger } = definition
  switch (trigger.kind) {
    case 'late': {
      const delays = rungDelays(definition)
      return {
        asks: [{ field: 'late', op: 'is', value: true }],
        reached(id) {
          const found = dueOf.get(reader, { id })
          if (!found?.due) return false
          const time = found.dueTime === null ? null : localTime(found.dueTime)
          const due = { date: found.due, time }
          const now = clock.now()
          return evaluateLadder(delays, due, place.calendar, place.zone, now).reached.length > 0
        },
      }
    }
    case 'dated':
      return {
        asks: [{ field: trigger.field, op: 'filled' }],
        reached(id) {
          const date = dateOf(reader, trigger.field, id)
          return date !== null && offsetAt(offsetOf(trigger), date, place) <= clock.now()
        },
      }
    case 'becomes-true':
      return { asks: [], reached: () => true }
    default:
      return null
  }
}

/** What a rule that time wakes would act on at once, if it acted on what it finds already. */
export function lateAlready(engine: Engine, viewer: Viewer, id: RuleId): LateAlready {
  needMember(viewer, 'see rules')
  const { reader } = engine
  const rule = ruleById.get(reader, { id }) ?? refuse('not-found', `There is no rule ${id}.`)
  const finds = findsOf(engine, rule.definition)
  if (!finds) return { count: 0, tasks: [] }
  const open = { field: 'open', op: 'is', value: true } as const
  const { groups } = outline(
    engine,
    viewer,
    {
      scope: { of: 'firm' },
      filter: { match: 'all', of: [rule.definition.conditions, open, ...finds.asks] },
      sort: [],
      group: null,
      tree: false,
      sums: [],
      every: false,
    },
    MOST,
  )
  const acts = (task: TaskId): boolean => {
    if (!finds.reached(task) || rests(reader, task)) return false
    const facts = factsOf(engine, task)
    return facts !== undefined && inScope(reader, rule, facts)
  }
  const ids = groups.flatMap((group) => group.ids).filter(acts)
  const tasks = taskRows(engine, viewer, ids.slice(0, NAMED))
  return {
    count: ids.length,
    tasks: tasks.map(({ id: task, title, project }) => ({
      ...{ id: task, title, project: project?.name ?? null },
    })),
  }
}
