import { addComment } from '../tasks/comments.ts'
import { describe, expect, it } from 'vitest'
import type { Viewer } from '../../engine/viewer.ts'
import { BOOKS, ENGINE, lab } from '../../test/lab.ts'
import { undoChange } from '../journal/undo.ts'
import { makeTemplate } from '../templates/service.ts'
import { makeView } from '../views/service.ts'
import { mergeTask } from '../tasks/copy.ts'
import { editTask, makeTask, taskSheet } from '../tasks/service.ts'
import { makeProject } from '../projects/service.ts'
import { find, findFirst } from './service.ts'
import { matchBeginning, matchWords } from './words.ts'

const VIEW = {
  scope: { of: 'firm' },
  filter: { match: 'all', of: [] },
  sort: [],
  group: null,
  tree: false,
  sums: [],
}

// Source of the syntax: SQLite FTS5, section 3 (full-text query syntax).
it.each([
  ['chase sta', '"chase" "sta"*'],
  ['chase ', '"chase"'],
  ['"bank feed" open', '"bank feed" "open"*'],
  ['AND OR NOT near(', '"AND" "OR" "NOT" "near"*'],
  ['title:x ^y -z', '"title" "x" "y" "z"*'],
  ['"unclosed', '"unclosed"*'],
  ['  ', null],
  ['***', null],
])('%s becomes %s', (text, query) => expect(matchWords(text)).toBe(query))

it.each([
  ['chase sta', '"chase" "sta"*'],
  ['chase statem', '"chase" "sta"*'],
  ['st', '"st"*'],
  ['statements ', '"statements"'],
  ['"bank feeds', '"bank" "fee"*'],
  ['  ', null],
])('%s is first looked for as %s', (text, match) => expect(matchBeginning(text)).toBe(match))

it('the first hits are the newest titles with the words, of what one may see', () => {
  const l = lab()
  for (const title of ['Chase statements', 'Stationery', 'Bank statement', 'Unsaid'])
    makeTask(l.engine, l.imogen, { title, description: '<p>statements</p>' })
  makeTask(l.engine, l.imogen, { title: 'Statement theirs', assignees: [l.corrie.id] })
  const first = (who: Viewer, words: string) =>
    findFirst(l.engine, who, words).map((f) => f.kind === 'task' && f.task.title)
  const all = ['Statement theirs', 'Bank statement', 'Chase statements']
  expect(first(l.imogen, 'statem')).toEqual(all)
  expect(first(l.imogen, 'sta')).toEqual([...all.slice(0, 2), 'Stationery', all[2]])
  expect(first(l.imogen, 'chase statements')).toEqual(['Chase statements'])
  expect(first(l.imogen, 'statements ')).toEqual(['Chase statements'])
  expect(first(l.corrie, 'statem')).toEqual(['Statement theirs'])
  expect(first(l.imogen, '***')).toEqual([])
})

describe('finding', () => {
  const said = (list: ReturnType<typeof find>) =>
    list.map((f) => (f.kind === 'task' ? f.task.title : `${f.kind} ${f.name}`))
  it('looks in titles first, then descriptions and comments, without accents or endings', () => {
    const l = lab()
    makeTask(l.engine, l.imogen, {
      title: 'In the text',
      description: '<p>The <b>Café</b> invoice &amp; receipt</p>',
    })
    makeTask(l.engine, l.imogen, { title: 'Café invoice' })
    const third = makeTask(l.engine, l.imogen, { title: 'Talked about', clientId: l.client }).result
    addComment(l.engine, l.tobias, third.id, '<p>the cafe invoices came</p>')
    const found = find(l.engine, l.imogen, 'cafe invoic')
    expect(said(found)[0]).toBe('Café invoice')
    expect(said(found).sort()).toEqual(['Café invoice', 'In the text', 'Talked about'])
    expect(found.find((f) => f.kind === 'task' && f.task.title === 'Talked about')).toMatchObject({
      excerpt: 'the cafe invoices came',
      task: { client: 'Mossgate' },
    })
    expect(find(l.engine, l.imogen, 'amp')).toEqual([])
  })
  it('names that change are found as they are now, put back ones too; a view of one’s own is nobody else’s', () => {
    const l = lab()
    const made = makeTemplate(l.engine, l.imogen, { ...BOOKS, name: 'Yearly calibration' })
    const view = { definition: VIEW, name: 'Calibrations due', shared: false } as never
    makeView(l.engine, l.imogen, view)
    const named = (who: Viewer) => said(find(l.engine, who, 'calibration')).sort()
    expect(named(l.imogen)).toEqual(['template Yearly calibration', 'view Calibrations due'])
    expect(named(l.tobias)).toEqual(['template Yearly calibration'])
    // Read once already: a name that is made now is known all the same.
    const { change } = makeTemplate(l.engine, l.imogen, { ...BOOKS, name: 'Calibration again' })
    expect(named(l.tobias)).toContain('template Calibration again')
    undoChange(l.engine, l.imogen, change!).whole()
    undoChange(l.engine, l.imogen, made.change!).whole()
    expect(named(l.tobias)).toEqual([])
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.devika.id, { name: 'Calibration Rao' }),
    )
    expect(named(l.tobias)).toEqual(['person Calibration Rao'])
    l.engine.journal.change(ENGINE, (write) =>
      write.update('people', l.devika.id, { active: false }),
    )
    expect(named(l.tobias)).toEqual([])
    // What a like pattern would read as anything is looked for as it stands.
    expect(said(find(l.engine, l.imogen, 'cal_bration'))).toEqual([])
  })
  it('takes nothing from what is asked after it: merging still carries the description over', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, {
      title: 'Ask the lab',
      description: '<p>About the autoclave</p>',
    }).result
    const into = makeTask(l.engine, l.imogen, { title: 'Ask again' }).result.id
    // Shows an excerpt, for which it reads the description by a question that merging asks too.
    expect(find(l.engine, l.imogen, 'autoclave')).toMatchObject([
      { excerpt: 'About the autoclave' },
    ])
    mergeTask(l.engine, l.imogen, id, into).whole()
    expect(taskSheet(l.engine, l.imogen, into).description).toContain('About the autoclave')
  })
  it('by number, project and client; what is reworded is found by its new words alone', () => {
    const l = lab()
    const { id } = makeTask(l.engine, l.imogen, { title: 'Old words' }).result
    makeProject(l.engine, l.imogen, { name: 'Mossgate books', clientId: l.client })
    expect(said(find(l.engine, l.imogen, `#${id}`))).toContain('Old words')
    expect(said(find(l.engine, l.imogen, 'mossgate')).sort()).toEqual([
      'client Mossgate Veterinary Clinic',
      'project Mossgate books',
    ])
    editTask(l.engine, l.imogen, id, { patch: { title: 'New phrase' }, seen: null })
    expect(said(find(l.engine, l.imogen, 'old words'))).toEqual([])
    expect(said(find(l.engine, l.imogen, 'phrase'))).toEqual(['New phrase'])
    expect(said(find(l.engine, l.imogen, 'devi'))).toEqual(['person Devika'])
    expect(find(l.engine, l.corrie, 'devi')).toEqual([])
  })
  it('guests find their own tasks and nothing else', () => {
    const l = lab()
    makeTask(l.engine, l.imogen, { title: 'Calibrate mine', assignees: [l.corrie.id] })
    const { id } = makeTask(l.engine, l.imogen, { title: 'Calibrate others' }).result
    makeProject(l.engine, l.imogen, { name: 'Calibrate everything', clientId: l.client })
    expect(said(find(l.engine, l.corrie, 'calibrate'))).toEqual(['Calibrate mine'])
    expect(find(l.engine, l.corrie, String(id))).toEqual([])
    // However much of others' work fits better.
    for (let i = 0; i < 40; i++) makeTask(l.engine, l.imogen, { title: 'Calibrate' })
    const mine = makeTask(l.engine, l.imogen, {
      title: 'Scales of the big practice',
      description: '<p>calibrate them</p>',
      assignees: [l.corrie.id],
    }).result
    addComment(l.engine, l.imogen, mine.id, '<p>bring the certificate</p>')
    expect(said(find(l.engine, l.corrie, 'calibrate')).sort()).toEqual([
      'Calibrate mine',
      'Scales of the big practice',
    ])
    expect(said(find(l.engine, l.corrie, 'certificate'))).toEqual(['Scales of the big practice'])
  })
})
