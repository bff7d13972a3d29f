import { projectSheet } from '../projects/sheet.ts'
import { startProject } from './start.ts'
import ExcelJS from 'exceljs'
import { describe, expect, it } from 'vitest'
import type { Template } from '#core/templates/template.ts'
import { BOOKS, lab } from '../../test/lab.ts'
import { makeSeries } from '../series/service.ts'
import { undoChange } from '../journal/undo.ts'
import {
  importTemplate,
  listTemplates,
  makeTemplate,
  saveTemplate,
  templateSheet,
} from './service.ts'
import { readTable } from './table.ts'

const withTask = (more: object): Template => ({
  ...BOOKS,
  phases: [
    ...BOOKS.phases,
    { key: 'more', name: 'More', tasks: [{ key: 'x', title: 'X', due: { days: 0 }, ...more }] },
  ],
})

describe('templates', () => {
  it('keep every version; a running project keeps the one it was started from', () => {
    const l = lab()
    const made = makeTemplate(l.engine, l.imogen, BOOKS).result
    const project = startProject(l.engine, l.imogen, made.id, {
      name: 'First',
      clientId: null,
      anchor: '2026-12-07',
      roles: {},
    }).whole().result.id
    const saved = saveTemplate(l.engine, l.imogen, made.id, {
      definition: withTask({}),
      seen: 1,
    }).result
    expect(saved).toMatchObject({ version: 2, tasks: 4, projects: 1 })
    expect(
      l.rows(
        'select version, json_array_length(definition, ?) as phases from templateVersions order by version',
        '$.phases',
      ),
    ).toEqual([
      { version: 1, phases: 2 },
      { version: 2, phases: 3 },
    ])
    expect(projectSheet(l.engine, l.imogen, project).template).toMatchObject({ version: 1 })
    const second = startProject(l.engine, l.imogen, made.id, {
      name: 'Second',
      clientId: null,
      anchor: '2026-12-07',
      roles: {},
    }).whole().result.id
    expect(projectSheet(l.engine, l.imogen, second)).toMatchObject({
      template: { version: 2 },
      open: 4,
    })
    expect(
      () => saveTemplate(l.engine, l.imogen, made.id, { definition: BOOKS, seen: 1 }).result,
    ).toThrow(/Version 2 was saved while you were editing version 1/)
  })
  it('are taken back and put back with their versions, unless something uses them', () => {
    const l = lab()
    const kept = () => l.rows('select "templateId", version from templateVersions order by version')
    const { result, change } = makeTemplate(l.engine, l.imogen, BOOKS)
    const { id } = result
    const saving = saveTemplate(l.engine, l.imogen, id, { definition: withTask({}), seen: 1 })
    undoChange(l.engine, l.imogen, saving.change!).whole()
    expect(templateSheet(l.engine, l.imogen, id)).toMatchObject({ version: 3, tasks: 3 })
    expect(kept()).toEqual([1, 2, 3].map((version) => ({ templateId: id, version })))
    const undone = undoChange(l.engine, l.imogen, change!).whole()
    expect(() => templateSheet(l.engine, l.imogen, id)).toThrow(/no template/)
    expect(kept()).toEqual([])
    undoChange(l.engine, l.imogen, undone.change!).whole()
    expect(templateSheet(l.engine, l.imogen, id)).toMatchObject({ name: BOOKS.name, tasks: 3 })
    expect(kept()).toMatchObject([{ templateId: id }])
  })
  it('stay where a project was started from them, or a series makes projects of them', () => {
    const l = lab()
    const one = makeTemplate(l.engine, l.imogen, BOOKS)
    const start = { name: 'First', clientId: null, anchor: '2026-12-07', roles: {} }
    startProject(l.engine, l.imogen, one.result.id, start).whole()
    const two = makeTemplate(l.engine, l.imogen, BOOKS)
    makeSeries(l.engine, l.imogen, {
      name: 'Books',
      makes: {
        ...{ kind: 'project', templateId: two.result.id, name: 'Books', roles: {} },
        ...{ clientId: null, leadId: l.imogen.id, period: { of: 'month', which: 'before' } },
      },
      schedule: { start: '2026-12-01', rule: 'FREQ=MONTHLY' },
      leadDays: 0,
    })
    for (const { change } of [one, two])
      expect(() => undoChange(l.engine, l.imogen, change!).whole()).toThrow(/is used elsewhere now/)
  })
  it.each([
    ['two tasks with one key', withTask({ key: 'ask' }), /Two tasks have the key/],
    ['a role that is not there', withTask({ role: 'pilot' }), /names a role/],
    [
      'an offset from nothing',
      withTask({ due: { days: 1, from: 'task:nobody:due' } }),
      /is not here/,
    ],
    [
      'a circle',
      withTask({ due: { days: 1, from: 'task:x:start' }, start: { days: 1, from: 'task:x:due' } }),
      /wait for each other/,
    ],
  ])('%s is refused, and nothing is made', (_, definition, says) => {
    const l = lab()
    expect(() => makeTemplate(l.engine, l.imogen, definition).result).toThrow(says)
    expect(l.rows('select 1 from templates')).toEqual([])
    expect(l.rows('select 1 from templateVersions')).toEqual([])
  })
  it('members see them and start from them; only managers change them; guests do neither', () => {
    const l = lab()
    const { id } = makeTemplate(l.engine, l.imogen, BOOKS).result
    expect(
      listTemplates(l.engine, l.tobias).map((t) => [t.name, t.tasks, t.phases, t.roles, t.effort]),
    ).toEqual([['Month-end books', 3, 2, 2, 170]])
    expect(
      () => saveTemplate(l.engine, l.tobias, id, { definition: BOOKS, seen: null }).result,
    ).toThrow(/Only a manager/)
    expect(
      startProject(l.engine, l.tobias, id, {
        name: 'P',
        clientId: null,
        anchor: '2026-12-07',
        roles: {},
      }).whole().result.id,
    ).toBeGreaterThan(0)
    expect(() => templateSheet(l.engine, l.corrie, id)).toThrow(/Guests may not/)
    expect(
      () =>
        startProject(l.engine, l.corrie, id, {
          name: 'P',
          clientId: null,
          anchor: '2026-12-07',
          roles: {},
        }).whole().result.id,
    ).toThrow(/Guests may not/)
  })
  it.each([
    [{ clientId: 999, anchor: '2026-12-07', roles: {} }, /no client 999/],
    [{ clientId: null, anchor: '2026-02-30', roles: {} }, /is not a date/],
    [{ clientId: null, anchor: '2026-12-07', roles: { keeper: { team: 99 } } }, /no team 99/],
    [{ clientId: null, leadId: 999, anchor: '2026-12-07', roles: {} }, /choose another lead/],
  ])('starting with %j is refused whole', (body, says) => {
    const l = lab()
    const { id } = makeTemplate(l.engine, l.imogen, BOOKS).result
    expect(
      () => startProject(l.engine, l.imogen, id, { name: 'P', ...body }).whole().result.id,
    ).toThrow(says)
    for (const table of ['projects', 'phases', 'tasks', 'taskAssignees'])
      expect(l.rows(`select 1 from ${table}`), table).toEqual([])
  })
  it('an import is journalled as one', () => {
    const l = lab()
    const made = importTemplate(l.engine, l.imogen, {
      name: 'Brought',
      anchor: 'start',
      rows: [['Ask', '1']],
      mapping: { title: 0, days: 1 },
    }).result
    expect(made.definition).toMatchObject({
      anchor: 'start',
      phases: [{ name: 'Tasks', tasks: [{ title: 'Ask', due: { days: 1, unit: 'working' } }] }],
    })
    expect(l.rows("select actorKind, actorId from journal where entity = 'templates'")).toEqual([
      { actorKind: 'import', actorId: l.imogen.id },
    ])
  })
})

describe('reading a file', () => {
  const read = (text: string) => readTable(Buffer.from(text))
  it('takes the byte order mark off, tabs and bars as separators, and trailing blank lines away', async () => {
    expect(await read('\ufeffTask\tDays\nAsk\t-1\n\n\n')).toMatchObject({
      headings: ['Task', 'Days'],
      rows: [['Ask', '-1']],
    })
    expect(await read('Task|Days\nAsk|-1')).toMatchObject({ rows: [['Ask', '-1']] })
  })
  it('keeps lines that look like formulas as the text they are', async () =>
    expect((await read('Task\n=1+1\n"=cmd()"')).rows).toEqual([['=1+1'], ['=cmd()']]))
  it('says which line has a quotation mark that never closes', async () =>
    expect((await read('Task\n"Ask')).notes[0]).toMatch(/Line \d+ has a quotation mark/))
  it('reads 2,000 rows and refuses one more', async () => {
    expect((await read(`Task\n${'Ask\n'.repeat(2_000)}`)).rows).toHaveLength(2_000)
    await expect(read(`Task\n${'Ask\n'.repeat(2_001)}`)).rejects.toThrow(
      /2,001 rows; a template holds 2,000/,
    )
  })
  it('a first line without a word of headings is a task like the others', async () => {
    expect(await read('Ask for the records\t-3\nPost them\t-1')).toMatchObject({
      ...{ headings: ['Column 1', 'Column 2'], firstLine: 1, mapping: { title: 0, days: 1 } },
      rows: [
        ['Ask for the records', '-3'],
        ['Post them', '-1'],
      ],
    })
    expect(await read('Ask for the records')).toMatchObject({ mapping: { title: 0 } })
    // Words that headings have too, in a line that is none.
    expect((await read('Call the lead dentist\nList the records')).rows).toHaveLength(2)
    expect((await read('Task name,Days before the deadline\nAsk,3')).rows).toHaveLength(1)
    expect(await read('1\tPost them')).toMatchObject({ mapping: { title: 1, days: 0 } })
  })
  it('a workbook is read as its first sheet', async () => {
    const book = new ExcelJS.Workbook()
    book.addWorksheet('Close').addRows([
      ['Task', 'Days'],
      ['Ask', -1],
    ])
    const bytes = Buffer.from(await book.xlsx.writeBuffer())
    expect(await readTable(bytes)).toMatchObject({
      ...{ headings: ['Task', 'Days'], rows: [['Ask', '-1']], mapping: { title: 0, days: 1 } },
    })
  })
})
