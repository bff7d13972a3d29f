import { sayMoney } from '#core/money/money.ts'
import { plural, sayDate, sayMinutes } from '#core/text/speak.ts'
import {
  customId,
  customName,
  customSpec,
  enteredId,
  enteredName,
  enteredSpec,
  sayValue,
  TASK_FIELDS,
  type Choice,
  type CustomField,
  type FieldSpec,
} from '#contract/fields.ts'
import type { Scope } from '#contract/query.ts'
import type { PhaseChoice } from '#contract/projects.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import type { Directory } from '#contract/views.ts'
import { PRIORITIES, PRIORITY_NAMES, STATE_NAMES, STATES } from '#contract/words.ts'
import { sayInstant } from '#web/parts/say.ts'

/** What views know of the firm: what there is to choose from, and what day it is. */
export interface Known {
  readonly directory: Directory
  /** Those that run, and closed ones that were opened. */
  readonly projects: Directory['projects']
  /** As many as were asked for. */
  readonly phases: readonly PhaseChoice[]
  readonly today: string
  readonly zone: string
  readonly scope: Scope
}
export type NamedSpec = FieldSpec & { readonly field: string }

const projectOf = (known: Known) =>
  known.scope.of === 'project'
    ? known.projects.find((p) => p.id === (known.scope as { id: number }).id)
    : undefined
const customOf = (known: Known, field: string): CustomField | undefined =>
  known.directory.fields.find((f) => f.id === customId(field))

const setIn = (known: Known): number => projectOf(known)?.stateSetId ?? 1

/** Fields that a scope has: those of every task, then its custom ones. */
export function fieldsIn(known: Known): NamedSpec[] {
  const custom = known.directory.fields.filter(
    (f) =>
      !f.hidden &&
      (f.projectId === null || (known.scope.of === 'project' && f.projectId === known.scope.id)) &&
      (f.templateId === null ||
        projectOf(known)?.templateId === f.templateId ||
        known.scope.of !== 'project'),
  )
  const entered = known.directory.states
    .filter((s) => s.setId === setIn(known))
    .map((s): NamedSpec => ({ field: enteredName(s.id), ...enteredSpec(s.name) }))
  return [
    ...Object.entries(TASK_FIELDS).map(([field, spec]): NamedSpec => ({ field, ...spec })),
    ...custom.map((f): NamedSpec => ({ field: customName(f.id), ...customSpec(f) })),
    ...entered,
  ]
}
export const specOf = (known: Known, field: string): FieldSpec | undefined => {
  const own = customOf(known, field)
  const stateId = enteredId(field)
  if (stateId !== null) {
    const state = known.directory.states.find((s) => s.id === stateId)
    return state && enteredSpec(state.name)
  }
  return own
    ? customSpec(own)
    : Object.hasOwn(TASK_FIELDS, field)
      ? TASK_FIELDS[field as keyof typeof TASK_FIELDS]
      : undefined
}

/**
 * States to choose from: those of a set; of the firm's own where several projects stand together.
 */
export const statesFor = (known: Known, projectId: number | null) => {
  const set = known.projects.find((p) => p.id === projectId)?.stateSetId ?? 1
  return known.directory.states.filter((s) => s.setId === set)
}

/** What a field can be set to or asked for; for a task, what that task can take. */
export function choicesFor(known: Known, field: string, task?: TaskRow): Choice[] {
  const { directory } = known
  const own = customOf(known, field)
  if (own?.kind === 'choice')
    return (own.options.choices ?? []).map((c) => ({
      value: c.key,
      name: c.name,
      colour: c.colour,
    }))
  if (own?.kind === 'person')
    return directory.people.filter((p) => p.active).map((p) => ({ value: p.id, name: p.name }))
  const projectId = task ? (task.project?.id ?? null) : (projectOf(known)?.id ?? null)
  switch (field) {
    case 'state':
      return statesFor(known, projectId).map((s) => ({
        value: s.id,
        name: s.name,
        colour: s.colour ?? s.kind,
      }))
    case 'kind':
      return STATES.map((value) => ({ value, name: STATE_NAMES[value], colour: value }))
    case 'priority':
      return [...PRIORITIES].reverse().map((value) => ({ value, name: PRIORITY_NAMES[value] }))
    case 'assignee':
    case 'follower':
    case 'creator':
      return directory.people
        .filter((p) => p.active || field === 'creator')
        .map((p) => ({ value: p.id, name: p.name }))
    case 'client':
      return directory.clients.map((c) => ({ value: c.id, name: c.name }))
    case 'tier':
      return ['gold', 'silver', 'bronze'].map((value) => ({
        value,
        name: value[0]!.toUpperCase() + value.slice(1),
      }))
    case 'project':
      return directory.projects.map((p) => ({ value: p.id, name: p.name }))
    case 'phase':
      return known.phases
        .filter((ph) => projectId === null || ph.projectId === projectId)
        .map((ph) => ({
          value: ph.id,
          name:
            projectId === null
              ? `${known.projects.find((p) => p.id === ph.projectId)?.name ?? ''}: ${ph.name}`
              : ph.name,
        }))
    case 'tag':
      return directory.tags.map((t) => ({ value: t.id, name: t.name, colour: t.colour }))
    default:
      return []
  }
}

/** A number of a summed field as people read it. */
export function saySum(known: Known, field: string, sum: number): string {
  const spec = specOf(known, field)
  if (spec?.type === 'minutes') return sayMinutes(sum)
  if (spec?.type === 'money')
    return sayMoney(sum, customOf(known, field)?.options.currency ?? 'GBP')
  return String(Math.round(sum * 100) / 100)
}

/** A date with its time, as rows show it. */
export const sayDue = (task: TaskRow, today: string): string =>
  task.due === null
    ? ''
    : task.due === today && task.dueTime
      ? task.dueTime
      : `${sayDate(task.due, today)}${task.dueTime ? `, ${task.dueTime}` : ''}`

/** The words of a field on a task; nothing where it has none. */
export function sayField(known: Known, field: string, task: TaskRow): string {
  switch (field) {
    case 'id':
      return `#${task.id}`
    case 'title':
      return task.title
    case 'state':
      return task.stateName
    case 'priority':
      return task.priority === 'normal' ? '' : PRIORITY_NAMES[task.priority]
    case 'assignee':
      return task.assignees.map((a) => a.name).join(', ')
    case 'client':
      return task.client?.short ?? ''
    case 'project':
      return task.project?.name ?? ''
    case 'phase':
      return task.phaseName ?? ''
    case 'tag':
      return task.tags.map((t) => t.name).join(', ')
    case 'start':
      return task.start ? sayDate(task.start, known.today) : ''
    case 'due':
      return sayDue(task, known.today)
    case 'closed':
      return task.closedAt ? sayInstant(task.closedAt, known.today, known.zone) : ''
    case 'entered':
      return task.entered ? sayInstant(task.entered, known.today, known.zone) : ''
    case 'created':
      return sayInstant(task.createdAt, known.today, known.zone)
    case 'estimate':
      return task.estimate ? sayMinutes(task.estimate) : ''
    case 'steps':
      return task.checklist.length
        ? `${task.checklist.filter((i) => i.done).length} of ${task.checklist.length}`
        : ''
    default: {
      const stateId = enteredId(field)
      if (stateId !== null)
        return task.stateDates[stateId]
          ? sayInstant(task.stateDates[stateId], known.today, known.zone)
          : ''
      const own = customOf(known, field)
      return own
        ? sayValue(
            own,
            task.fields[own.id],
            (id) => known.directory.people.find((p) => p.id === id)?.name,
            known.today,
          )
        : ''
    }
  }
}

const PRIORITY_COLOURS: Readonly<Record<string, string>> = {
  urgent: 'alarm',
  high: 'ochre',
  low: 'slate',
}
const KIND_COLOURS: Readonly<Record<string, string>> = {
  'not-started': 'slate',
  'under-way': 'dusk',
  waiting: 'ochre',
  'in-review': 'heather',
  done: 'fern',
  dropped: 'slate',
}
const CYCLE = ['teal', 'clay', 'moss', 'rose', 'dusk', 'heather', 'ochre', 'fern'] as const
/** The palette's name of a colour that may be a kind of state. */
export const paletteOf = (colour: string | null | undefined): string | null =>
  colour ? (KIND_COLOURS[colour] ?? colour) : null

/** The colour that a field gives a task, as a name of the palette; null for none. */
export function colourFor(known: Known, field: string | null, task: TaskRow): string | null {
  const nth = (id: number | null | undefined) => (id ? CYCLE[id % CYCLE.length]! : null)
  switch (field) {
    case null:
      return null
    case 'state':
    case 'kind':
      return field === 'state' && task.stateColour ? task.stateColour : KIND_COLOURS[task.state]!
    case 'priority':
      return PRIORITY_COLOURS[task.priority] ?? null
    case 'tag':
      return task.tags[0]?.colour ?? null
    case 'assignee':
      return nth(task.assignees[0]?.id)
    case 'client':
      return nth(task.client?.id)
    case 'project':
      return nth(task.project?.id)
    case 'phase':
      return nth(task.phaseId)
    case 'due':
      return task.late ? 'alarm' : null
    default: {
      const own = customOf(known, field)
      const value = own ? task.fields[own.id] : undefined
      if (own?.kind === 'choice')
        return own.options.choices?.find((c) => c.key === value)?.colour ?? null
      if (own?.kind === 'person') return nth(Number(value) || null)
      return value ? 'teal' : null
    }
  }
}

/** Fields whose value a person can set in a list. */
export const SETTABLE: ReadonlySet<string> = new Set([
  'title',
  'state',
  'priority',
  'assignee',
  'client',
  'project',
  'phase',
  'tag',
  'start',
  'due',
  'estimate',
])
export const isSettable = (field: string): boolean =>
  SETTABLE.has(field) || customId(field) !== null

/**
 * The edit that moves a task under a group; null where a group cannot be dropped on (a week, a
 * client's tier).
 */
export function editForGroup(
  field: string,
  key: string | number | null,
  from: string | number | null,
  task: TaskRow,
): TaskPatch | null {
  switch (field) {
    case 'state':
      return key === null ? null : { stateId: Number(key) }
    case 'kind':
      return key === null ? null : { state: key as never }
    case 'priority':
      return key === null ? null : { priority: key as never }
    case 'assignee': {
      // From one person to another: whoever else is on it stays.
      const others = task.assignees.map((a) => a.id).filter((id) => id !== from)
      return { assignees: key === null ? [] : [...new Set([...others, Number(key)])] }
    }
    case 'tag': {
      const others = task.tags.map((t) => t.id).filter((id) => id !== from)
      return { tags: key === null ? [] : [...new Set([...others, Number(key)])] }
    }
    case 'phase':
      return { phaseId: key === null ? null : Number(key) }
    case 'project':
      return { projectId: key === null ? null : Number(key) }
    case 'client':
      return { clientId: key === null ? null : Number(key) }
    default: {
      const id = customId(field)
      return id === null ? null : { fields: { [id]: key } }
    }
  }
}

/** A line about how many and how much. */
export const sayCount = (count: number, minutes: number): string =>
  `${plural(count, 'task')}${minutes ? ` · ${sayMinutes(minutes)}` : ''}`
