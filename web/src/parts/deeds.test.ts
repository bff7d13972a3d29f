import { describe, expect, it } from 'vitest'
import { bulkBody } from '#contract/tasks.ts'
import type { Directory } from '#contract/desks.ts'
import type { Known } from '#web/fields/known.ts'
import { deedsFor } from './deeds.ts'

const person = (id: number, name: string, active = true) => ({ id, name, active, access: 'member' })
const directory = {
  people: [person(1, 'Imogen'), person(2, 'Tobias'), person(3, 'Gone', false)],
  states: [
    { id: 1, setId: 1, name: 'Not started', kind: 'not-started', colour: null, only: 'anyone' },
    { id: 9, setId: 2, name: 'Asked', kind: 'waiting', colour: null, only: 'anyone' },
  ],
  tags: [{ id: 4, name: 'year end', colour: 'fern' }],
  projects: [{ id: 7, name: 'Books' }],
  ...{ clients: [], fields: [], teams: [], templates: [] },
} as unknown as Directory
const known: Known = {
  ...{ directory, projects: directory.projects, phases: [], today: '2026-11-23', zone: 'UTC' },
  ...{ scope: { of: 'firm' }, member: true },
}
const deeds = (words: string, setId: number | null = null) => deedsFor(known, 1, setId, words)
const first = (words: string) => {
  const [deed] = deeds(words)
  return deed?.key.startsWith('w-') ? [deed.name, deed.body] : null
}

describe('what one line can do with tasks', () => {
  it('reads dates, lengths and days after their word', () => {
    expect(first('due fri 3pm')).toEqual([
      'Due: Fri 27 Nov, 15:00',
      { set: { due: '2026-11-27', dueTime: '15:00' } },
    ])
    expect(first('due 3 dec')).toEqual(['Due: Thu 3 Dec', { set: { due: '2026-12-03' } }])
    expect(first('Start: tomorrow')).toEqual([
      'Start: Tue 24 Nov',
      { set: { start: '2026-11-24' } },
    ])
    expect(first('estimate 1h 30m')).toEqual(['Estimate: 1h 30m', { set: { estimate: 90 } }])
    expect(first('on by 3')).toEqual([
      'On by 3 working days',
      { shift: { days: 3, working: true } },
    ])
    expect(first('back 1 day')).toEqual([
      'Back by 1 working day',
      { shift: { days: -1, working: true } },
    ])
  })
  it.each([
    'due',
    'due whenever',
    'start fri 3pm',
    'estimate soon',
    'on 0',
    'on top of it',
    'overdue 3',
  ])('reads nothing into “%s”', (words) => expect(first(words)).toBeNull())
  it('offers the states of the set the tasks share, and kinds where they share none', () => {
    const states = (setId: number | null) =>
      deeds('', setId).flatMap((d) => (d.name.startsWith('State: ') ? [d.body.set] : []))
    expect(states(2)).toEqual([{ stateId: 9 }])
    expect(states(null)).toHaveLength(6)
    expect(states(null)[0]).toEqual({ state: 'not-started' })
  })
  it('offers who and what is here; each deed is one the server takes, under a key of its own', () => {
    const all = deeds('due fri')
    const names = all.map((d) => d.name)
    for (const name of [
      'Put Tobias on',
      'Hand to Tobias alone',
      'Take Tobias off',
      'Let Tobias follow',
      'Tag as “year end”',
      'Take off the tag “year end”',
      'Move to Books',
      'Priority: Urgent',
      'Due: no date',
      'Archive',
      'Bring what slipped to today',
    ])
      expect(names).toContain(name)
    expect(names.some((n) => n.includes('Gone'))).toBe(false)
    expect(new Set(all.map((d) => d.key)).size).toBe(all.length)
    for (const deed of all)
      expect(bulkBody.validate({ ids: [1], ...deed.body }).error).toBeUndefined()
  })
})
