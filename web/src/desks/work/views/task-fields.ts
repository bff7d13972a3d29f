import { sayDate, sayMinutes } from '#core/text/speak.ts'
import type { Choice } from '#contract/fields.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import type { Directory } from '#contract/desks.ts'
import { PRIORITIES, PRIORITY_NAMES, STATE_NAMES, STATES } from '#contract/words.ts'
import { sayInstant } from '#web/parts/say.ts'
import { statesFor, type Known } from './known.ts'

/** What each field of every task is in views: its words, its colour, its choices, its edits. */

export type Value = string | number
interface TaskFieldHere {
  /** The words of a row; nothing where it has none. */
  readonly say?: (task: TaskRow, known: Known) => string
  /** A name of the palette; null for none. */
  readonly colour?: (task: TaskRow) => string | null
  /** What there is to choose from; in a project, what its tasks can take. */
  readonly choices?: (known: Known, projectId: number | null) => Choice[]
  /** Which of them a row has. */
  readonly chosen?: (task: TaskRow) => Value[]
  /** The edit that sets one choice; null where it cannot be set to that. */
  readonly set?: (value: Value | null) => TaskPatch | null
  /** Where a task has several: the edit that sets them all. */
  readonly setAll?: (values: readonly number[]) => TaskPatch
  /** A choice by another name than its own. */
  readonly alias?: (known: Known, name: string) => Value | undefined
}

const PRIORITY_COLOURS: Readonly<Record<string, string>> = {
  urgent: 'alarm',
  high: 'ochre',
  low: 'slate',
}
export const KIND_COLOURS: Readonly<Record<string, string>> = {
  'not-started': 'slate',
  'under-way': 'dusk',
  waiting: 'ochre',
  'in-review': 'heather',
  done: 'fern',
  dropped: 'slate',
}
const CYCLE = ['teal', 'clay', 'moss', 'rose', 'dusk', 'heather', 'ochre', 'fern'] as const
/** A colour for each of many things of one kind, the same each time. */
export const nth = (id: number | null | undefined): string | null =>
  id ? CYCLE[id % CYCLE.length]! : null

type Named = { readonly id: number; readonly name: string; readonly colour?: string }
const named = (list: readonly Named[]): Choice[] =>
  list.map(({ id, name, colour }) => ({ value: id, name, ...(colour && { colour }) }))
const here = (value: Value | null | undefined): Value[] => (value == null ? [] : [value])
const numbered = (value: Value | null): number | null => (value === null ? null : Number(value))

export const activePeople = ({ people }: Directory): Choice[] =>
  named(people.filter((p) => p.active))

/** A date with its time, as rows show it. */
export function sayDue({ due, dueTime }: TaskRow, today: string): string {
  if (due === null) return ''
  if (due === today && dueTime) return dueTime
  return `${sayDate(due, today)}${dueTime ? `, ${dueTime}` : ''}`
}
const instant = (at: number | null | undefined, { today, zone }: Known): string =>
  at ? sayInstant(at, today, zone) : ''

const phasesOf = (known: Known, projectId: number | null): Choice[] =>
  known.phases
    .filter((phase) => projectId === null || phase.projectId === projectId)
    .map(({ id: value, name, projectId: of }) => {
      const project = known.projects.find((p) => p.id === of)?.name ?? ''
      return { value, name: projectId === null ? `${project}: ${name}` : name }
    })

export const TASK_FIELDS_HERE: Readonly<Partial<Record<string, TaskFieldHere>>> = {
  id: { say: (t) => `#${t.id}` },
  title: { say: (t) => t.title },
  state: {
    say: (t) => t.stateName,
    colour: (t) => t.stateColour ?? KIND_COLOURS[t.state]!,
    choices: (known, projectId) =>
      statesFor(known, projectId).map((s) => ({
        ...{ value: s.id, name: s.name },
        colour: s.colour ?? s.kind,
      })),
    chosen: (t) => here(t.stateId),
    set: (value) => (value === null ? null : { stateId: Number(value) }),
  },
  kind: {
    colour: (t) => KIND_COLOURS[t.state]!,
    choices: () => STATES.map((value) => ({ value, name: STATE_NAMES[value], colour: value })),
    set: (value) => (value === null ? null : { state: value as TaskRow['state'] }),
  },
  priority: {
    say: (t) => (t.priority === 'normal' ? '' : PRIORITY_NAMES[t.priority]),
    colour: (t) => PRIORITY_COLOURS[t.priority] ?? null,
    choices: () =>
      [...PRIORITIES].reverse().map((value) => ({ value, name: PRIORITY_NAMES[value] })),
    chosen: (t) => [t.priority],
    set: (value) => ({ priority: (value ?? 'normal') as TaskRow['priority'] }),
  },
  assignee: {
    say: (t) => t.assignees.map((a) => a.name).join(', '),
    colour: (t) => nth(t.assignees[0]?.id),
    choices: ({ directory }) => activePeople(directory),
    chosen: (t) => t.assignees.map((a) => a.id),
    setAll: (ids) => ({ assignees: [...ids] }),
  },
  follower: {
    choices: ({ directory }) => activePeople(directory),
    setAll: (ids) => ({ followers: [...ids] }),
  },
  creator: { choices: ({ directory }) => named(directory.people) },
  client: {
    say: (t) => t.client?.short ?? '',
    colour: (t) => nth(t.client?.id),
    choices: ({ directory }) => named(directory.clients),
    chosen: (t) => here(t.client?.id),
    set: (value) => ({ clientId: numbered(value) }),
    alias: ({ directory }, name) =>
      directory.clients.find((c) => c.short.toLowerCase() === name)?.id,
  },
  tier: {
    choices: () => [
      { value: 'gold', name: 'Gold' },
      { value: 'silver', name: 'Silver' },
      { value: 'bronze', name: 'Bronze' },
    ],
  },
  project: {
    say: (t) => t.project?.name ?? '',
    colour: (t) => nth(t.project?.id),
    choices: ({ directory }) => named(directory.projects),
    chosen: (t) => here(t.project?.id),
    set: (value) => ({ projectId: numbered(value) }),
  },
  phase: {
    say: (t) => t.phaseName ?? '',
    colour: (t) => nth(t.phaseId),
    choices: phasesOf,
    chosen: (t) => here(t.phaseId),
    set: (value) => ({ phaseId: numbered(value) }),
  },
  tag: {
    say: (t) => t.tags.map((tag) => tag.name).join(', '),
    colour: (t) => t.tags[0]?.colour ?? null,
    choices: ({ directory }) => named(directory.tags),
    chosen: (t) => t.tags.map((tag) => tag.id),
    setAll: (ids) => ({ tags: [...ids] }),
  },
  start: { say: (t, { today }) => (t.start ? sayDate(t.start, today) : '') },
  due: {
    say: (t, { today }) => sayDue(t, today),
    colour: (t) => (t.late ? 'alarm' : null),
  },
  closed: { say: (t, known) => instant(t.closedAt, known) },
  entered: { say: (t, known) => instant(t.entered, known) },
  created: { say: (t, known) => instant(t.createdAt, known) },
  estimate: { say: (t) => (t.estimate ? sayMinutes(t.estimate) : '') },
  steps: {
    say: ({ checklist }) =>
      checklist.length
        ? `${checklist.filter((item) => item.done).length} of ${checklist.length}`
        : '',
  },
}
