import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { chooseSet, listSets, removeSet, saveSet } from '../states/service.ts'
import { makeProject } from '../projects/service.ts'
import { editTask } from './service.ts'
import { task, sheet } from '../../test/work.ts'

describe('states', () => {
  const firm = (l: Lab) => listSets(l.engine, l.imogen)[0]!
  const body = (l: Lab) => ({
    name: firm(l).name,
    states: firm(l).states.map(({ id, name, kind, colour, only }) => ({
      id,
      name,
      kind,
      colour,
      only,
    })),
  })

  it('a removed state asks where its tasks go; undo brings it and them back', () => {
    const l = lab()
    const id = task(l, 'T', { state: 'waiting' })
    const gone = firm(l).states.find((s) => s.kind === 'waiting')!
    const less = { ...body(l), states: body(l).states.filter((s) => s.id !== gone.id) }
    expect(() => saveSet(l.engine, l.imogen, 1, { body: less, seen: null }).whole().result).toThrow(
      'One task stands in “Waiting”; say where it goes.',
    )
    saveSet(l.engine, l.imogen, 1, {
      body: { ...less, moveTo: { [gone.id]: 'Under way' } },
      seen: null,
    }).whole()
    expect(sheet(l, id)).toMatchObject({ state: 'under-way', stateName: 'Under way' })
    // Someone who drags a card into it meanwhile is told, and the card stays where it was.
    expect(
      () => editTask(l.engine, l.tobias, id, { patch: { stateId: gone.id }, seen: null }).result,
    ).toThrow(/removed in the meantime/)
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(sheet(l, id)).toMatchObject({ state: 'waiting', stateId: gone.id })
  })
  it('a set needs a beginning and an end, and each name once', () => {
    const l = lab()
    expect(
      () =>
        saveSet(l.engine, l.imogen, 1, {
          body: { ...body(l), states: body(l).states.filter((s) => s.kind !== 'done') },
          seen: null,
        }).whole().result,
    ).toThrow(/where it is done/)
    expect(
      () =>
        saveSet(l.engine, l.imogen, 1, {
          body: {
            ...body(l),
            states: [
              ...body(l).states,
              { name: 'WAITING', kind: 'waiting', colour: null, only: 'anyone' },
            ],
          },
          seen: null,
        }).whole().result,
    ).toThrow(/stands here twice/)
    expect(
      () => saveSet(l.engine, l.tobias, 1, { body: body(l), seen: null }).whole().result,
    ).toThrow(/Only a manager/)
    expect(
      () => saveSet(l.engine, l.imogen, 1, { body: body(l), seen: 99 }).whole().result,
    ).toThrow(/while you were editing/)
  })
  it('some are only for managers or the project’s lead', () => {
    const l = lab()
    saveSet(l.engine, l.imogen, 1, {
      body: {
        ...body(l),
        states: body(l).states.map((s) =>
          s.kind === 'done'
            ? { ...s, only: 'lead' as const }
            : s.kind === 'dropped'
              ? { ...s, only: 'manager' as const }
              : s,
        ),
      },
      seen: null,
    }).whole()
    const project = makeProject(l.engine, l.tobias, { name: 'P', clientId: null }).result
    const id = task(l, 'T', { projectId: project.id })
    expect(
      () => editTask(l.engine, l.devika, id, { patch: { state: 'done' }, seen: null }).result,
    ).toThrow(/Only the project’s lead or a manager may set “Done”/)
    expect(
      () => editTask(l.engine, l.tobias, id, { patch: { state: 'dropped' }, seen: null }).result,
    ).toThrow(/Only a manager may set “Dropped”/)
    expect(
      editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null }).result.state,
    ).toBe('done')
    expect(
      editTask(l.engine, l.imogen, id, { patch: { state: 'dropped' }, seen: null }).result.state,
    ).toBe('dropped')
  })
  it('a project takes a copy of a set; its tasks go to the namesakes, or the first of their kind', () => {
    const l = lab()
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const [a, b] = [
      task(l, 'A', { projectId: project.id, state: 'waiting' }),
      task(l, 'B', { projectId: project.id, state: 'in-review' }),
    ]
    chooseSet(l.engine, l.imogen, project.id, { setId: 1, copy: true }).whole()
    const own = listSets(l.engine, l.imogen)[1]!
    expect(own.projects.map((p) => p.name)).toEqual(['P'])
    expect(sheet(l, a).states.map((s) => s.setId)).toEqual(own.states.map(() => own.id))
    const review = own.states.find((s) => s.kind === 'in-review')!
    saveSet(l.engine, l.imogen, own.id, {
      body: {
        name: 'P',
        states: own.states
          .filter((s) => s.id !== review.id)
          .map(({ id, name, kind, colour, only }) => ({
            id,
            name: name === 'Waiting' ? 'With the clinic' : name,
            kind,
            colour,
            only,
          })),
        moveTo: { [review.id]: 'Under way' },
      },
      seen: null,
    }).whole()
    expect([sheet(l, a).stateName, sheet(l, b).stateName]).toEqual(['With the clinic', 'Under way'])
    expect(
      editTask(l.engine, l.imogen, a, { patch: { projectId: null }, seen: null }).result.stateName,
    ).toBe('Waiting')
    expect(
      () => editTask(l.engine, l.imogen, b, { patch: { state: 'in-review' }, seen: null }).result,
    ).toThrow(/none of the kind “In review”/)
    // A set goes when nothing uses it any more.
    expect(() => removeSet(l.engine, l.imogen, own.id).result).toThrow(/still used/)
    expect(() => removeSet(l.engine, l.imogen, 1).result).toThrow(/firm’s own set stays/)
    chooseSet(l.engine, l.imogen, project.id, { setId: 1, copy: false }).whole()
    expect(removeSet(l.engine, l.imogen, own.id).result.map((s) => s.id)).toEqual([1])
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(listSets(l.engine, l.imogen)).toHaveLength(2)
  })
})
