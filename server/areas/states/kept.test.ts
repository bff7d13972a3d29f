import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import { makeProject } from '../projects/service.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { chooseSet, listSets, saveSet } from './service.ts'

/** Two projects: one with the firm's states, one where “Done” is a manager's alone. */
function room() {
  const l = lab()
  const make = (name: string) =>
    makeProject(l.engine, l.imogen, { name, clientId: null, leadId: l.imogen.id }).result.id
  const [open, kept] = [make('Open'), make('Kept')]
  chooseSet(l.engine, l.imogen, kept, { setId: 1, copy: true }).whole()
  const set = listSets(l.engine, l.imogen).at(-1)!
  const states = set.states.map(({ id, name, kind, colour }) => ({
    ...{
      id,
      name,
      kind,
      colour,
      only: kind === 'done' ? ('manager' as const) : ('anyone' as const),
    },
  }))
  saveSet(l.engine, l.imogen, set.id, { body: { name: 'Kept', states }, seen: null }).whole()
  const firmDone = l.rows<{ id: number }>(
    "select id from states where setId = 1 and kind = 'done'",
  )[0]!.id
  return { l, open, kept, firmDone }
}
const stateOf = (l: Lab, id: number) => taskSheet(l.engine, l.imogen, id).state
const edit = (l: Lab, id: number, patch: object) =>
  editTask(l.engine, l.tobias, id, { patch, seen: null })

describe('a state that is kept for managers is not come to by a member', () => {
  it('by the number of its namesake in another set', () => {
    const { l, kept, firmDone } = room()
    const { id } = makeTask(l.engine, l.tobias, { title: 'Post', projectId: kept }).result
    expect(() => edit(l, id, { stateId: firmDone })).toThrow(/Only a manager may set “Done”/)
    expect(() => edit(l, id, { state: 'done' })).toThrow(/Only a manager/)
    expect(stateOf(l, id)).toBe('not-started')
  })
  it('by moving a task that is there already elsewhere', () => {
    const { l, open, kept } = room()
    const { id } = makeTask(l.engine, l.tobias, { title: 'Post', projectId: open }).result
    edit(l, id, { state: 'done' })
    expect(() => edit(l, id, { projectId: kept })).toThrow(/Only a manager may set “Done”/)
  })
  it('by making a task in it', () => {
    const { l, kept, firmDone } = room()
    for (const wish of [{ state: 'done' }, { stateId: firmDone }] as const)
      expect(() =>
        makeTask(l.engine, l.tobias, { title: 'Post', projectId: kept, ...wish }),
      ).toThrow(/Only a manager/)
  })
  it('by a parent that follows its subtasks: it stays where it is', () => {
    const { l, kept } = room()
    const whole = { title: 'Whole', projectId: kept, stateFollows: true }
    const parent = makeTask(l.engine, l.tobias, whole).result.id
    const part = makeTask(l.engine, l.tobias, { title: 'Part', parentId: parent }).result.id
    edit(l, part, { state: 'under-way' })
    expect(stateOf(l, parent)).toBe('under-way')
    editTask(l.engine, l.imogen, part, { patch: { state: 'done' }, seen: null })
    expect([stateOf(l, part), stateOf(l, parent)]).toEqual(['done', 'under-way'])
  })
  it('a manager may, every way', () => {
    const { l, kept, firmDone } = room()
    const { id } = makeTask(l.engine, l.imogen, { title: 'P', projectId: kept }).result
    editTask(l.engine, l.imogen, id, { patch: { stateId: firmDone }, seen: null })
    expect(stateOf(l, id)).toBe('done')
  })
})
