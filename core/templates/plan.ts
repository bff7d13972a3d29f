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
import type { Finding, Plan, PlannedTask, Template, TemplateTask } from './template.ts'

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

interface Phase {
  readonly key: string
  readonly tasks: readonly TemplateTask[]
}

/** The phases with the tasks that the answers ask for. */
const phasesOf = ({ template, answers }: PlanInput): readonly Phase[] =>
  template.phases.map(({ key, tasks }) => ({
    key,
    tasks: tasks.filter((task) => holds(task, answers)),
  }))

function tasksByKey(phases: readonly Phase[]): ReadonlyMap<string, TemplateTask> {
  const tasks = new Map<string, TemplateTask>()
  for (const task of phases.flatMap((phase) => phase.tasks)) {
    if (tasks.has(task.key))
      refuse('bad-template', `Two tasks have the key “${task.key}”.`, `task ${task.key}`)
    tasks.set(task.key, task)
  }
  return tasks
}

type Edge = 'start' | 'due'

/** Works out where dates land: each once, whatever counts from it. */
function landings(input: PlanInput, phases: readonly Phase[]) {
  const { template, firm, anchor } = input
  const tasks = tasksByKey(phases)
  const known = new Map<string, Landing>()
  const open: string[] = []

  function land(task: TemplateTask, edge: Edge): Landing {
    const id = `task:${task.key}:${edge}`
    const found = known.get(id)
    if (found) return found
    if (open.includes(id))
      refuse(
        'bad-template',
        `These dates wait for each other: ${[...open.slice(open.indexOf(id)), id].join(' → ')}.`,
        id,
      )
    open.push(id)
    const { days, unit, from } = (edge === 'start' ? task.start : task.due) ?? task.due
    const base = baseDate(from ?? 'anchor', id)
    if (!Number.isInteger(days) || Math.abs(days) > 10_000)
      refuse('bad-template', `${id}: days must be a whole number within ±10,000.`, id)
    const raw = unit === 'calendar' ? addDays(base, days) : addWorkingDays(firm, base, days)
    const landing = { from: raw, date: rollDate(firm, raw, template.roll ?? 'following') }
    open.pop()
    known.set(id, landing)
    return landing
  }
  /** A task begins at its start where it has one, and at its due otherwise. */
  const edgeOf = (task: TemplateTask, edge: string): IsoDate =>
    land(task, edge === 'start' && task.start ? 'start' : 'due').date

  function ofTask(key: string, edge: string): IsoDate | undefined {
    const task = edge === 'start' || edge === 'due' ? tasks.get(key) : undefined
    return task && edgeOf(task, edge)
  }
  function ofPhase(key: string, edge: string): IsoDate | undefined {
    if (edge !== 'start' && edge !== 'end') return undefined
    const inside = phases.find((phase) => phase.key === key)?.tasks ?? []
    const dates = inside.map((task) => edgeOf(task, edge)).sort()
    return edge === 'start' ? dates[0] : dates.at(-1)
  }
  function baseDate(from: string, place: string): IsoDate {
    const [kind, key = '', edge = '', ...more] = from.split(':')
    if (kind === 'anchor' && !key) return anchor
    const of = { task: ofTask, phase: ofPhase }
    const found =
      (kind === 'task' || kind === 'phase') && !more.length ? of[kind](key, edge) : undefined
    return (
      found ??
      refuse(
        'bad-template',
        `${place}: “${from}” is not here; ` +
          'count from anchor, task:KEY:start, task:KEY:due, phase:KEY:start or phase:KEY:end.',
        place,
      )
    )
  }
  return land
}

interface Dates {
  readonly start: Landing | null
  readonly due: Landing
}

/** Which dates of a task were moved off a day that is not worked. */
function rolledOf(task: string, { start, due }: Dates, firm: Calendar): Finding[] {
  const landings = [['start', start] as const, ['due', due] as const]
  return landings.flatMap(([field, landing]): Finding[] => {
    if (!landing || landing.from === landing.date) return []
    const { from, date: to } = landing
    const because = holidayOn(firm, from) ?? 'weekend'
    return [{ kind: 'rolled', task, field, from, to, because }]
  })
}

/** What is to be known of one task before it is made. */
function findingsOf(
  { key: task }: TemplateTask,
  dates: Dates,
  assignees: readonly string[],
  { firm, people, today }: PlanInput,
): Finding[] {
  const { start, due } = dates
  const found = rolledOf(task, dates, firm)
  for (const person of assignees) {
    const own = people?.[person]
    if (own && !isWorkingDay(own, due.date)) {
      const nextFree = rollDate(own, due.date, 'following')
      found.push({ kind: 'away', task, person, date: due.date, nextFree })
    }
  }
  if (start && start.date > due.date)
    found.push({ kind: 'start-after-due', task, date: start.date })
  if (today !== undefined && due.date < today) found.push({ kind: 'past', task, date: due.date })
  return found
}

/** Who fills a task's role. */
function filling({ role }: TemplateTask, roles: PlanInput['roles']): readonly string[] {
  const filled = role === undefined ? null : roles?.[role]
  if (filled == null || filled === '') return []
  return typeof filled === 'string' ? [filled] : [...filled]
}

const planned = (
  task: TemplateTask,
  phase: string,
  { start, due }: Dates,
  assignees: readonly string[],
): PlannedTask => ({
  key: task.key,
  title: task.title,
  description: task.description ?? '',
  phase,
  role: task.role ?? null,
  assignees,
  start: start?.date ?? null,
  due: due.date,
  dueTime: (task.due.time ?? null) as LocalTime | null,
  effort: task.effort ?? null,
  checklist: task.checklist ?? [],
  ...(task.reminders?.length && { reminders: task.reminders }),
})

/**
 * Starting a project: every task with its dates and people, and what to know before making it.
 * Offsets in working days are added by `addWorkingDays`; a date that then falls on a non-working
 * day (an offset in calendar days, or of none) is rolled by the template's convention and found
 * `rolled`. Time off is found, never moved around. Pure: the same input gives the same plan.
 * @throws Refusal `bad-template` for an offset from something that is not there or that runs in a
 * circle.
 */
export function plan(input: PlanInput): Plan {
  const phases = phasesOf(input)
  const land = landings(input, phases)
  const findings: Finding[] = []
  const unfilled = new Map<string, string[]>()
  const tasks: PlannedTask[] = []
  for (const phase of phases)
    for (const task of phase.tasks) {
      const due = land(task, 'due')
      const dates = { due, start: task.start ? land(task, 'start') : null }
      const assignees = filling(task, input.roles)
      if (task.role !== undefined && assignees.length === 0)
        unfilled.set(task.role, [...(unfilled.get(task.role) ?? []), task.key])
      findings.push(...findingsOf(task, dates, assignees, input))
      tasks.push(planned(task, phase.key, dates, assignees))
    }
  for (const [role, keys] of unfilled) findings.push({ kind: 'unfilled', role, tasks: keys })
  return { tasks, findings }
}

const holds = (task: TemplateTask, answers: PlanInput['answers']): boolean =>
  task.onlyIf === undefined || answers?.[task.onlyIf.question] === task.onlyIf.is
