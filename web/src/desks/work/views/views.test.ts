import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { TaskRow } from '#contract/tasks.ts'
import type { Directory } from '#contract/desks.ts'
import { boardField, laneField, queryOf, standard } from './definition.ts'
import {
  choicesFor,
  colourFor,
  editForGroup,
  fieldOf,
  fieldsIn,
  sayField,
  saySum,
} from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { layWeek } from './lanes.ts'
import { pasted } from './paste.ts'
import { readCell } from '#web/fields/read.ts'
import { dragged, nudged, plusDays } from './span.ts'
import { tickEdit } from '#web/parts/tick.ts'

const person = (id: number, name: string, active = true) => ({
  id,
  name,
  active,
  access: 'member' as const,
  title: '',
})
const state = (
  id: number,
  setId: number,
  name: string,
  kind: 'not-started' | 'waiting' | 'done',
) => ({ id, setId, name, kind, colour: null, only: 'anyone' as const })
const directory: Directory = {
  people: [
    person(1, 'Imogen Achterberg'),
    person(2, 'Tobias Okonjo'),
    person(3, 'Tobias Fell'),
    person(4, 'Gone', false),
  ],
  teams: [],
  clients: [{ id: 1, name: 'Mossgate Veterinary Clinic', short: 'Mossgate', tier: 'gold' }],
  projects: [{ id: 9, name: 'Books', clientId: 1, stateSetId: 2, templateId: 5 }],
  templates: [],
  series: [],
  clientStates: [],
  states: [
    state(1, 1, 'Not started', 'not-started'),
    state(3, 1, 'Waiting', 'waiting'),
    state(11, 2, 'Asked', 'waiting'),
  ],
  tags: [{ id: 6, name: 'records', colour: 'teal' }],
  fields: [
    {
      id: 1,
      name: 'Fee',
      kind: 'money',
      options: { currency: 'GBP' },
      projectId: null,
      templateId: null,
      hidden: false,
      of: 'task',
      readers: 'everyone',
    },
    {
      id: 2,
      name: 'Records',
      kind: 'choice',
      options: { choices: [{ key: 'a', name: 'Asked for', colour: 'ochre' }] },
      projectId: null,
      templateId: null,
      hidden: false,
      of: 'task',
      readers: 'everyone',
    },
    {
      id: 3,
      name: 'Old',
      kind: 'text',
      options: {},
      projectId: null,
      templateId: null,
      hidden: true,
      of: 'task',
      readers: 'everyone',
    },
    {
      id: 4,
      name: 'Own',
      kind: 'yes-no',
      options: {},
      projectId: 9,
      templateId: null,
      hidden: false,
      of: 'task',
      readers: 'everyone',
    },
    {
      id: 5,
      name: 'Elsewhere',
      kind: 'text',
      options: {},
      projectId: null,
      templateId: 8,
      hidden: false,
      of: 'task',
      readers: 'everyone',
    },
  ],
}
const firm: Known = {
  directory,
  projects: directory.projects,
  phases: [{ id: 4, projectId: 9, name: 'Gather' }],
  today: '2026-11-23',
  zone: 'Europe/London',
  scope: { of: 'firm' },
  member: true,
}
const books: Known = { ...firm, scope: { of: 'project', id: 9 } }
const row = (more: Partial<TaskRow> = {}): TaskRow => ({
  id: 7,
  title: 'Post',
  state: 'not-started',
  stateId: 1,
  stateName: 'Not started',
  stateColour: null,
  entered: null,
  stateDates: {},
  parentId: null,
  subtasks: { done: 0, of: 0 },
  doneBy: 'any',
  tags: [],
  fields: {},
  files: 0,
  cover: null,
  comments: 0,
  archivedAt: null,
  createdAt: 0,
  priority: 'normal',
  start: null,
  due: null,
  dueTime: null,
  estimate: null,
  role: null,
  project: null,
  phaseId: null,
  phaseName: null,
  client: null,
  assignees: [],
  checklist: [],
  series: null,
  rung: null,
  firstDue: null,
  postponed: 0,
  reviewedAt: null,
  values: {},
  ...{ daysLate: 0, mayWork: true },
  late: false,
  closedAt: null,
  version: 1,
  ...more,
})

describe('fields', () => {
  it('of a project are the firm’s, its template’s and its own; what is hidden is not offered', () => {
    const custom = (known: Known) =>
      fieldsIn(known)
        .filter((f) => f.name.startsWith('field:'))
        .map((f) => f.label)
    expect(custom(books)).toEqual(['Fee', 'Records', 'Own'])
    expect(custom(firm)).toEqual(['Fee', 'Records', 'Elsewhere'])
    expect(
      fieldsIn(books)
        .filter((f) => f.name.startsWith('entered:'))
        .map((f) => f.label),
    ).toEqual(['Entered “Asked”'])
    expect(fieldOf(firm, 'field:99')).toBeUndefined()
    expect(fieldOf(firm, 'constructor')).toBeUndefined()
  })
  it('choose from what their task can take', () => {
    expect(choicesFor(firm, 'state').map((c) => c.name)).toEqual(['Not started', 'Waiting'])
    expect(
      choicesFor(firm, 'state', row({ project: { id: 9, name: 'Books' } })).map((c) => c.name),
    ).toEqual(['Asked'])
    expect(choicesFor(firm, 'assignee').map((c) => c.name)).not.toContain('Gone')
    expect(choicesFor(books, 'phase')).toEqual([{ value: 4, name: 'Gather' }])
  })
  it('are said as people say them', () => {
    expect(sayField(firm, 'due', row({ due: '2026-11-23', dueTime: '10:00' }))).toBe('10:00')
    expect(sayField(firm, 'due', row({ due: '2026-12-03', dueTime: '10:00' }))).toBe(
      'Thu 3 Dec, 10:00',
    )
    expect(sayField(firm, 'field:1', row({ fields: { 1: 125_050 } }))).toBe('£1,250.50')
    expect(sayField(firm, 'field:2', row({ fields: { 2: 'a' } }))).toBe('Asked for')
    expect(sayField(books, 'field:4', row({ fields: { 4: 0 } }))).toBe('No')
    expect(sayField(firm, 'field:99', row())).toBe('')
    expect(saySum(firm, 'estimate', 150)).toBe('2h 30m')
    expect(
      sayField(
        { ...firm, today: '2026-11-23' },
        'entered:3',
        row({ stateDates: { 3: Date.parse('2026-11-19T10:00:00Z') } }),
      ),
    ).toContain('19 Nov')
    expect(fieldOf(firm, 'entered:11')).toMatchObject({
      label: 'Entered “Asked”',
      column: true,
      sorts: true,
    })
    expect(fieldOf(firm, 'entered:99')).toBeUndefined()
    expect(saySum(firm, 'field:1', 500)).toBe('£5.00')
  })
  it('colour a task, or do not', () => {
    expect(colourFor(firm, 'priority', row({ priority: 'urgent' }))).toBe('alarm')
    expect(colourFor(firm, 'priority', row())).toBeNull()
    expect(colourFor(firm, 'field:2', row({ fields: { 2: 'a' } }))).toBe('ochre')
    expect(colourFor(firm, 'state', row({ state: 'waiting' }))).toBe('ochre')
    expect(colourFor(firm, null, row())).toBeNull()
  })
})

describe('moving between groups', () => {
  it('from one person to another whoever else is on it stays', () => {
    const shared = row({
      assignees: [1, 2].map((id) => ({ id, name: '', estimate: null, doneAt: null })),
    })
    expect(editForGroup(firm, 'assignee', { key: 3, from: 2 }, shared)).toEqual({
      assignees: [1, 3],
    })
    expect(editForGroup(firm, 'assignee', { key: null, from: 2 }, shared)).toEqual({
      assignees: [],
    })
    expect(editForGroup(firm, 'tag', { key: 6, from: null }, row())).toEqual({ tags: [6] })
    expect(editForGroup(firm, 'field:2', { key: 'a', from: null }, row())).toEqual({
      fields: { 2: 'a' },
    })
    expect(editForGroup(firm, 'phase', { key: null, from: 4 }, row())).toEqual({ phaseId: null })
    expect(editForGroup(firm, 'state', { key: null, from: 1 }, row())).toBeNull()
    expect(editForGroup(firm, 'week', { key: '2026-11-23', from: null }, row())).toBeNull()
  })
  it('ticking says what it does, also where others have their part still', () => {
    const [patch, shown, said] = tickEdit(row())
    expect([patch, shown.state]).toEqual([{ state: 'done' }, 'done'])
    const after = row({
      doneBy: 'all',
      assignees: [
        { id: 1, name: 'Imogen', estimate: null, doneAt: 5 },
        { id: 2, name: 'Tobias', estimate: null, doneAt: null },
      ],
    })
    expect(said(after as never)).toBe('Your part of “Post” is done; Tobias still has theirs.')
    expect(tickEdit(row({ closedAt: 5, state: 'done' }))[0]).toEqual({ state: 'not-started' })
  })
})

describe('cells from a spreadsheet', () => {
  it.each([
    ['due', '3 Dec', { due: '2026-12-03' }],
    ['due', '', { due: null }],
    ['estimate', '1:30', { estimate: 90 }],
    ['estimate', '45', { estimate: 45 }],
    ['priority', 'urgent', { priority: 'urgent' }],
    ['priority', '', { priority: 'normal' }],
    ['assignee', 'Imogen; Tobias Okonjo', { assignees: [1, 2] }],
    ['assignee', '', { assignees: [] }],
    ['client', 'mossgate', { clientId: 1 }],
    ['tag', 'records', { tags: [6] }],
    ['field:1', '£1,250.50', { fields: { 1: 125_050 } }],
    ['field:2', 'asked', { fields: { 2: 'a' } }],
    ['title', '  Post  ', { title: 'Post' }],
    ['created', 'anything', {}],
  ])('%s: “%s”', (field, text, patch) => expect(readCell(firm, field, text)).toEqual(patch))
  it.each([
    ['due', '31 feb', /Due: “31 feb” is not a date, such as/],
    ['estimate', 'soon', /not a length of time/],
    ['assignee', 'Tobias', /not clear: Tobias Okonjo, Tobias Fell/],
    ['assignee', 'Nobody', /not one of: Imogen/],
    ['field:1', 'much', /not a number/],
    ['title', '', /not a title/],
  ])('%s: “%s” says what would be right', (field, text, why) =>
    expect(() => readCell(firm, field, text)).toThrow(why),
  )
  it('lie over rows from where one stands; what goes beyond the last is made, in its project', () => {
    const { edits, make, faults } = pasted(
      'One\t3 Dec\r\n"Two ""x"""\t\r\nThree\t4 Dec\r\n',
      ['title', 'due'],
      [row({ id: 1 }), row({ id: 2 })],
      books,
      books.scope,
    )
    expect(edits).toEqual([
      { id: 1, patch: { title: 'One', due: '2026-12-03' } },
      { id: 2, patch: { title: 'Two "x"', due: null } },
    ])
    expect(make).toEqual([{ title: 'Three', due: '2026-12-04', projectId: 9 }])
    expect(faults).toEqual([])
    expect(pasted('\t31 feb', ['title', 'due'], [], firm, firm.scope).faults).toEqual([
      'Row 1, Title: “” is not a title.',
      'Row 1, Due: “31 feb” is not a date, such as 3 Dec, fri or 3/12/2026.',
      'Row 1 has no title, so no task can be made of it.',
    ])
  })
})

describe('bars on days', () => {
  it('move whole or by an edge, which never crosses the other', () => {
    const span = { id: 1, start: '2026-11-24', due: '2026-11-26' }
    expect(dragged({ ...span, part: 'whole' }, 2)).toEqual({
      id: 1,
      start: '2026-11-26',
      due: '2026-11-28',
    })
    expect(dragged({ ...span, part: 'end' }, -9)).toEqual({
      id: 1,
      start: '2026-11-24',
      due: '2026-11-24',
    })
    expect(dragged({ ...span, part: 'start' }, 9)).toEqual({
      id: 1,
      start: '2026-11-26',
      due: '2026-11-26',
    })
    expect(dragged({ id: 1, start: null, due: '2026-11-26', part: 'end' }, 2)).toEqual({
      id: 1,
      start: '2026-11-26',
      due: '2026-11-28',
    })
    expect(dragged({ id: 1, start: null, due: '2026-11-26', part: 'whole' }, 1)).toEqual({
      id: 1,
      start: null,
      due: '2026-11-27',
    })
  })
  it('by keyboard go a day on or back, or stretch, and never shrink to less than a day', () => {
    const span = { id: 1, start: '2026-11-24', due: '2026-11-26' }
    const day = { id: 1, start: null, due: '2026-11-30' }
    expect(nudged(span, -1, false)).toEqual({ id: 1, start: '2026-11-23', due: '2026-11-25' })
    expect(nudged(day, 1, false)).toEqual({ id: 1, start: null, due: '2026-12-01' })
    expect(nudged(day, 1, true)).toEqual({ id: 1, start: '2026-11-30', due: '2026-12-01' })
    expect(nudged(day, -1, true)).toBeNull()
    expect(nudged({ ...span, due: '2026-11-25' }, -1, true)).toEqual({
      id: 1,
      start: '2026-11-24',
      due: '2026-11-24',
    })
  })
  it('never lie over one another, and every one is drawn or counted', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -5, max: 10 }), fc.integer({ min: 0, max: 8 })), {
          maxLength: 25,
        }),
        fc.integer({ min: 1, max: 4 }),
        (spans, most) => {
          const items = spans.map(([from, length]) => ({
            start: plusDays('2026-11-23', from),
            due: plusDays('2026-11-23', from + length),
          }))
          const { bars, more } = layWeek(items, '2026-11-23', 7, most)
          const taken = new Set<string>()
          for (const bar of bars)
            for (let day = bar.from; day < bar.from + bar.span; day++) {
              const place = `${bar.lane} ${day}`
              expect(taken.has(place)).toBe(false)
              taken.add(place)
            }
          for (let day = 0; day < 7; day++) {
            const date = plusDays('2026-11-23', day)
            const here = items.filter((i) => i.start <= date && i.due >= date).length
            expect(
              bars.filter((b) => b.from <= day && day < b.from + b.span).length + more[day]!,
            ).toBe(here)
          }
        },
      ),
    ))
})

describe('what a view asks', () => {
  it('a board has columns that can be dropped on, a timeline lanes', () => {
    const def = standard({ of: 'firm' })
    expect(boardField({ ...def, group: 'week' })).toBe('state')
    expect(boardField({ ...def, group: 'priority' })).toBe('priority')
    expect(laneField({ ...def, group: 'due' })).toBe('project')
    expect(laneField(standard({ of: 'project', id: 9 }))).toBe('phase')
    expect(queryOf({ ...def, kind: 'board' }, [])).toMatchObject({
      group: 'state',
      every: true,
      tree: false,
    })
  })
  it('dated views ask for what touches their days', () => {
    const { filter } = queryOf({ ...standard({ of: 'firm' }), kind: 'calendar' }, [], {
      first: '2026-11-23',
      last: '2026-11-29',
    })
    expect(filter.of[1]).toEqual({ field: 'due', op: 'after', value: '2026-11-22' })
    expect(JSON.stringify(filter.of[2])).toContain('"before","value":"2026-11-30"')
  })
})
