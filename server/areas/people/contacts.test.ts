import { describe, expect, it } from 'vitest'
import type { Viewer } from '../../engine/viewer.ts'
import { ENGINE } from '../../engine/journal.ts'
import { codeOf } from '../../test/code-of.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { joinProjects } from '../projects/copy.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { makeSeries } from '../series/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { editTask, makeTask } from '../tasks/service.ts'

/** A firm with two clients, each with a contact, and work of both. */
function two() {
  const l = lab()
  const made = l.engine.journal.change(ENGINE, (write) => {
    const other = write.insert('clients', { name: 'Larkmoor', short: 'L', tier: 'gold' })
    const contact = (name: string, clientId: number) =>
      write.insert('people', {
        ...{ name, clientId, email: `${name}@example.com`, access: 'client' as const },
      })
    return { other, hester: contact('Hester', l.client), abel: contact('Abel', other) }
  }).result
  const project = (name: string, clientId: number) =>
    makeProject(l.engine, l.imogen, { name, clientId }).result.id
  return { l, ...made, mossgate: project('M', l.client), larkmoor: project('L', made.other) }
}
const edit = (l: Lab, who: Viewer, id: number, patch: object) =>
  codeOf(() => editTask(l.engine, who, id, { patch, seen: null }))

describe('a contact of one client', () => {
  it('is put on no work of another, whichever way, unless a manager confirms', () => {
    const { l, hester, abel, mossgate, larkmoor, other } = two()
    const make = (task: object, who = l.imogen) =>
      codeOf(() => makeTask(l.engine, who, { title: 'T', ...task }))
    expect(make({ projectId: mossgate, assignees: [hester] })).toBe('done')
    expect(make({ clientId: l.client, assignees: [hester] })).toBe('done')
    expect(make({ assignees: [hester] })).toBe('done')
    expect(make({ projectId: larkmoor, assignees: [hester] })).toBe('other-client')
    expect(make({ projectId: mossgate, clientId: other, assignees: [hester] })).toBe('other-client')
    const { id } = makeTask(l.engine, l.imogen, { title: 'T', projectId: mossgate }).result
    expect(edit(l, l.imogen, id, { assignees: [abel] })).toBe('other-client')
    expect(edit(l, l.imogen, id, { assignees: [hester] })).toBe('done')
    // By moving the work to them.
    expect(edit(l, l.imogen, id, { projectId: larkmoor })).toBe('other-client')
    expect(edit(l, l.imogen, id, { clientId: other })).toBe('other-client')
    const bulk = { ids: [id], addAssignees: [abel] }
    expect(codeOf(() => bulkEdit(l.engine, l.imogen, bulk).whole())).toBe('other-client')
    const moved = { patch: { clientId: other }, seen: null }
    expect(codeOf(() => editProject(l.engine, l.imogen, mossgate, moved))).toBe('other-client')
    const join = () => joinProjects(l.engine, l.imogen, mossgate, larkmoor).whole()
    expect(codeOf(join)).toBe('other-client')
    // With what stands below it.
    const above = makeTask(l.engine, l.imogen, { title: 'Above', projectId: mossgate }).result.id
    expect(make({ projectId: mossgate, parentId: above, assignees: [hester] })).toBe('done')
    expect(edit(l, l.imogen, above, { projectId: larkmoor })).toBe('other-client')
    const sure: Viewer = { ...l.imogen, confirms: true }
    expect(edit(l, sure, id, { assignees: [abel] })).toBe('done')
    // What was confirmed is not asked about again.
    expect(edit(l, l.tobias, id, { title: 'Reworded', assignees: [abel, l.devika.id] })).toBe(
      'done',
    )
  })
  it('is on no series of another', () => {
    const { l, hester, other } = two()
    const series = (clientId: number, who: Viewer) =>
      codeOf(() =>
        makeSeries(l.engine, who, {
          name: 'Weekly',
          makes: {
            ...{ kind: 'task', title: 'Ask', description: '', assignees: [hester], clientId },
            ...{ projectId: null, estimate: null, checklist: [] },
            period: { of: 'month', which: 'before' },
          },
          schedule: { start: '2026-11-23', rule: { workday: 5, of: 'month' }, roll: 'following' },
          leadDays: 0,
        } as never),
      )
    expect(series(l.client, l.imogen)).toBe('done')
    expect(series(other, l.imogen)).toBe('other-client')
    expect(series(other, { ...l.imogen, confirms: true })).toBe('done')
  })
})
