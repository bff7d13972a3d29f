import { expect, it } from 'vitest'
import { clientPatch, clientStatesBody, type ClientStatesBody } from '#contract/clients.ts'
import type { FieldBody } from '#contract/setup.ts'
import { codeOf } from '../../test/code-of.ts'
import { lab, type Lab } from '../../test/lab.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { makeField, makeTag, removeTag, saveField } from '../fields/service.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { cloneProject } from '../projects/copy.ts'
import { editProject, makeProject } from '../projects/service.ts'
import { projectSheet } from '../projects/sheet.ts'
import { shareProject } from '../access/service.ts'
import { makeTask } from '../tasks/service.ts'
import { mergeClient } from './merge.ts'
import { clientPage } from './page.ts'
import { editClient, makeClients } from './service.ts'
import { listClients, saveClientStates } from './states.ts'

const list = (l: Lab, by = l.imogen) => listClients(l.engine, by)
const standing = (l: Lab) => list(l).clients.map(({ name, stateId }) => [name, stateId])
const page = (l: Lab, by = l.imogen, id = l.client) => clientPage(l.engine, by, id)
const save = (l: Lab, body: Partial<ClientStatesBody>, by: Viewer = l.imogen) =>
  saveClientStates(l.engine, by, {
    states: list(l).states.map((s) => ({ ...s })),
    removed: [],
    ...body,
  })
const state = (name: string) => ({ name, colour: 'fern', first: false })
const undo = (l: Lab, change: number | null) => undoChange(l.engine, l.imogen, change!).whole()

it('new clients begin in the first state, move from one to the next, and back by undo', () => {
  const l = lab()
  const [made] = makeClients(l.engine, l.imogen, [{ name: 'Beckside' }]).result
  expect(standing(l)).toContainEqual(['Beckside', 2])
  const { change } = editClient(l.engine, l.imogen, made!.id, { stateId: 3 })
  expect(page(l, l.imogen, made!.id).state).toMatchObject({ name: 'Paused' })
  const told = listChanges(l.engine, l.imogen, { clientId: made!.id }).changes[0]
  expect(told?.lines).toEqual(['moved the client to “Paused”'])
  // Among all that the firm does it is named; what is made names it itself.
  const all = listChanges(l.engine, l.imogen, {}).changes.map(({ lines }) => lines)
  expect(all.slice(0, 2)).toEqual([
    ['“Beckside”: moved the client to “Paused”'],
    ['made the client “Beckside”'],
  ])
  undo(l, change)
  expect(page(l, l.imogen, made!.id).state).toMatchObject({ name: 'Active' })
  expect(codeOf(() => editClient(l.engine, l.imogen, made!.id, { stateId: 99 }))).toBe('state-gone')
})
it('states are the firm’s to name, order and remove; one that is in use stays', () => {
  const l = lab()
  editClient(l.engine, l.imogen, l.client, { stateId: 4 })
  const renamed = [
    { name: 'New', colour: 'teal', first: true },
    { id: 2, name: 'Ours', colour: 'fern', first: false },
    { id: 4, name: 'Past', colour: 'slate', first: false },
  ]
  expect(codeOf(() => save(l, { states: renamed, removed: [1, 3, 4] }))).toBe('state-in-use')
  const { change } = save(l, { states: renamed, removed: [1] })
  // “Paused” was in neither list: somebody else may have made it meanwhile.
  expect(list(l).states.map((s) => s.name)).toEqual(['New', 'Ours', 'Past', 'Paused'])
  makeClients(l.engine, l.imogen, [{ name: 'Beckside' }])
  const first = list(l).states[0]!
  expect(standing(l)).toContainEqual(['Beckside', first.id])
  expect(codeOf(() => save(l, {}, l.tobias))).toBe('forbidden')
  expect(codeOf(() => save(l, { states: [{ ...renamed[1]!, first: false }] }))).toBe('one-first')
  expect(codeOf(() => save(l, { states: [{ ...first, name: 'Paused' }] }))).toBe('name-twice')
  expect(codeOf(() => save(l, { states: [{ ...first, id: 77 }] }))).toBe('state-gone')
  undo(l, change)
  // The new state has a client by now, and stays; all else is as it was.
  expect(list(l).states.map((s) => s.name)).toEqual(
    expect.arrayContaining(['In talks', 'Active', 'Paused', 'Former', 'New']),
  )
})
it.each([
  [{ states: [{ colour: 'fern', first: true }, 'x', null], removed: [] }, /states/],
  [{ states: [state('One'), state('ONE')], removed: [] }, /duplicate/],
  [{ states: [], removed: [] }, /at least 1/],
])('%j is refused with why', (body, why) => {
  expect(clientStatesBody.validate(body, { convert: false }).error?.message).toMatch(why)
})
it('usual people that are no such thing are refused with why', () => {
  const usual = ['99', { role: 'Reviewer', personId: 1 }, { role: 'reviewer', personId: 2 }]
  expect(clientPatch.validate({ usual }, { abortEarly: false }).error?.message).toMatch(/usual/)
})
it('one that was brought back from before there were states stands where new ones begin', () => {
  const l = lab()
  l.rows('update clients set stateId = null returning id')
  expect(standing(l)).toEqual([['Mossgate Veterinary Clinic', 2]])
})
it('whoever looks after a client moves it; guests see no list', () => {
  const l = lab()
  editClient(l.engine, l.imogen, l.client, { leadId: l.tobias.id })
  const may = (by: Viewer) => list(l, by).clients.map(({ mayEdit }) => mayEdit)
  expect([may(l.tobias), may(l.devika), may(l.imogen)]).toEqual([[true], [false], [true]])
  editClient(l.engine, l.tobias, l.client, { stateId: 3 })
  expect(codeOf(() => editClient(l.engine, l.devika, l.client, { stateId: 2 }))).toBe('forbidden')
  expect(codeOf(() => list(l, l.corrie))).toBe('forbidden')
})

const FIELD: FieldBody = {
  ...{ name: 'Sector', kind: 'text', options: {}, projectId: null, templateId: null },
  ...{ hidden: false, of: 'client' },
}
const make = (l: Lab, body: Partial<FieldBody>) =>
  makeField(l.engine, l.imogen, { ...FIELD, ...body }).result.at(-1)!.id

it('clients have tags and fields of their own, seen by who may read them, one undo each', () => {
  const l = lab()
  const tag = makeTag(l.engine, l.tobias, { name: 'Retainer', colour: 'moss' }).result.id
  const sector = make(l, {})
  const fee = make(l, {
    name: 'Fee',
    kind: 'money',
    options: { currency: 'GBP' },
    readers: 'managers',
  })
  const { change } = editClient(l.engine, l.imogen, l.client, {
    tags: [tag],
    fields: { [sector]: 'Animals', [fee]: 125_000 },
  })
  expect(page(l)).toMatchObject({
    tags: [{ name: 'Retainer' }],
    fields: { [sector]: 'Animals', [fee]: 125_000 },
  })
  expect(page(l, l.devika).fields).toEqual({ [sector]: 'Animals' })
  expect(page(l, l.devika).customFields.map((f) => f.name)).toEqual(['Sector'])
  const told = (by: Viewer) =>
    listChanges(l.engine, by, { clientId: l.client }).changes[0]?.lines.join('; ')
  expect(told(l.imogen)).toMatch(/tagged it “Retainer”/)
  expect(told(l.imogen)).toMatch(/Fee → .*1,250/)
  expect(told(l.devika)).toMatch(/Sector → Animals/)
  expect(told(l.devika)).not.toMatch(/Fee/)
  expect(
    codeOf(() => editClient(l.engine, l.imogen, l.client, { fields: { [fee]: 'much' } })),
  ).toBe('bad-value')
  expect(codeOf(() => editClient(l.engine, l.imogen, l.client, { fields: { 99: 1 } }))).toBe(
    'field-gone',
  )
  expect(codeOf(() => editClient(l.engine, l.imogen, l.client, { tags: [99] }))).toBe('tag-gone')
  removeTag(l.engine, l.imogen, tag)
  expect(page(l).tags).toEqual([])
  undo(l, change)
  expect(page(l)).toMatchObject({ fields: {}, tags: [] })
})
it('a client put into another leaves it what it said, and gives it what it did not', () => {
  const l = lab()
  const [sector, size] = [make(l, {}), make(l, { name: 'Size', kind: 'number' })]
  const tag = (name: string) => makeTag(l.engine, l.imogen, { name, colour: 'moss' }).result.id
  const [one, two] = [tag('One'), tag('Two')]
  const other = makeClients(l.engine, l.imogen, [{ name: 'Beckside' }]).result[0]!.id
  editClient(l.engine, l.imogen, l.client, { tags: [one], fields: { [sector]: 'Animals' } })
  editClient(l.engine, l.imogen, other, {
    tags: [one, two],
    fields: { [sector]: 'Teeth', [size]: 12 },
  })
  const { change } = mergeClient(l.engine, l.imogen, other, l.client).whole()
  const { tags, fields } = page(l)
  expect([tags.map((t) => t.name), fields]).toEqual([
    ['One', 'Two'],
    { [sector]: 'Animals', [size]: 12 },
  ])
  undo(l, change)
  expect(page(l).fields).toEqual({ [sector]: 'Animals' })
  expect(page(l, l.imogen, other)).toMatchObject({
    fields: { [sector]: 'Teeth', [size]: 12 },
    tags: [{ name: 'One' }, { name: 'Two' }],
  })
})

it('fields of a project are for who sees all of it, not for who sees a task of it', () => {
  const l = lab()
  const fee = make(l, { of: 'project', name: 'Fee', kind: 'number' })
  const projectId = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result.id
  editProject(l.engine, l.imogen, projectId, { patch: { fields: { [fee]: 5 } }, seen: null })
  makeTask(l.engine, l.imogen, { title: 'T', projectId, assignees: [l.corrie.id] })
  const seen = (by: Viewer) => projectSheet(l.engine, by, projectId).fields
  expect([seen(l.corrie), seen(l.tobias)]).toEqual([{}, { [fee]: 5 }])
  shareProject(l.engine, l.imogen, projectId, { people: [l.corrie.id], may: 'view' })
  expect(seen(l.corrie)).toEqual({ [fee]: 5 })
})
it('projects have fields of their own, which a copy takes along; tasks have none of them', () => {
  const l = lab()
  const choices = [{ key: 'a', name: 'Fixed', colour: 'fern' }]
  const terms = make(l, { of: 'project', name: 'Terms', kind: 'choice', options: { choices } })
  const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result.id
  const edit = (fields: Record<string, string>) =>
    editProject(l.engine, l.imogen, project, { patch: { fields }, seen: null })
  edit({ [terms]: 'a' })
  expect(codeOf(() => edit({ [terms]: 'b' }))).toBe('bad-value')
  const copy = cloneProject(l.engine, l.imogen, project, {
    name: 'Q',
    take: [],
    anchor: null,
  }).whole()
  expect(projectSheet(l.engine, l.imogen, copy.result.id).fields).toEqual({ [terms]: 'a' })
  const body = { ...FIELD, of: 'project' as const, name: 'Terms', kind: 'choice' as const }
  const none = { ...body, options: { choices: [{ ...choices[0]!, key: 'c' }] } }
  expect(codeOf(() => saveField(l.engine, l.imogen, terms, none))).toBe('choice-in-use')
  expect(codeOf(() => saveField(l.engine, l.imogen, terms, { ...body, of: 'client' }))).toBe(
    'of-stays',
  )
  expect(codeOf(() => make(l, { of: 'project', projectId: project, name: 'X' }))).toBe('firm-wide')
})
