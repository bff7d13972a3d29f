import type { Condition, Group } from '#core/conditions/condition.ts'
import type { Action, RuleDefinition, Trigger } from '#contract/rules.ts'
import { editClient } from '../areas/clients/service.ts'
import { editProject, makeProject } from '../areas/projects/service.ts'
import { switchClockwork } from '../areas/rules/halt.ts'
import { switchIn } from '../areas/rules/places.ts'
import { makeRule, switchRule } from '../areas/rules/service.ts'
import { addComment } from '../areas/tasks/comments.ts'
import { addItem, editItem } from '../areas/tasks/checklist.ts'
import { editTask, makeTask } from '../areas/tasks/service.ts'
import { makeTag } from '../areas/fields/service.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { Refusal } from '#core/refusal.ts'
import { addDays, isoDate } from '#core/calendar/dates.ts'
import { chance } from '#core/test/chance.ts'
import { ENGINE, lab, type Lab } from './lab.ts'

/** Firms that rules work in while people do this and that, by chance: some days of it. */

export interface Happened {
  readonly l: Lab
  readonly rules: readonly number[]
  readonly tasks: readonly number[]
  readonly projects: readonly number[]
  /** Moments between what was done. */
  readonly moments: readonly number[]
}
type Chance = ReturnType<typeof chance>

const HOUR = 3_600_000
const PRIORITIES = ['low', 'normal', 'high', 'urgent'] as const
const STATES = ['not-started', 'under-way', 'waiting', 'in-review', 'done'] as const

function test({ pick, below }: Chance, l: Lab, tag: number): Condition {
  return pick<() => Condition>([
    () => ({ field: 'priority', op: pick(['in', 'not-in']), value: [pick(PRIORITIES)] }),
    () => ({ field: 'kind', op: pick(['in', 'not-in']), value: [pick(STATES)] }),
    () => ({ field: 'tag', op: pick(['in', 'not-in']), value: [tag] }),
    () => ({ field: 'assignee', op: pick(['in', 'not-in']), value: [l.tobias.id] }),
    () => ({ field: 'days-late', op: 'at-least', value: below(3) }),
    () => ({ field: 'due', op: pick(['filled', 'empty']) }),
    () => ({ field: 'project.state', op: pick(['in', 'not-in']), value: ['running'] }),
    () => ({ field: 'client.tier', op: pick(['in', 'not-in']), value: ['gold'] }),
    () => ({ field: 'postponed', op: 'at-least', value: 1 }),
  ])()
}
function conditions(by: Chance, l: Lab, tag: number): Group {
  const { pick, below } = by
  const match = pick(['all', 'any', 'none', 'all'] as const)
  return { match, of: Array.from({ length: below(3) }, () => test(by, l, tag)) }
}
function action({ pick, below }: Chance, l: Lab, tag: number): Action {
  return pick<() => Action>([
    () => ({ kind: 'set-priority', to: pick(PRIORITIES) }),
    () => ({ kind: 'tag', off: pick([true, false]), tags: [tag] }),
    () => ({ kind: 'comment', text: 'Said by a rule' }),
    () => ({ kind: 'assign', who: { is: 'person', id: pick([l.tobias.id, l.devika.id]) } }),
    () => ({ kind: 'move-due', days: 1 + below(3), unit: 'working', from: pick(['today', 'due']) }),
    () => ({
      ...{ kind: 'tell', who: { is: 'person', id: l.imogen.id } },
      ...{ mail: false, text: '{task}' },
    }),
  ])()
}
/** One that changes what no person changes in these histories: each can be taken back by itself. */
function apart({ pick }: Chance, l: Lab, tag: number): Action {
  return pick<Action>([
    { kind: 'set-priority', to: pick(['high', 'urgent']) },
    { kind: 'tag', off: false, tags: [tag] },
    { kind: 'comment', text: 'Said by a rule' },
    { kind: 'assign', who: { is: 'person', id: l.devika.id } },
  ])
}
function trigger({ pick, below }: Chance): Trigger {
  return pick<() => Trigger>([
    () => ({ kind: 'late' }),
    () => ({
      ...{ kind: 'dated', field: pick(['due', 'start']), days: below(3), time: '09:30' },
      ...{ side: pick(['before', 'after']), unit: pick(['working', 'calendar']) },
    }),
    () => ({ kind: 'becomes-true' }),
    () => ({ kind: 'made' }),
    () => ({ kind: 'given' }),
    () => ({ kind: 'commented' }),
    () => ({ kind: 'steps-done' }),
    () => ({ kind: 'subtasks-done' }),
    () => ({ kind: 'work-done' }),
    () => ({
      ...{ kind: 'changed', field: pick(['priority', 'due', 'tag', 'kind']), to: [] },
    }),
  ])()
}
/** A rule of any kind. */
function definition(
  by: Chance,
  l: Lab,
  { tag, clock, does }: { tag: number; clock: string; does: () => Action },
): RuleDefinition {
  const when = trigger(by)
  const own = conditions(by, l, tag)
  const scope = by.next() < 0.2 ? { scope: { of: 'client', id: l.client } as const } : ({} as const)
  if (when.kind !== 'late') return { ...scope, trigger: when, conditions: own, actions: [does()] }
  return {
    ...scope,
    ...{ trigger: when, conditions: own },
    rungs: [1, 2 + by.below(2)].map((days, i) => ({
      key: `r${i}`,
      delay: { days, unit: by.pick(['working', 'calendar'] as const), time: clock },
      actions: [does()],
    })),
  }
}

/** What somebody does, once; what may not be done is left. */
function deed(
  by: Chance,
  at: Happened & { readonly tag: number; readonly plain: boolean; readonly begun: number },
): void {
  const { pick, below, next } = by
  const { l, projects, tag, plain } = at
  const priorities = plain ? (['low', 'normal'] as const) : PRIORITIES
  const { engine, imogen, tobias } = l
  const today = isoDate(engine.firm.today())
  const day = () => addDays(today, below(8) - 3)
  const id = pick(at.tasks)
  const edit = (patch: object) => editTask(engine, imogen, id, { patch, seen: null })
  const step = () => {
    const [row] = l.rows<{ id: number; done: number }>(
      'select id, done from checklistItems where taskId = ? order by done, id',
      id,
    )
    if (row) editItem(engine, imogen, { taskId: id, id: row.id }, { done: !row.done })
    else addItem(engine, imogen, id, 'Step')
  }
  const more: (() => unknown)[] = [
    () => switchClockwork(engine, imogen, { on: engine.firm.stoppedAt() !== null }),
    () => {
      const which = { rule: pick(at.rules), project: pick(projects) }
      return switchIn(engine, imogen, which, next() < 0.5)
    },
    () => undoChange(engine, imogen, Math.max(at.begun, l.latest() - below(2))).whole(),
  ]
  pick<() => unknown>([
    ...(plain ? [] : more),
    () => edit({ due: next() < 0.2 ? null : day() }),
    () => edit({ due: day(), dueTime: pick(['11:00', null]) }),
    () => edit({ start: day() }),
    () => edit({ priority: pick(priorities) }),
    () => edit({ priority: pick(priorities), tags: next() < 0.5 ? [tag] : [] }),
    () => edit({ state: pick(STATES) }),
    () => edit({ state: pick(STATES) }),
    () => edit({ assignees: next() < 0.5 ? [tobias.id] : [] }),
    () => edit({ projectId: pick([...projects, null]) }),
    () => edit({ parentId: pick([...at.tasks, null]) }),
    () => edit({ archived: next() < 0.4 }),
    () => addComment(engine, tobias, id, '<p>Hm</p>'),
    step,
    () => makeTask(engine, imogen, { title: 'New', due: day(), projectId: pick(projects) }),
    () =>
      editProject(engine, imogen, pick(projects), {
        ...{ patch: { state: pick(['running', 'running', 'hold']) }, seen: null },
      }),
    () => editClient(engine, imogen, l.client, { tier: pick(['gold', 'silver', 'bronze']) }),
    () =>
      engine.journal.change(ENGINE, (write) =>
        write.insert('holidays', { date: addDays(today, 1 + below(3)), name: 'Closed' }),
      ),
    () =>
      engine.journal.change(ENGINE, (write) => {
        for (const task of at.tasks.slice(0, 3))
          write.update('tasks', task, { priority: pick(priorities) })
      }),
  ])()
}

/** How a history is looked at. */
interface Looking {
  /** Called after each deed, when all is quiet again. */
  readonly watch?: (at: Happened, nth: number) => void
  /** Rules are switched off and on as well. */
  readonly switching?: boolean
  /** What rules change, people do not, and nothing is taken back or stopped; or nor are rules on. */
  readonly apart?: 'on' | 'off'
}
/** A firm with rules that are on, and so many deeds of its people over some days. */
export function history(
  seed: number,
  deeds: number,
  { watch, switching, apart: set }: Looking = {},
): Happened {
  const by = chance(seed)
  const { pick, below } = by
  const l = lab({ now: '2026-11-23T08:30' })
  const { engine, imogen } = l
  const [tag, other] = ['odd', 'even'].map(
    (name) => makeTag(engine, imogen, { name, colour: 'teal' }).result.id,
  ) as [number, number]
  const projects = [l.client, null].map(
    (clientId) => makeProject(engine, imogen, { name: 'Books', clientId }).result.id,
  )
  const tasks = Array.from({ length: 6 }, (_, i) => {
    const due = addDays(isoDate('2026-11-23'), below(6) - 2)
    const projectId = pick([...projects, null])
    const more = { due, projectId, priority: pick(PRIORITIES), checklist: i === 0 ? ['One'] : [] }
    return makeTask(engine, imogen, { title: `Task ${i}`, ...more }).result.id
  })
  l.runner.tick()
  const rules = Array.from({ length: 4 }, (_, i) => {
    const does = () => (set ? apart(by, l, other) : action(by, l, tag))
    const clock = `0${8 + (i % 2)}:${15 * (i % 3)}0`.slice(0, 5)
    const made = definition(by, l, { tag, clock, does })
    const body = { name: `Rule ${i}`, ownerId: imogen.id, definition: made }
    const { id } = makeRule(engine, imogen, body).result
    if (set !== 'off') switchRule(engine, imogen, id, { on: true })
    l.runner.tick()
    return id
  })
  const moments: number[] = []
  const plain = set !== undefined
  const at = { l, rules, tasks, projects, moments, tag, plain, begun: l.latest() + 1 }
  for (let i = 0; i < deeds; i++) {
    l.runner.runUntil(engine.clock.now() + 60_000 + Math.floor(by.next() * by.next() * 20 * HOUR))
    moments.push(engine.clock.now())
    try {
      if (switching && below(5) === 0)
        switchRule(engine, imogen, pick(rules), { on: below(2) === 0 })
      else deed(by, at)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
    }
    l.runner.tick()
    watch?.(at, i)
  }
  l.runner.runUntil(engine.clock.now() + 30 * HOUR)
  return at
}
