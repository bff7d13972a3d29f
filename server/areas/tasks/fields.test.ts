import { describe, expect, it } from 'vitest'
import { lab } from '../../test/lab.ts'
import { makeField, makeTag, removeTag, saveField, hideField } from '../fields/service.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject } from '../projects/service.ts'
import { editTask } from './service.ts'
import { task, sheet } from '../../test/work.ts'

describe('fields and tags', () => {
  it('hold what their type allows, and say what would be right', () => {
    const l = lab()
    const make = (name: string, kind: string, options = {}) =>
      makeField(l.engine, l.imogen, {
        name,
        kind: kind as 'text',
        options,
        projectId: null,
        templateId: null,
        hidden: false,
      }).result.at(-1)!.id
    const [n, m, d, c, p, y, u] = [
      make('N', 'number'),
      make('M', 'money', { currency: 'GBP' }),
      make('D', 'date'),
      make('C', 'choice', { choices: [{ key: 'a', name: 'A', colour: 'teal' }] }),
      make('P', 'person'),
      make('Y', 'yes-no'),
      make('U', 'link'),
    ]
    const id = task(l, 'T')
    const set = (fields: object) =>
      editTask(l.engine, l.imogen, id, { patch: { fields: fields as never }, seen: null }).result
        .fields
    expect(
      set({
        [n]: 1.5,
        [m]: 1250,
        [d]: '2026-12-03',
        [c]: 'a',
        [p]: l.tobias.id,
        [y]: true,
        [u]: 'https://example.org',
      }),
    ).toEqual({
      [n]: 1.5,
      [m]: 1250,
      [d]: '2026-12-03',
      [c]: 'a',
      [p]: l.tobias.id,
      [y]: 1,
      [u]: 'https://example.org',
    })
    for (const [field, value, want] of [
      [n, 'x', 'a number'],
      [m, 1.5, 'minor units'],
      [d, '2026-02-30', 'not “2026-02-30”'],
      [c, 'z', 'one of its choices'],
      [p, 999, 'a person'],
      [u, 'javascript:alert(1)', 'http://'],
    ] as const)
      expect(() => set({ [field]: value }), want).toThrow(new RegExp(want))
    expect(set({ [n]: null })).not.toHaveProperty(String(n))
    expect(
      () =>
        saveField(l.engine, l.imogen, n, {
          name: 'N',
          kind: 'text',
          options: {},
          projectId: null,
          templateId: null,
          hidden: false,
        }).result,
    ).toThrow(/type of a field stays/)
    expect(
      () =>
        saveField(l.engine, l.imogen, c, {
          name: 'C',
          kind: 'choice',
          options: { choices: [{ key: 'b', name: 'B', colour: 'teal' }] },
          projectId: null,
          templateId: null,
          hidden: false,
        }).result,
    ).toThrow(/One task has “A”/)
  })
  it('hidden in a project, a field keeps its values', () => {
    const l = lab()
    const field = makeField(l.engine, l.imogen, {
      name: 'Ref',
      kind: 'text',
      options: {},
      projectId: null,
      templateId: null,
      hidden: false,
    }).result[0]!.id
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const id = task(l, 'T', { projectId: project.id, fields: { [field]: 'A-17' } })
    hideField(l.engine, l.imogen, field, { projectId: project.id, hidden: true })
    expect(sheet(l, id).customFields).toEqual([])
    expect(
      () =>
        editTask(l.engine, l.imogen, id, { patch: { fields: { [field]: 'B' } }, seen: null })
          .result,
    ).toThrow(/not shown here/)
    hideField(l.engine, l.imogen, field, { projectId: project.id, hidden: false })
    expect(sheet(l, id).fields).toEqual({ [field]: 'A-17' })
  })
  it('a tag taken away comes off every task, and back with one undo', () => {
    const l = lab()
    const tag = makeTag(l.engine, l.tobias, { name: 'records', colour: 'teal' }).result
    expect(() => makeTag(l.engine, l.tobias, { name: 'Records', colour: 'rose' }).result).toThrow(
      /already/,
    )
    const id = task(l, 'T', { tags: [tag.id] })
    removeTag(l.engine, l.imogen, tag.id)
    expect(sheet(l, id).tags).toEqual([])
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(sheet(l, id).tags.map((t) => t.name)).toEqual(['records'])
  })
})
