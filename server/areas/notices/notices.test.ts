import { describe, expect, it } from 'vitest'
import { lab, type Lab } from '../../test/lab.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { addFile } from '../attachments/service.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject } from '../projects/service.ts'
import { editEach } from '../tasks/bulk.ts'
import { addComment } from '../tasks/comments.ts'
import { editTask, makeTask } from '../tasks/service.ts'
import { listNotices } from './service.ts'

function told(l: Lab, who: Viewer): string[] {
  l.runner.tick()
  return listNotices(l.engine, who).map((notice) => notice.body)
}

describe('what a guest delivers', () => {
  const given = (l: Lab, lead: Viewer) => {
    const project = { name: 'Books', clientId: null, leadId: lead.id }
    const projectId = makeProject(l.engine, l.imogen, project).result.id
    const task = { title: 'Post', projectId, assignees: [l.corrie.id] }
    return makeTask(l.engine, l.tobias, task).result.id
  }
  it('is told to who gave the work, whoever leads it too: once, and by whom', async () => {
    const l = lab()
    const id = given(l, l.devika)
    editTask(l.engine, l.corrie, id, { patch: { state: 'in-review' }, seen: null })
    for (const who of [l.tobias, l.devika])
      expect(told(l, who)).toEqual(['“Post” is now “In review”, by Corrie'])
    await addFile(l.engine, l.corrie, { taskId: id }, { name: 'a.txt', bytes: Buffer.from('x') })
    expect(told(l, l.tobias)[0]).toBe('“Post” has a new file, by Corrie')
    expect(told(l, l.imogen)).toEqual([])
  })
  it('their mentions reach who has to do with the task, nobody else', () => {
    const l = lab()
    const id = given(l, l.devika)
    const at = (who: Viewer) => `<span data-person="${who.id}">@${who.name}</span>`
    addComment(l.engine, l.corrie, id, `<p>${at(l.tobias)} ${at(l.imogen)} Done</p>`)
    expect(told(l, l.tobias).join()).toContain('Corrie mentioned you on “Post”')
    expect(told(l, l.imogen)).toEqual([])
    addComment(l.engine, l.tobias, id, `<p>${at(l.imogen)} Look</p>`)
    expect(told(l, l.imogen).join()).toContain('Tobias mentioned you on “Post”')
  })
  it('what members do is told to followers alone', () => {
    const l = lab()
    const id = given(l, l.devika)
    editTask(l.engine, l.imogen, id, { patch: { state: 'done' }, seen: null })
    expect([told(l, l.tobias), told(l, l.devika)]).toEqual([[], []])
  })
})

it('bringing in many tells a person once; taken back, a notice leads nowhere', () => {
  const l = lab()
  const make = (count: number) => ({
    edits: [],
    make: Array.from({ length: count }, (_, i) => ({ title: `T${i}`, assignees: [l.tobias.id] })),
  })
  editEach(l.engine, l.imogen, make(171)).whole()
  expect(told(l, l.tobias)).toEqual(['You were put on 171 tasks'])
  const { change } = editEach(l.engine, l.imogen, make(1)).whole()
  l.runner.tick()
  expect(listNotices(l.engine, l.tobias)[0]!.item).toMatchObject({ kind: 'task' })
  undoChange(l.engine, l.imogen, change!).whole()
  expect(listNotices(l.engine, l.tobias)[0]!.item).toBeNull()
})
