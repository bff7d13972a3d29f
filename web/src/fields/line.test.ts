import { describe, expect, it } from 'vitest'
import type { Known } from './known.ts'
import { readLine, sayLine, seriesOfLine, taskOfLine } from './line.ts'

const known = {
  today: '2026-11-23',
  zone: 'Europe/London',
  member: true,
  scope: { of: 'firm' },
  projects: [],
  phases: [],
  directory: {
    people: [
      { id: 1, name: 'Tobias Okonjo', active: true },
      { id: 2, name: 'Devika Rao', active: true },
      { id: 3, name: 'Old Hand', active: false },
    ],
    clients: [{ id: 7, name: 'Mossgate Veterinary Clinic', short: 'Mossgate' }],
    projects: [{ id: 20, name: 'Tarn books' }],
    tags: [{ id: 5, name: 'records', colour: 'teal' }],
    fields: [],
    states: [],
    teams: [],
    templates: [],
  },
} as unknown as Known
const line = (text: string) => readLine(known, text)

describe('a line where something is noted', () => {
  it('makes a task of what it says, at the place it is typed in', () => {
    expect(
      taskOfLine(line('Chase statements fri 30m high'), { projectId: 20, phaseId: 4 }),
    ).toEqual({
      ...{ title: 'Chase statements', projectId: 20, phaseId: 4 },
      ...{ due: '2026-11-27', estimate: 30, priority: 'high' },
    })
  })
  it('what it says goes before what the place gives', () => {
    const begins = { due: '2026-11-23', assignees: [2] }
    expect(taskOfLine(line('Ring'), begins)).toEqual({ title: 'Ring', ...begins })
    expect(taskOfLine(line('Ring Tobias fri'), begins)).toEqual({
      ...{ title: 'Ring', due: '2026-11-27', assignees: [1] },
    })
  })
  it('a client or project it names takes the place of the one it stands in', () => {
    expect(taskOfLine(line('Ring Mossgate'), { projectId: 20, phaseId: 4 })).toEqual({
      ...{ title: 'Ring', clientId: 7 },
    })
    expect(taskOfLine(line('Ring Tarn books'), { clientId: 7 })).toEqual({
      ...{ title: 'Ring', projectId: 20 },
    })
  })
  it('a subtask stays where its task is', () => {
    expect(taskOfLine(line('Ring Mossgate fri'), { parentId: 9 })).toEqual({
      ...{ title: 'Ring', parentId: 9, due: '2026-11-27' },
    })
  })
  it('whoever has left is not understood as a person', () =>
    expect(taskOfLine(line('Ask Old Hand'), {}).title).toBe('Ask Old Hand'))
  it('says what was understood', () => {
    expect(
      sayLine(known, line('Chase Mossgate fri 3pm 30m urgent Tobias Devika #records')),
    ).toEqual([
      ...['Mossgate Veterinary Clinic', 'due Fri 27 Nov, 15:00', '30m', 'Urgent'],
      ...['Tobias Okonjo and Devika Rao', '#records'],
    ])
    expect(sayLine(known, line('Just words'))).toEqual([])
  })
  it('that comes again leads to a series of the same', () => {
    const where = seriesOfLine(line('Chase statements every friday 30m Tobias'), { projectId: 20 })
    expect(Object.fromEntries(new URL(where, 'http://x').searchParams)).toEqual({
      ...{ title: 'Chase statements', every: '"FREQ=WEEKLY;BYDAY=FR"', estimate: '30' },
      ...{ project: '20', on: '1' },
    })
  })
})
