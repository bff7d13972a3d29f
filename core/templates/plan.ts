import type { IsoDate, LocalTime } from '../brands.ts'
import {
  addWorkingDays,
  holidayOn,
  isWorkingDay,
  rollDate,
  type Calendar,
} from '../calendar/calendar.ts'
import { addDays } from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'
import type { Finding, Offset, Plan, PlannedTask, Template, TemplateTask } from './template.ts'

export interface PlanInput {
  readonly template: Template
  /** The project's start or deadline, as the template's `anchor` says. */
  readonly anchor: IsoDate
  readonly answers?: Readonly<Record<string, unknown>>
  /** Role key to the person, or people, who fill it. */
  readonly roles?: Readonly<Record<string, string | readonly string[] | null>>
  readonly firm: Calendar
  /** Each person's own calendar: the firm's, their weekdays, their time off as holidays. */
  readonly people?: Readonly<Record<string, Calendar>>
  /** Dates before this one are found to be past; left out, none are. */
  readonly today?: IsoDate
}

interface Landing {
  readonly date: IsoDate
  readonly from: IsoDate
}

/**
 * Starting a project: every task with its dates and people, and what to know before making it.
 * Offsets in working days are added by `addWorkingDays`; a date that then falls on a non-working
 * day (an offset in calendar days, or of none) is rolled by the template's convention and found
 * `rolled`. Time off is found, never moved around. Pure: the same input gives the same plan.
 * @throws Refusal `bad-template` for an offset from something that is not there or that runs in a
 * circle.
 */
export function plan(input: PlanInput): Plan {
  const { template, firm } = input
  const roll = template.roll ?? 'following'
  const made = template.phases.map((phase) => ({
    ...phase,
    tasks: phase.tasks.filter((task) => holds(task, input.answers)),
  }))
  const tasks = new Map<string, TemplateTask>()
  for (const phase of made)
    for (const task of phase.tasks) {
      if (tasks.has(task.key))
        refuse('bad-template', `Two tasks have the key “${task.key}”.`, `task ${task.key}`)
      tasks.set(task.key, task)
    }

  const landings = new Map<string, Landing>()
  const open: string[] = []

  function land(task: TemplateTask, field: 'start' | 'due'): Landing {
    const id = `task:${task.key}:${field}`
    const known = landings.get(id)
    if (known) return known
    if (open.includes(id))
      refuse(
        'bad-template',
        `These dates wait for each other: ${[...open.slice(open.indexOf(id)), id].join(' → ')}.`,
        id,
      )
    open.push(id)
    const offset = (field === 'start' ? task.start : task.due) ?? task.due
    const base = baseDate(offset, id)
    if (!Number.isInteger(offset.days) || Math.abs(offset.days) > 10_000)
      refuse('bad-template', `${id}: days must be a whole number within ±10,000.`, id)
    const raw =
      offset.unit === 'calendar'
        ? addDays(base, offset.days)
        : addWorkingDays(firm, base, offset.days)
    const landing = { from: raw, date: rollDate(firm, raw, roll) }
    open.pop()
    landings.set(id, landing)
    return landing
  }

  function baseDate(offset: Offset, place: string): IsoDate {
    const [kind, key = '', edge, ...more] = (offset.from ?? 'anchor').split(':')
    if (kind === 'anchor' && !key) return input.anchor
    if (kind === 'task' && !more.length && (edge === 'start' || edge === 'due')) {
      const other = tasks.get(key)
      if (other) return land(other, edge === 'start' && other.start ? 'start' : 'due').date
    }
    if (kind === 'phase' && !more.length && (edge === 'start' || edge === 'end')) {
      const dates = (made.find((p) => p.key === key)?.tasks ?? [])
        .map((t) => land(t, edge === 'start' && t.start ? 'start' : 'due').date)
        .sort()
      const found = edge === 'start' ? dates[0] : dates.at(-1)
      if (found) return found
    }
    return refuse(
      'bad-template',
      `${place}: “${offset.from}” is not here; ` +
        'count from anchor, task:KEY:start, task:KEY:due, phase:KEY:start or phase:KEY:end.',
      place,
    )
  }

  const findings: Finding[] = []
  const unfilled = new Map<string, string[]>()
  const planned: PlannedTask[] = []

  for (const phase of made)
    for (const task of phase.tasks) {
      const due = land(task, 'due')
      const start = task.start ? land(task, 'start') : null
      for (const [field, landing] of [
        ['start', start],
        ['due', due],
      ] as const)
        if (landing && landing.from !== landing.date)
          findings.push({
            kind: 'rolled',
            task: task.key,
            field,
            from: landing.from,
            to: landing.date,
            because: holidayOn(firm, landing.from) ?? 'weekend',
          })
      const filled = task.role === undefined ? null : input.roles?.[task.role]
      const assignees =
        filled == null || filled === '' ? [] : typeof filled === 'string' ? [filled] : [...filled]
      if (task.role !== undefined && assignees.length === 0)
        unfilled.set(task.role, [...(unfilled.get(task.role) ?? []), task.key])
      for (const person of assignees) {
        const own = input.people?.[person]
        if (own && !isWorkingDay(own, due.date))
          findings.push({
            kind: 'away',
            task: task.key,
            person,
            date: due.date,
            nextFree: rollDate(own, due.date, 'following'),
          })
      }
      if (start && start.date > due.date)
        findings.push({ kind: 'start-after-due', task: task.key, date: start.date })
      if (input.today !== undefined && due.date < input.today)
        findings.push({ kind: 'past', task: task.key, date: due.date })
      planned.push({
        key: task.key,
        title: task.title,
        description: task.description ?? '',
        phase: phase.key,
        role: task.role ?? null,
        assignees,
        start: start?.date ?? null,
        due: due.date,
        dueTime: (task.due.time ?? null) as LocalTime | null,
        effort: task.effort ?? null,
        checklist: task.checklist ?? [],
      })
    }
  for (const [role, keys] of unfilled) findings.push({ kind: 'unfilled', role, tasks: keys })
  return { tasks: planned, findings }
}

const holds = (task: TemplateTask, answers: PlanInput['answers']): boolean =>
  task.onlyIf === undefined || answers?.[task.onlyIf.question] === task.onlyIf.is
