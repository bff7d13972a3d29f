import { addComment } from './comments.ts'
import { addItem } from './checklist.ts'
import { describe, expect, it } from 'vitest'
import { ENGINE, lab, london } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject } from '../projects/service.ts'
import { duplicateTask, mergeTask } from './copy.ts'
import { orderTask } from './order.ts'
import { editTask } from './service.ts'
import { task, sheet, whole } from '../../test/work.ts'

describe('copying, merging, order', () => {
  it('a copy takes what is chosen, and never comments, state or ticks', () => {
    const l = lab()
    const id = task(l, 'T', {
      description: '<p>Why</p>',
      assignees: [l.tobias.id],
      due: '2026-12-01',
      checklist: ['a'],
      state: 'waiting',
      estimate: 15,
    })
    task(l, 'Sub', { parentId: id, assignees: [l.devika.id] })
    addComment(l.engine, l.tobias, id, '<p>Hm</p>')
    const some = duplicateTask(l.engine, l.imogen, id, {
      title: 'T2',
      take: ['checklist', 'subtasks'],
    }).whole().result
    expect(some).toMatchObject({
      title: 'T2',
      description: '',
      due: null,
      state: 'not-started',
      assignees: [],
      estimate: 15,
      discussion: [],
      children: [{ title: 'Sub', assignees: [] }],
    })
    expect(some.checklist.map((i) => [i.title, i.done])).toEqual([['a', false]])
    expect(
      duplicateTask(l.engine, l.imogen, id, {
        title: 'T3',
        take: ['description', 'assignees', 'dates'],
      }).whole().result,
    ).toMatchObject({
      description: '<p>Why</p>',
      due: '2026-12-01',
      assignees: [{ name: 'Tobias' }],
      children: [],
    })
  })
  it('merged, everything of one stands with the other, and one undo parts them', () => {
    const l = lab()
    const [a, b] = [
      task(l, 'A', { description: '<p>of A</p>', checklist: ['a'], followers: [l.devika.id] }),
      task(l, 'B', { description: '<p>of B</p>', checklist: ['b'] }),
    ]
    task(l, 'Sub', { parentId: a })
    addComment(l.engine, l.tobias, a, '<p>said</p>')
    const before = whole(l)
    const { change } = mergeTask(l.engine, l.imogen, a, b).whole().result
    expect(sheet(l, b)).toMatchObject({
      description: '<p>of B</p><p>of A</p>',
      discussion: [{ body: '<p>said</p>' }],
      children: [{ title: 'Sub' }],
      followers: [{ name: 'Devika' }],
    })
    expect(sheet(l, b).checklist.map((i) => i.title)).toEqual(['b', 'a'])
    expect(sheet(l, a)).toMatchObject({ mergedInto: b })
    undoChange(l.engine, l.imogen, change!).whole()
    expect(whole(l)).toEqual(before)
    expect(() => mergeTask(l.engine, l.imogen, a, a).whole().result).toThrow(/another task/)
  })
  it('rows keep the order they are put in, without end', () => {
    const l = lab()
    const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
    const ids = ['a', 'b', 'c', 'd'].map((t) => task(l, t, { projectId: project.id }))
    const order = () =>
      l
        .tasksIn(project.id)
        .map((t) => t.title)
        .join('')
    orderTask(l.engine, l.imogen, ids[3]!, ids[0]!)
    expect(order()).toBe('adbc')
    orderTask(l.engine, l.imogen, ids[2]!, null)
    expect(order()).toBe('cadb')
    for (let i = 0; i < 40; i++) orderTask(l.engine, l.imogen, ids[i % 2 ? 1 : 3]!, ids[0]!)
    expect(order()).toBe('cabd')
    expect(() => orderTask(l.engine, l.imogen, task(l, 'loose'), null).result).toThrow(
      /tasks of a project/,
    )
  })
  it('an archived late task climbs no ladder', () => {
    const l = lab()
    const id = task(l, 'T', { due: '2026-11-24', assignees: [l.tobias.id] })
    const other = task(l, 'Not archived', { due: '2026-11-24', assignees: [l.tobias.id] })
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('rules', {
        name: 'Late',
        on: true,
        ownerId: l.imogen.id,
        definition: {
          trigger: { kind: 'late' },
          conditions: { match: 'all', of: [] },
          rungs: [
            {
              key: 'a',
              delay: { days: 1, unit: 'working', time: '09:00' },
              actions: [{ kind: 'set-priority', to: 'urgent' }],
            },
          ],
        },
        updatedAt: london('2026-11-23T08:00'),
      }),
    )
    editTask(l.engine, l.imogen, id, { patch: { archived: true }, seen: null })
    l.until('2026-11-27T12:00')
    expect([sheet(l, id).priority, sheet(l, other).priority]).toEqual(['normal', 'urgent'])
    addItem(l.engine, l.imogen, id, 'still here')
    expect(sheet(l, id).checklist).toHaveLength(1)
  })
})
