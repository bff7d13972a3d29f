import type { RuleId, TaskId } from '#core/brands.ts'
import { localTime } from '#core/calendar/dates.ts'
import { evaluateLadder } from '#core/rules/ladder.ts'
import { refuse } from '#core/refusal.ts'
import { rungsOf, type LateAlready } from '#contract/rules.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { outline } from '../tasks/outline.ts'
import { rests } from '../tasks/rest.ts'
import { taskRows } from '../tasks/rows.ts'
import { rungDelays } from './ladder-alarms.ts'
import { dueOf, ruleById } from './queries.ts'

/** As many of the tasks as are named, and as are looked through at all. */
const NAMED = 8
const MOST = 200_000

/** What a rule on lateness would act on at once, if it acted on what is late already. */
export function lateAlready(engine: Engine, viewer: Viewer, id: RuleId): LateAlready {
  needMember(viewer, 'see rules')
  const { reader, firm, clock } = engine
  const rule = ruleById.get(reader, { id }) ?? refuse('not-found', `There is no rule ${id}.`)
  const { conditions } = rule.definition
  if (rungsOf(rule.definition).length === 0) return { count: 0, tasks: [] }
  const delays = rungDelays(rule.definition)
  const late = { field: 'late', op: 'is', value: true } as const
  const { groups } = outline(
    engine,
    viewer,
    {
      scope: { of: 'firm' },
      filter: { match: 'all', of: [conditions, late] },
      sort: [],
      group: null,
      tree: false,
      sums: [],
      every: false,
    },
    MOST,
  )
  const reached = (task: TaskId): boolean => {
    const found = dueOf.get(reader, { id: task })
    if (!found?.due || rests(reader, task)) return false
    const due = { date: found.due, time: found.dueTime === null ? null : localTime(found.dueTime) }
    return evaluateLadder(delays, due, firm.calendar(), firm.zone(), clock.now()).reached.length > 0
  }
  const ids = groups.flatMap((group) => group.ids).filter(reached)
  const tasks = taskRows(engine, viewer, ids.slice(0, NAMED))
  return {
    count: ids.length,
    tasks: tasks.map(({ id: task, title, project }) => ({
      ...{ id: task, title, project: project?.name ?? null },
    })),
  }
}
