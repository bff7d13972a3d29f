import { expect, it } from 'vitest'
import type { CustomField } from '#contract/fields.ts'
import { guessed, meanings, readRows } from './bring-in.ts'
import type { Known } from '#web/fields/known.ts'

const person = (id: number, name: string) => ({
  ...{ id, name, active: true, title: '' },
  access: 'member' as const,
})
const fee = (more: object = {}): CustomField => ({
  ...{ id: 1, name: 'Fee', kind: 'money', options: { currency: 'GBP' } },
  ...{
    projectId: null,
    templateId: null,
    hidden: false,
    of: 'task',
    readers: 'everyone' as const,
    ...more,
  },
})
const known = (scope: Known['scope'] = { of: 'firm' }, own = fee()): Known => ({
  directory: {
    ...{ people: [person(2, 'Tobias Okonjo')], teams: [], clients: [], projects: [] },
    ...{ templates: [], series: [], clientStates: [], states: [], tags: [], fields: [own] },
  },
  ...{ projects: [], phases: [], scope, today: '2026-11-24', zone: 'Europe/London', member: true },
})
const HEADINGS = ['Task', 'Stage', 'Deadline', 'Who', 'Hours', 'Fee', 'Notes']
const MAPPING = guessed(HEADINGS, meanings(known()))
const read = (rows: readonly (readonly string[])[], scope?: Known['scope']) =>
  readRows({ headings: HEADINGS, rows, notes: [] }, MAPPING, known(scope))

it('columns are guessed by their headings, each field once, the firm’s own first', () => {
  expect(MAPPING).toEqual([
    ...['title', 'phaseName', 'due', 'assignee', 'estimate', 'field:1', 'description'],
  ])
  const hidden = meanings(known({ of: 'firm' }, fee({ hidden: true })))
  expect(guessed(['Title', 'Task name', '', 'Colour', 'FEE '], hidden)).toEqual([
    ...['title', '', '', '', ''],
  ])
  expect(guessed([], [])).toEqual([])
})

it('a line becomes a task: hours as hours, money in pence, notes as rich text', () => {
  const line = ['Ask <now>', ' Gather ', '3/12/2026', 'tobias', '1.5', '12.50', 'A & B']
  expect(read([line])).toEqual({
    made: [
      {
        ...{ title: 'Ask <now>', phaseName: 'Gather', due: '2026-12-03', assignees: [2] },
        ...{ estimate: 90, fields: { 1: 1250 }, description: '<p>A &amp; B</p>' },
      },
    ],
    faults: [],
  })
  expect(read([['Ask']], { of: 'project', id: 9 }).made).toMatchObject([
    { title: 'Ask', projectId: 9 },
  ])
})

it('what cannot be read is named by its line in the file, and the rest is kept', () => {
  const { made, faults } = read([
    ['Post', '', '31/2/2026', 'nobody at all'],
    ['', 'Gather'],
    ['', ' ', ''],
    ['File'],
  ])
  expect(made.map((task) => task.title)).toEqual(['File'])
  expect(faults.map((fault) => fault.line)).toEqual([2, 3])
  expect(faults[0]?.text).toMatch(/^Due: “31\/2\/2026” is not a date.* On it: “nobody at all” is/)
  expect(faults[1]?.text).toBe('There is no title.')
  expect(readRows(null, [], known())).toEqual({ made: [], faults: [] })
})

it('ten thousand lines are read in one go, each once', () => {
  const rows = Array.from({ length: 10_000 }, (_, i) => [`Task ${i}`, 'Gather', 'fri'])
  const { made, faults } = read(rows)
  expect([made.length, new Set(made.map((task) => task.title)).size]).toEqual([10_000, 10_000])
  expect(faults).toEqual([])
})
