import { expect, it } from 'vitest'
import type { TaskSheet } from '#contract/tasks.ts'
import type { Known } from './known.ts'
import { differences, sayPatch, untouched } from './versions.ts'

const person = (id: number, name: string) => ({
  ...{ id, name, active: true, title: '', access: 'member' as const },
})
const known: Known = {
  directory: {
    people: [person(1, 'Imogen'), person(2, 'Tobias')],
    clients: [{ id: 3, name: 'Mossgate Clinic', short: 'Mossgate', tier: 'gold' }],
    ...{ teams: [], projects: [], templates: [], series: [], clientStates: [], states: [] },
    tags: [{ id: 4, name: 'records', colour: 'teal' }],
    fields: [
      {
        ...{ id: 5, name: 'Fee', kind: 'money', options: { currency: 'GBP' } },
        ...{
          projectId: null,
          templateId: null,
          hidden: false,
          of: 'task',
          readers: 'everyone' as const,
        },
      },
    ],
  },
  ...{ projects: [], phases: [], today: '2026-11-24', zone: 'Europe/London' },
  ...{ scope: { of: 'firm' }, member: true },
}
const theirs = {
  ...{ title: 'Theirs', due: '2026-11-30', dueTime: '10:00', estimate: 90, priority: 'high' },
  assignees: [{ id: 2, name: 'Tobias', estimate: 30, doneAt: null }],
  client: { id: 3, name: 'Mossgate Clinic', short: 'Mossgate' },
  ...{ tags: [], fields: { 5: 500 }, datesFollow: false, description: '<p>Old</p>' },
} as unknown as TaskSheet

it('says both sides of every part of an edit in words', () => {
  const edit = {
    ...{ title: 'Mine', due: null, estimate: 30, priority: 'urgent', assignees: [1, 2] },
    ...{ clientId: null, tags: [4], fields: { 5: 1250 }, datesFollow: true },
    description: '<p>New &amp; bold</p>',
  } as const
  expect(
    differences(known, edit as never, theirs).map(({ label, mine, theirs: other }) => [
      ...[label, mine, other],
    ]),
  ).toEqual([
    ['Title', 'Mine', 'Theirs'],
    ['Due', 'none', 'Mon 30 Nov, 10:00'],
    ['Estimate', '30m', '1h 30m'],
    ['Priority', 'Urgent', 'High'],
    ['On it', 'Imogen, Tobias', 'Tobias'],
    ['Client', 'none', 'Mossgate'],
    ['Tag', 'records', 'none'],
    ['Fee', '£12.50', '£5.00'],
    ['Dates follow subtasks', 'yes', 'no'],
    ['Description', 'New & bold', 'Old'],
  ])
  expect(sayPatch(known, { title: 'Mine', fields: { 5: 1250 } })).toBe('Title: Mine; Fee: £12.50')
})

it('an edit is in nobody’s way where what it touches is as it was, whatever else changed', () => {
  const base = { ...theirs, title: 'Base' }
  expect(untouched(known, { due: '2026-12-01' }, base, theirs)).toBe(true)
  expect(untouched(known, { title: 'Mine' }, base, theirs)).toBe(false)
  const other = { ...theirs, client: { id: 9, name: 'Greywether', short: 'Greywether' } }
  expect(untouched(known, { clientId: 3 }, other, theirs)).toBe(false)
  expect(untouched(known, { fields: { 5: 1 } }, { ...theirs, fields: { 5: 1 } }, theirs)).toBe(
    false,
  )
  const parts = { ...theirs, assignees: [{ id: 2, name: 'Tobias', estimate: 60, doneAt: null }] }
  expect(untouched(known, { assignees: [1] }, parts, theirs)).toBe(true)
  expect(untouched(known, { estimates: { 2: 10 } }, parts, theirs)).toBe(false)
})
