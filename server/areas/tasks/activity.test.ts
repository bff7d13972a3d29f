import { addPost } from '../projects/posts.ts'
import { makeMilestone } from '../projects/milestones.ts'
import { addComment, editComment } from './comments.ts'
import { describe, expect, it } from 'vitest'
import type { FieldOptions } from '#contract/fields.ts'
import { lab } from '../../test/lab.ts'
import { addLink, removeAttachment } from '../attachments/service.ts'
import { makeField, makeTag } from '../fields/service.ts'
import { listChanges } from '../journal/changes.ts'
import { undoChange } from '../journal/undo.ts'
import { makeProject, savePhases } from '../projects/service.ts'
import { chooseSet, listSets, saveSet } from '../states/service.ts'
import { makeView } from '../views/service.ts'
import { activity } from './activity.ts'
import { mergeTask } from './copy.ts'
import { editTask, makeTask, taskSheet } from './service.ts'

describe('what happened to a task, in words', () => {
  it.each<[string, (l: ReturnType<typeof lab>, id: number) => void, string[]]>([
    [
      'a state of one’s own',
      (l, id) =>
        editTask(l.engine, l.tobias, id, { patch: { state: 'waiting' }, seen: null }).result,
      ['state Not started → Waiting'],
    ],
    [
      'dates and time',
      (l, id) =>
        editTask(l.engine, l.tobias, id, {
          patch: { due: '2026-12-03', dueTime: '15:00' },
          seen: null,
        }).result,
      ['due none → Thu 3 Dec; due time none → 15:00'],
    ],
    [
      'people',
      (l, id) =>
        editTask(l.engine, l.tobias, id, { patch: { assignees: [l.devika.id] }, seen: null })
          .result,
      ['put Devika on it'],
    ],
    [
      'followers',
      (l, id) =>
        editTask(l.engine, l.tobias, id, { patch: { followers: [l.devika.id] }, seen: null })
          .result,
      ['Devika follows it'],
    ],
    [
      'the archive',
      (l, id) => editTask(l.engine, l.tobias, id, { patch: { archived: true }, seen: null }).result,
      ['archived it'],
    ],
    [
      'done by all',
      (l, id) => editTask(l.engine, l.tobias, id, { patch: { doneBy: 'all' }, seen: null }).result,
      ['done when any → all'],
    ],
    [
      'following subtasks',
      (l, id) =>
        editTask(l.engine, l.tobias, id, { patch: { stateFollows: true }, seen: null }).result,
      ['state follows subtasks: yes'],
    ],
    [
      'a client by name',
      (l, id) =>
        editTask(l.engine, l.tobias, id, { patch: { clientId: l.client }, seen: null }).result,
      ['client none → Mossgate Veterinary Clinic'],
    ],
    [
      'a link',
      (l, id) =>
        addLink(l.engine, l.tobias, { taskId: id }, { name: 'Terms', url: 'https://x.example' })
          .result,
      ['added “Terms”'],
    ],
    ['a comment', (l, id) => addComment(l.engine, l.tobias, id, '<p>Hm</p>').result, ['commented']],
  ])('%s', (_, act, said) => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'T' }).result
    act(l, id)
    expect(
      activity(l.engine, l.imogen, id)
        .filter((a) => a.who === 'Tobias')
        .map((a) => a.text),
    ).toEqual(said)
  })
  it('fields are said by what they hold: amounts, choices, people, dates, yes and no', () => {
    const l = lab()
    const make = (
      kind: 'money' | 'choice' | 'person' | 'date' | 'yes-no',
      options: FieldOptions = {},
    ) =>
      makeField(l.engine, l.imogen, {
        name: kind,
        kind,
        options,
        projectId: null,
        templateId: null,
        hidden: false,
      }).result.find((f) => f.name === kind)!.id
    const ids = [
      make('money', { currency: 'GBP' }),
      make('choice', { choices: [{ key: 'a', name: 'Asked for', colour: 'ochre' }] }),
      make('person'),
      make('date'),
      make('yes-no'),
    ]
    const { id } = makeTask(l.engine, l.imogen, { title: 'Post' }).result
    const values = [125_050, 'a', l.tobias.id, '2026-12-03', true]
    editTask(l.engine, l.imogen, id, {
      patch: { fields: Object.fromEntries(ids.map((f, i) => [f, values[i]!])) },
      seen: null,
    })
    editTask(l.engine, l.imogen, id, { patch: { fields: { [ids[0]!]: 500 } }, seen: null })
    expect(
      activity(l.engine, l.imogen, id)
        .map((a) => a.text)
        .slice(0, 6),
    ).toEqual([
      'money £1,250.50 → £5.00',
      'yes-no → Yes',
      'date → Thu 3 Dec',
      'person → Tobias',
      'choice → Asked for',
      'money → £1,250.50',
    ])
  })
  it('a state that gives way to its namesake in another set is nothing to tell', () => {
    const l = lab()
    const { id: projectId } = makeProject(l.engine, l.imogen, {
      name: 'Books',
      clientId: null,
      phases: [],
    }).result
    const { id } = makeTask(l.engine, l.imogen, { title: 'Post', projectId }).result
    chooseSet(l.engine, l.imogen, projectId, { setId: 1, copy: true }).whole()
    expect(taskSheet(l.engine, l.imogen, id).states.map((s) => s.name)).toContain('Waiting')
    expect(activity(l.engine, l.imogen, id).map((a) => a.text)).toEqual(['made this task'])
  })
  it('tags, fields, parts, what is reworded, removed, merged and taken back', () => {
    const l = lab()
    const tag = makeTag(l.engine, l.imogen, { name: 'records', colour: 'teal' }).result
    const field = makeField(l.engine, l.imogen, {
      name: 'Reference',
      kind: 'text',
      options: {},
      projectId: null,
      templateId: null,
      hidden: false,
    }).result[0]!.id
    const { id } = makeTask(l.engine, l.imogen, {
      title: 'T',
      assignees: [l.tobias.id, l.devika.id],
      doneBy: 'all',
    }).result
    const texts = () => activity(l.engine, l.imogen, id).map((a) => a.text)
    editTask(l.engine, l.tobias, id, { patch: { tags: [tag.id] }, seen: null })
    editTask(l.engine, l.tobias, id, { patch: { tags: [] }, seen: null })
    expect(texts().slice(0, 2)).toEqual(['took the tag “records” off', 'tagged it “records”'])
    editTask(l.engine, l.tobias, id, { patch: { fields: { [field]: 'A1' } }, seen: null })
    editTask(l.engine, l.tobias, id, { patch: { fields: { [field]: 'B2' } }, seen: null })
    editTask(l.engine, l.tobias, id, { patch: { fields: { [field]: null } }, seen: null })
    expect(texts().slice(0, 3)).toEqual([
      'emptied Reference',
      'Reference A1 → B2',
      'Reference → A1',
    ])
    editTask(l.engine, l.tobias, id, { patch: { estimates: { [l.tobias.id]: 30 } }, seen: null })
    expect(texts()).toContain('changed a part of the estimate')
    editTask(l.engine, l.tobias, id, { patch: { state: 'done' }, seen: null })
    expect(texts()).toContain('finished one part')
    const comment = addComment(l.engine, l.tobias, id, '<p>Hm</p>').result.discussion[0]!
    editComment(l.engine, l.tobias, { taskId: id, id: comment.id }, '<p>Hmm</p>')
    expect(texts()[0]).toBe('reworded a comment')
    editComment(l.engine, l.tobias, { taskId: id, id: comment.id }, '')
    expect(texts()[0]).toBe('removed a comment')
    const link = addLink(
      l.engine,
      l.tobias,
      { taskId: id },
      { name: 'Terms', url: 'https://x.example' },
    ).result
    removeAttachment(l.engine, l.tobias, link.id)
    expect(texts()[0]).toBe('took “Terms” off')
    const other = makeTask(l.engine, l.imogen, { title: 'Other' }).result.id
    addComment(l.engine, l.tobias, other, '<p>Comes along</p>')
    mergeTask(l.engine, l.imogen, other, id).whole()
    expect(texts()).toContain('brought a comment along')
    expect(activity(l.engine, l.imogen, other).map((a) => a.text)[0]).toBe(
      `merged it into #${id}; archived it`,
    )
    undoChange(l.engine, l.imogen, l.latest()).whole()
    expect(activity(l.engine, l.imogen, other).map((a) => a.text)).toContain(
      `took it out of the task it was merged into; brought it back from the archive`,
    )
    expect(taskSheet(l.engine, l.imogen, other).archivedAt).toBeNull()
  })
})

it('the journal tells what happened to projects and to how work is set up', () => {
  const l = lab()
  const project = makeProject(l.engine, l.imogen, { name: 'P', clientId: null }).result
  savePhases(l.engine, l.imogen, project.id, { phases: [{ name: 'Gather' }] })
  makeMilestone(l.engine, l.imogen, project.id, {
    name: 'Signed',
    ownerId: null,
    date: '2026-12-04',
    done: false,
  })
  addPost(l.engine, l.imogen, project.id, { body: '<p>Well</p>', health: null })
  makeTag(l.engine, l.imogen, { name: 'x', colour: 'teal' })
  const set = listSets(l.engine, l.imogen)[0]!
  saveSet(l.engine, l.imogen, 1, {
    body: {
      name: set.name,
      states: set.states.map(({ id, name, kind, colour, only }) => ({
        id,
        name: name === 'Waiting' ? 'On hold' : name,
        kind,
        colour,
        only,
      })),
    },
    seen: null,
  }).whole()
  makeView(l.engine, l.imogen, {
    name: 'V',
    shared: false,
    definition: {
      kind: 'list',
      scope: { of: 'firm' },
      filter: { match: 'all', of: [] },
      sort: [],
      group: null,
      columns: [],
      colour: null,
      tree: false,
      step: 'month',
    },
  })
  const { changes } = listChanges(l.engine, l.imogen, {})
  expect(changes.map((c) => c.lines[0])).toEqual([
    'changed a saved view',
    'changed the states',
    'made the tag “x”',
    'wrote about the project',
    'set the milestone “Signed”',
    'added the phase “Gather”',
    'made the project',
    'made the client “Mossgate Veterinary Clinic”',
  ])
  expect(listChanges(l.engine, l.imogen, { projectId: project.id }).changes).toHaveLength(4)
  expect(listChanges(l.engine, l.imogen, { before: changes[2]!.change }).changes[0]!.lines).toEqual(
    ['wrote about the project'],
  )
})
