import type { IsoDate } from '../brands.ts'
import { toEpochDay, weekdayOf } from '../calendar/dates.ts'
import { PRIORITIES, PRIORITY_NAMES, STATE_NAMES, STATES } from '../words.ts'
import { field, type Field } from './field.ts'
import type { TaskFacts } from './facts.ts'

/** Fields of a task: everything that lists, filters, rules, exports and the journal know of it. */

const task = (given: Parameters<typeof field<'task'>>[1]): Field<'task'> => field('task', given)

const PRIORITY_COLOURS: Readonly<Record<string, string>> = {
  ...{ urgent: 'alarm', high: 'ochre', low: 'slate' },
}

const epoch = (date: string): number => toEpochDay(date as IsoDate)
const monday = (day: number): number => day - weekdayOf(day) + 1

const WHAT: readonly Field<'task'>[] = [
  task({
    ...{ name: 'id', label: 'Number', type: 'number', column: true },
    read: (t) => t.id,
    say: (t) => `#${t.id}`,
  }),
  task({
    ...{ name: 'title', label: 'Title', type: 'text', key: 'title', needed: true },
    read: (t) => t.title,
  }),
  task({
    ...{ name: 'description', label: 'Description', type: 'rich', key: 'description' },
    column: false,
    read: (t) => t.description ?? null,
  }),
  task({
    ...{ name: 'words', label: 'Words anywhere', type: 'words', only: 'lists' },
    read: () => null,
  }),
  task({
    ...{ name: 'state', label: 'State', type: 'state', to: 'state', key: 'stateId', needed: true },
    read: (t) =>
      t.stateId === null
        ? null
        : { id: t.stateId, name: t.stateName, colour: t.stateColour ?? t.state },
  }),
  task({
    ...{ name: 'kind', label: 'Kind of state', type: 'choice', key: 'state', needed: true },
    ...{ stored: 'state', column: false, sorts: false },
    choices: STATES.map((value) => ({ value, name: STATE_NAMES[value], colour: value })),
    read: (t) => t.state,
  }),
  task({
    ...{ name: 'priority', label: 'Priority', type: 'choice', key: 'priority', needed: true },
    fallback: 'normal',
    choices: [...PRIORITIES].reverse().map((value) => ({
      ...{ value, name: PRIORITY_NAMES[value] },
      ...(PRIORITY_COLOURS[value] && { colour: PRIORITY_COLOURS[value] }),
    })),
    read: (t) => t.priority,
    usual: (t) => t.priority === 'normal',
  }),
]

const PEOPLE: readonly Field<'task'>[] = [
  task({
    ...{ name: 'assignee', label: 'On it', type: 'people', to: 'person', key: 'assignees' },
    stored: null,
    read: (t) => t.assignees,
    follow: (t) => t.assignees,
  }),
  task({
    ...{ name: 'follower', label: 'Follower', type: 'people', to: 'person', key: 'followers' },
    ...{ stored: null, column: false, groups: false, sorts: false, readers: 'members' },
    read: (t) => t.followers ?? null,
  }),
  task({
    ...{ name: 'creator', label: 'Made by', type: 'person', to: 'person', stored: 'creatorId' },
    sorts: false,
    read: (t) => t.creator ?? null,
    follow: (t) => t.creator ?? null,
  }),
]

const PLACES: readonly Field<'task'>[] = [
  task({
    ...{ name: 'client', label: 'Client', type: 'item', to: 'client', key: 'clientId' },
    read: (t) => t.client,
    follow: (t) => t.client,
    say: (t) => t.client?.short ?? '',
  }),
  task({
    ...{ name: 'project', label: 'Project', type: 'item', to: 'project', key: 'projectId' },
    read: (t) => t.project,
    follow: (t) => t.project,
  }),
  task({
    ...{ name: 'phase', label: 'Phase', type: 'item', to: 'phase', key: 'phaseId' },
    read: phaseOf,
    follow: phaseOf,
  }),
  task({
    ...{ name: 'tag', label: 'Tag', type: 'tags', to: 'tag', key: 'tags', stored: null },
    read: (t) => t.tags,
  }),
  task({
    ...{ name: 'template', label: 'Template', type: 'item', to: 'template', sorts: false },
    read: (t) => t.project?.template ?? null,
  }),
  task({
    ...{ name: 'series', label: 'Series', type: 'item', to: 'series', sorts: false },
    stored: 'seriesId',
    read: (t) => t.series,
  }),
  task({
    ...{ name: 'parent', label: 'Subtask of number', type: 'number', key: 'parentId' },
    ...{ column: false, sorts: false, sums: false },
    read: (t) => t.parentId,
  }),
  task({
    ...{ name: 'subtask', label: 'Subtask', type: 'yes-no', groups: false },
    read: (t) => t.parentId !== null,
  }),
]
function phaseOf(t: TaskFacts) {
  return t.phaseId === null ? null : { id: t.phaseId, name: t.phaseName ?? '' }
}

const DATES: readonly Field<'task'>[] = [
  task({
    ...{ name: 'start', label: 'Start', type: 'date', key: 'start' },
    read: (t) => t.start,
  }),
  task({
    ...{ name: 'due', label: 'Due', type: 'date', key: 'due', groups: true, heads: 'standing' },
    time: { read: (t) => t.dueTime, key: 'dueTime' },
    read: (t) => t.due,
    colour: (t) => (t.late ? 'alarm' : null),
  }),
  task({
    ...{ name: 'week', label: 'Week due', type: 'date', groups: true, heads: 'week' },
    sorts: false,
    read: (t) => t.due,
  }),
  task({
    ...{ name: 'month', label: 'Month due', type: 'date', groups: true, heads: 'month' },
    sorts: false,
    read: (t) => t.due,
  }),
  task({
    ...{ name: 'first-due', label: 'First due', type: 'date', stored: 'firstDue', column: true },
    read: (t) => t.firstDue,
  }),
  task({
    ...{ name: 'created', label: 'Made', type: 'moment', column: true },
    read: (t) => t.createdAt,
  }),
  task({
    ...{ name: 'closed', label: 'Closed', type: 'moment', stored: 'closedAt', column: true },
    read: (t) => t.closedAt,
  }),
  task({
    ...{ name: 'entered', label: 'In this state since', type: 'moment', column: true },
    read: (t) => t.entered,
  }),
  task({
    ...{ name: 'reviewed', label: 'Last reviewed', type: 'moment', stored: 'reviewedAt' },
    column: true,
    read: (t) => t.reviewedAt,
  }),
]

const STANDING: readonly Field<'task'>[] = [
  task({
    ...{ name: 'late', label: 'Late', type: 'yes-no', groups: false, sorts: false },
    read: (t) => t.late,
  }),
  task({
    ...{ name: 'days-late', label: 'Working days late', type: 'number', column: true },
    read: (t) => t.daysLate,
    usual: (t) => t.daysLate === 0,
  }),
  task({
    ...{ name: 'days-left', label: 'Days until due', type: 'number', column: true },
    read: (t, now) => (t.due === null ? null : epoch(t.due) - epoch(now.today)),
  }),
  task({
    ...{ name: 'weeks-left', label: 'Weeks until due', type: 'number', column: true },
    read: (t, now) =>
      t.due === null ? null : (monday(epoch(t.due)) - monday(epoch(now.today))) / 7,
  }),
  task({
    ...{ name: 'postponed', label: 'Times postponed', type: 'number', stored: 'postponed' },
    ...{ column: true, sums: true },
    read: (t) => t.postponed,
    usual: (t) => t.postponed === 0,
  }),
  task({
    ...{ name: 'rung', label: 'Rung', type: 'number' },
    read: (t) => t.rung?.at ?? 0,
  }),
  task({
    ...{ name: 'open', label: 'Open', type: 'yes-no', groups: false, sorts: false },
    read: (t) => t.closedAt === null,
  }),
  task({
    ...{ name: 'archived', label: 'Archived', type: 'yes-no', stored: 'archivedAt' },
    ...{ groups: false, sorts: false },
    read: (t) => t.archivedAt !== null,
  }),
]

const EFFORT: readonly Field<'task'>[] = [
  task({
    ...{ name: 'estimate', label: 'Estimate', type: 'minutes', key: 'estimate' },
    read: (t) => t.estimate,
  }),
  task({
    ...{ name: 'steps', label: 'Checklist', type: 'number', column: true, sorts: false },
    read: (t) => t.checklist.length,
    say: ({ checklist }) =>
      checklist.length
        ? `${checklist.filter(({ done }) => done).length} of ${checklist.length}`
        : '',
  }),
  task({
    ...{ name: 'ticked', label: 'Share ticked, per cent', type: 'number', column: true },
    read: ({ checklist }) =>
      checklist.length
        ? Math.floor((100 * checklist.filter(({ done }) => done).length) / checklist.length)
        : null,
  }),
  task({
    ...{ name: 'count:people', label: 'How many are on it', type: 'number' },
    read: (t) => t.assignees.length,
  }),
  task({
    ...{ name: 'count:open-subtasks', label: 'Open subtasks', type: 'number' },
    read: (t) => t.subtasks.of - t.subtasks.done,
  }),
  task({
    ...{ name: 'count:subtasks', label: 'Subtasks', type: 'number' },
    read: (t) => t.subtasks.of,
  }),
  task({
    ...{ name: 'files', label: 'Files and links', type: 'number', sorts: false },
    read: (t) => t.files,
  }),
  task({
    ...{ name: 'comments', label: 'Comments', type: 'number', sorts: false },
    read: (t) => t.comments,
  }),
]

export const TASK_FIELDS: readonly Field<'task'>[] = [
  ...[...WHAT, ...PEOPLE, ...PLACES, ...DATES, ...STANDING, ...EFFORT],
]
