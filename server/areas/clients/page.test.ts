import { expect, it } from 'vitest'
import type { ClientPatch } from '#contract/clients.ts'
import { codeOf } from '../../test/code-of.ts'
import { ENGINE, lab, type Lab } from '../../test/lab.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject } from '../projects/service.ts'
import { setAudience } from '../access/service.ts'
import { bulkEdit } from '../tasks/bulk.ts'
import { makeTask } from '../tasks/service.ts'
import { mergeClient } from './merge.ts'
import { clientPage } from './page.ts'
import { editClient, makeClients } from './service.ts'

const edit = (l: Lab, by: Viewer, patch: ClientPatch) => editClient(l.engine, by, l.client, patch)
const page = (l: Lab, by = l.imogen, id = l.client) => clientPage(l.engine, by, id)
const contact = (l: Lab, name: string, clientId: number) =>
  l.engine.journal.change(ENGINE, (write) =>
    write.insert('people', { name, clientId, email: `${name}@x.example`, access: 'client' }),
  ).result

it('whoever looks after a client changes it, as managers do; others read it, guests do not', () => {
  const l = lab()
  expect(codeOf(() => edit(l, l.tobias, { notes: 'Mine' }))).toBe('forbidden')
  edit(l, l.imogen, { leadId: l.tobias.id, usual: [{ role: 'Reviewer', personId: l.devika.id }] })
  edit(l, l.tobias, { notes: 'Mine', phone: '0123' })
  expect(page(l, l.devika)).toMatchObject({
    ...{ notes: 'Mine', phone: '0123', mayEdit: false, lead: { name: 'Tobias' } },
    usual: [{ role: 'Reviewer', personId: l.devika.id, name: 'Devika' }],
  })
  expect(page(l, l.tobias).mayEdit).toBe(true)
  expect(codeOf(() => page(l, l.corrie))).toBe('forbidden')
  expect(codeOf(() => edit(l, l.imogen, { leadId: l.corrie.id }))).toBe('guest')
  expect(codeOf(() => edit(l, l.imogen, { usual: [{ role: 'X', personId: 99 }] }))).toBe(
    'person-left',
  )
  const { change } = edit(l, l.imogen, { usual: [{ role: 'Reviewer', personId: l.corrie.id }] })
  expect(page(l).usual.map((one) => one.name)).toEqual(['Corrie'])
  undoChange(l.engine, l.imogen, change!).whole()
  expect(page(l).usual.map((one) => one.name)).toEqual(['Devika'])
})
it('shows of what is done for a client only what one sees', () => {
  const l = lab()
  const project = (name: string) =>
    makeProject(l.engine, l.imogen, { name, clientId: l.client }).result.id
  const [open, secret] = [project('Open'), project('Secret')]
  setAudience(l.engine, l.imogen, secret, { audience: 'named' })
  const names = (by: Viewer) => page(l, by).projects.map((p) => p.name)
  expect([names(l.imogen), names(l.tobias)]).toEqual([['Open', 'Secret'], ['Open']])
  for (const projectId of [open, secret])
    l.engine.journal.change(ENGINE, (write) =>
      write.insert('attachments', {
        ...{ projectId, name: `file ${projectId}`, url: 'https://x.example', at: write.at },
      }),
    )
  const files = (by: Viewer) => page(l, by).files.map((file) => file.name)
  expect(files(l.imogen)).toHaveLength(2)
  expect(files(l.tobias)).toEqual([`file ${open}`])
})
it('its history tells of what was done for it, and of nothing that was done beside that', () => {
  const l = lab()
  const ours = makeTask(l.engine, l.imogen, { title: 'Ours', clientId: l.client }).result.id
  const other = makeTask(l.engine, l.imogen, { title: 'Another’s' }).result.id
  bulkEdit(l.engine, l.imogen, { ids: [ours, other], set: { due: '2026-12-09' } }).whole()
  const told = (of: { clientId?: number }) =>
    JSON.stringify(listChanges(l.engine, l.imogen, of).changes)
  expect(told({})).toMatch(/Another’s/)
  expect(told({ clientId: l.client })).toMatch(/Ours/)
  expect(told({ clientId: l.client })).not.toMatch(/Another’s/)
})
it('names that tell the same are told, and put into one: all of it goes over, with one undo', () => {
  const l = lab()
  const [other] = makeClients(l.engine, l.imogen, [
    { name: 'Mossgate Veterinary Clinic Ltd.', email: 'post@m.example', notes: 'Pays late' },
  ]).result
  const id = other!.id
  expect(page(l).alike).toEqual([{ id, name: 'Mossgate Veterinary Clinic Ltd.' }])
  edit(l, l.imogen, { notes: 'Prefers the telephone' })
  const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: id }).result.id
  const task = makeTask(l.engine, l.imogen, { title: 'T', clientId: id }).result.id
  const hester = contact(l, 'hester', id)
  const where = () => ({
    project: l.rows('select clientId from projects where id = ?', project),
    task: l.rows('select clientId from tasks where id = ?', task),
    person: l.rows('select clientId from people where id = ?', hester),
  })
  const before = where()
  const { change } = mergeClient(l.engine, l.imogen, id, l.client).whole()
  const here = [{ clientId: l.client }]
  expect(where()).toEqual({ project: here, task: here, person: here })
  expect(page(l)).toMatchObject({
    ...{ email: 'post@m.example', notes: 'Prefers the telephone\n\nPays late', alike: [] },
  })
  expect(codeOf(() => page(l, l.imogen, id))).toBe('not-found')
  undoChange(l.engine, l.imogen, change!).whole()
  expect(where()).toEqual(before)
  expect(page(l).notes).toBe('Prefers the telephone')
  expect(page(l, l.imogen, id).projects.map((p) => p.name)).toEqual(['P'])
  expect(codeOf(() => mergeClient(l.engine, l.imogen, id, id))).toBe('same')
  expect(codeOf(() => mergeClient(l.engine, l.tobias, id, l.client))).toBe('forbidden')
})
