import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Sqlite from 'better-sqlite3'
import { drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { describe, expect, it } from 'vitest'
import { compile } from '#core/conditions/compile.ts'
import type { Group } from '#core/conditions/condition.ts'
import { ruleBody } from '#contract/rules.ts'
import { viewBody } from '#contract/query.ts'
import { assemble } from '../assembly.ts'
import { taskFields } from '../areas/fields/queries.ts'
import { undoChange } from '../areas/journal/undo.ts'
import { factsOf } from '../areas/tasks/facts.ts'
import { nowFor } from '../areas/tasks/filter.ts'
import { handClock } from '../engine/clock.ts'
import { expectDerived } from '../test/derived.ts'
import { addFunctions, migrationsFolder, openDatabase } from './open.ts'

/** A database as the first so many migrations left it. */
function asLeftBy(migrations: number, folder: string): { file: string; db: Sqlite.Database } {
  const only = join(folder, 'only')
  cpSync(migrationsFolder(), only, { recursive: true })
  const journal = JSON.parse(readFileSync(join(only, 'meta/_journal.json'), 'utf8')) as {
    entries: unknown[]
  }
  writeFileSync(
    join(only, 'meta/_journal.json'),
    JSON.stringify({ ...journal, entries: journal.entries.slice(0, migrations) }),
  )
  const file = join(folder, 'fernwick.sqlite')
  const db = new Sqlite(file)
  addFunctions(db)
  migrate(drizzle(db), { migrationsFolder: only })
  return { file, db }
}

/**
 * A database as the first version left it, with something in every table that later ones change.
 */
function asFirst(folder: string): string {
  const { file, db } = asLeftBy(1, folder)
  db.exec(`
    insert into clients (id, name, short, tier) values (1, 'Mossgate Veterinary Clinic', 'Mossgate', 'gold');
    insert into people (id, name, email, access) values (1, 'Imogen', 'i@quillhaven.example', 'manager');
    insert into templates (id, name, definition, updatedAt) values (7, 'Books', '{}', 1000);
    insert into templateVersions (templateId, version, definition, at) values (7, 1, '{}', 1000);
    insert into outbox (key, recipient, subject, body, nextAt, createdAt) values
      ('a', 'i@quillhaven.example', 'Late', 'Late', 1000, 1000);
    insert into projects (id, name, clientId, templateId, createdAt) values (1, 'Books', 1, 7, 1000);
    insert into tasks (id, title, description, state, projectId, createdAt) values
      (1, 'Post takings', 'Cash & cards' || char(10) || '<all>', 'waiting', 1, 1000),
      (2, 'Review', '', 'not-started', 1, 1000);
    insert into taskAssignees (taskId, personId) values (1, 1);
    insert into checklistItems (taskId, title, position) values (1, 'Cash', 0);
    insert into comments (taskId, authorId, body, at) values (1, 1, 'Is <this> it?', 2000);
    insert into journal ("change", at, actorKind, entity, entityId, action, taskId, after) values
      (1, 1000, 'person', 'tasks', 1, 'made', 1, '{"title":"Post takings"}'),
      (1, 1000, 'person', 'tasks', 2, 'made', 2, '{"title":"Review"}'),
      (2, 3000, 'person', 'tasks', 1, 'changed', 1, '{"state":"waiting"}');
  `)
  db.close()
  return file
}

it('from the first version on, nothing is lost: states are named, texts become rich, what was written is found', () => {
  const folder = mkdtempSync(join(tmpdir(), 'fernwick-migrate-'))
  const db = openDatabase(asFirst(folder))
  const rows = (sql: string) => db.sqlite.prepare(sql).all()
  expect(
    rows(
      'select t.id, t.state, s.name, t.description from tasks t join states s on s.id = t.stateId order by t.id',
    ),
  ).toEqual([
    {
      id: 1,
      state: 'waiting',
      name: 'Waiting',
      description: '<p>Cash &amp; cards<br>&lt;all&gt;</p>',
    },
    { id: 2, state: 'not-started', name: 'Not started', description: '' },
  ])
  expect(rows('select taskId, kind, at from stateDates order by id')).toEqual([
    { taskId: 1, kind: 'not-started', at: 1000 },
    { taskId: 2, kind: 'not-started', at: 1000 },
    { taskId: 1, kind: 'waiting', at: 3000 },
  ])
  expect(rows('select body from comments')).toEqual([{ body: '<p>Is &lt;this&gt; it?</p>' }])
  expect(
    rows(
      'select (select count(*) from taskAssignees) as people, (select count(*) from ' +
        'checklistItems) as items, (select count(*) from journal) as entries',
    ),
  ).toEqual([{ people: 1, items: 1, entries: 3 }])
  const found = (words: string) =>
    db.sqlite
      .prepare(
        'select rowid % 4 as kind, rowid / 4 as id from search where search match ? order by rowid',
      )
      .all(words)
  expect(found('takings')).toEqual([{ kind: 0, id: 1 }])
  expect(found('cards')).toEqual([{ kind: 0, id: 1 }])
  expect(found('this')).toEqual([{ kind: 1, id: 1 }])
  expect(found('mossgate')).toEqual([{ kind: 3, id: 1 }])
  // The journal names what an entry belongs to; what derivers keep is there from the start.
  expect(rows('select itemKind, itemId, action from journal order by id')).toEqual([
    { itemKind: 'task', itemId: 1, action: 'made' },
    { itemKind: 'task', itemId: 2, action: 'made' },
    { itemKind: 'task', itemId: 1, action: 'changed' },
  ])
  expect(rows('select personId, taskId from openAssignments')).toEqual([{ personId: 1, taskId: 1 }])
  expect(rows('select id, projects from templateCounts')).toEqual([{ id: 7, projects: 1 }])
  expect(rows('select templateId, version, at from templateVersions')).toEqual([
    { templateId: 7, version: 1, at: 1000 },
  ])
  expect(rows('select key, "change" from outbox')).toEqual([{ key: 'a', change: null }])
  expectDerived(db.sqlite)
  expect(db.sqlite.pragma('foreign_key_check')).toEqual([])
  db.close()
  rmSync(folder, { recursive: true })
})

describe('saved views and rules from before there was one language of conditions', () => {
  const view = (filter: unknown, more: object = {}) => ({
    ...{ kind: 'list', scope: { of: 'firm' }, filter, sort: [], group: null, columns: [] },
    ...{ colour: null, tree: true, step: 'month', ...more },
  })
  const rule = (...of: unknown[]) => ({
    trigger: 'late',
    conditions: { match: 'all', of },
    rungs: [
      {
        key: 'a',
        delay: { days: 1, unit: 'working', time: '09:00' },
        actions: [{ kind: 'assign', who: { is: 'lead' } }],
      },
    ],
  })
  /** What a rule asked, and which of three tasks it held of: gold and urgent, of nobody, silver. */
  const RULES: [unknown, unknown, string[]][] = [
    [
      { field: 'priority', op: 'is', value: 'urgent' },
      { field: 'priority', op: 'in', value: ['urgent'] },
      ['gold'],
    ],
    [
      { field: 'priority', op: 'not-in', value: ['urgent', 'high'] },
      { field: 'priority', op: 'not-in', value: ['urgent', 'high'] },
      ['nobody', 'silver'],
    ],
    [
      { field: 'state', op: 'is-not', value: 'waiting' },
      { field: 'kind', op: 'not-in', value: ['waiting'] },
      ['gold', 'nobody'],
    ],
    [
      { field: 'client tier', op: 'in', value: ['gold', 'silver'] },
      { field: 'client.tier', op: 'in', value: ['gold', 'silver'] },
      ['gold', 'silver'],
    ],
    [
      { field: 'client tier', op: 'is', value: null },
      { field: 'client.tier', op: 'empty' },
      ['nobody'],
    ],
    [
      { field: 'client', op: 'is', value: 'Mossgate' },
      { field: 'client', op: 'in', value: [1] },
      ['gold'],
    ],
    [
      { field: 'client', op: 'not-in', value: ['Gone Ltd'] },
      { field: 'client.short', op: 'is-not', value: 'Gone Ltd' },
      ['gold', 'nobody', 'silver'],
    ],
    [
      { field: 'client', op: 'in', value: ['Mossgate', 'Gone Ltd'] },
      {
        match: 'any',
        of: [
          { field: 'client.short', op: 'is', value: 'Mossgate' },
          { field: 'client.short', op: 'is', value: 'Gone Ltd' },
        ],
      },
      ['gold'],
    ],
    [
      { field: 'project', op: 'is', value: 'Books' },
      { field: 'project.name', op: 'is', value: 'Books' },
      ['gold'],
    ],
    [
      { field: 'project', op: 'is-not', value: null },
      { field: 'project.name', op: 'filled' },
      ['gold'],
    ],
    [
      { field: 'estimate', op: 'at-least', value: 60 },
      { field: 'estimate', op: 'at-least', value: 60 },
      ['gold'],
    ],
    [
      { field: 'estimate', op: 'in', value: [30, 45] },
      {
        match: 'any',
        of: [
          { field: 'estimate', op: 'is', value: 30 },
          { field: 'estimate', op: 'is', value: 45 },
        ],
      },
      ['silver'],
    ],
    [
      { field: 'assignees', op: 'at-most', value: 0 },
      { field: 'count:people', op: 'at-most', value: 0 },
      ['nobody', 'silver'],
    ],
    [
      { field: 'assignees', op: 'is-not', value: 1 },
      { field: 'count:people', op: 'is-not', value: 1 },
      ['nobody', 'silver'],
    ],
    // What never held holds no more than before, what always did always does.
    [
      { field: 'priority', op: 'in', value: [] },
      { match: 'none', of: [{ match: 'all', of: [] }] },
      [],
    ],
    [
      { field: 'priority', op: 'at-least', value: 2 },
      { match: 'none', of: [{ match: 'all', of: [] }] },
      [],
    ],
    [
      { field: 'state', op: 'not-in', value: [] },
      { match: 'all', of: [] },
      ['gold', 'nobody', 'silver'],
    ],
    [
      {
        match: 'none',
        of: [
          { field: 'client tier', op: 'is', value: 'gold' },
          { match: 'any', of: [{ field: 'priority', op: 'is', value: 'low' }] },
        ],
      },
      {
        match: 'none',
        of: [
          { field: 'client.tier', op: 'in', value: ['gold'] },
          { match: 'any', of: [{ field: 'priority', op: 'in', value: ['low'] }] },
        ],
      },
      ['nobody', 'silver'],
    ],
  ]
  const VIEWS: [unknown, unknown][] = [
    [
      { field: 'open', op: 'is' },
      { field: 'open', op: 'is', value: true },
    ],
    [
      { field: 'late', op: 'is', value: false },
      { field: 'late', op: 'is', value: false },
    ],
    [
      { field: 'tier', op: 'in', value: ['gold'] },
      { field: 'client.tier', op: 'in', value: ['gold'] },
    ],
    [
      { field: 'title', op: 'has', value: 7 },
      { field: 'title', op: 'has', value: '7' },
    ],
    [
      { field: 'words', op: 'has-not' },
      { field: 'words', op: 'has-not', value: '' },
    ],
    [
      { field: 'assignee', op: 'in', value: ['me', 1] },
      { field: 'assignee', op: 'in', value: ['me', 1] },
    ],
    [
      { field: 'due', op: 'within', value: { period: 'week', shift: 0 } },
      { field: 'due', op: 'within', value: { period: 'week', shift: 0 } },
    ],
    [
      { match: 'none', of: [{ field: 'tier', op: 'empty' }] },
      { match: 'none', of: [{ field: 'client.tier', op: 'empty' }] },
    ],
    [
      { field: 'estimate', op: 'at-least', value: 30 },
      { field: 'estimate', op: 'at-least', value: 30 },
    ],
  ]

  function carried() {
    const folder = mkdtempSync(join(tmpdir(), 'fernwick-carry-'))
    const { file, db } = asLeftBy(6, folder)
    db.exec(`
      insert into firm (id, name, zone, week, hours, demo) values (1, 'Q', 'Europe/London', '["MO"]', '{}', 0);
      insert into clients (id, name, short, tier) values
        (1, 'Mossgate Clinic', 'Mossgate', 'gold'), (2, 'Greywether', 'Greywether', 'silver');
      insert into people (id, name, email, access) values (1, 'Imogen', 'i@q.example', 'manager');
      insert into projects (id, name, clientId, createdAt) values (1, 'Books', 1, 1000);
      insert into tasks (id, title, state, stateId, priority, projectId, clientId, estimate, due, createdAt) values
        (1, 'gold', 'not-started', 1, 'urgent', 1, null, 60, '2026-12-01', 1000),
        (2, 'nobody', 'not-started', 1, 'normal', null, null, null, null, 1000),
        (3, 'silver', 'waiting', 3, 'normal', null, 2, 30, '2026-12-03', 1000);
      insert into taskAssignees (taskId, personId) values (1, 1);
    `)
    const addView = db.prepare(
      "insert into views (id, name, ownerId, shared, definition) values (?, 'V', 1, 0, ?)",
    )
    for (const [i, [test]] of VIEWS.entries())
      addView.run(
        i + 1,
        JSON.stringify(view({ match: 'all', of: [test] }, { group: 'tier', colour: 'tier' })),
      )
    const addRule = db.prepare(
      "insert into rules (id, name, definition, updatedAt) values (?, 'R', ?, 1000)",
    )
    for (const [i, [test]] of RULES.entries()) addRule.run(i + 1, JSON.stringify(rule(test)))
    const enter = db.prepare(
      `insert into journal ("change", at, actorKind, actorId, entity, entityId, action, itemKind, itemId, before, after)
       values (?, 1000, 'person', 1, ?, ?, ?, ?, ?, ?, ?)`,
    )
    const was = {
      definition: JSON.stringify(rule({ field: 'client', op: 'is', value: 'Mossgate' })),
    }
    const is = { definition: JSON.stringify(rule(RULES[0]![0])) }
    enter.run(1, 'rules', 1, 'changed', 'rule', 1, JSON.stringify(was), JSON.stringify(is))
    enter.run(
      2,
      'views',
      1,
      'removed',
      null,
      null,
      JSON.stringify({
        name: 'V',
        definition: JSON.stringify(view({ match: 'all', of: [VIEWS[2]![0]] })),
      }),
      null,
    )
    const made = { title: 'gold', due: '2026-11-20' }
    enter.run(3, 'tasks', 1, 'made', 'task', 1, null, JSON.stringify(made))
    enter.run(4, 'tasks', 1, 'changed', 'task', 1, '{"due":"2026-11-20"}', '{"due":"2026-12-02"}')
    enter.run(5, 'tasks', 1, 'changed', 'task', 1, '{"due":"2026-12-02"}', '{"due":"2026-12-01"}')
    db.close()
    return openDatabase(file)
  }
  const db = carried()
  const { engine } = assemble(db, handClock(Date.parse('2026-11-23T08:00:00Z')))
  const rows = <T>(sql: string) => db.sqlite.prepare(sql).all() as T[]
  const definitions = (table: string) =>
    rows<{ definition: string }>(`select definition from ${table} order by id`).map(
      (row) => JSON.parse(row.definition) as { conditions: Group; filter: Group },
    )

  it('are written in the one language, and what comes in by it is what is kept', () => {
    expect(definitions('rules').map(({ conditions }) => conditions.of[0])).toEqual(
      RULES.map(([, now]) => now),
    )
    for (const definition of definitions('rules'))
      expect(ruleBody.validate({ name: 'R', ownerId: null, definition }).error).toBeUndefined()
    const views = definitions('views')
    expect(views.map(({ filter }) => filter.of[0])).toEqual(VIEWS.map(([, now]) => now))
    expect(views[0]).toMatchObject({ group: 'client.tier', colour: 'client.tier' })
    for (const definition of views)
      expect(viewBody.validate({ name: 'V', shared: false, definition }).error).toBeUndefined()
  })
  it.each(RULES.map(([was, , held], i) => [JSON.stringify(was), i, held] as const))(
    'a rule holds of what it held of: %s',
    (_, i, held) => {
      const { holds, faults } = compile(
        definitions('rules')[i]!.conditions,
        taskFields(engine.reader),
      )
      expect(faults).toEqual([])
      const found = [1, 2, 3].map((id) => factsOf(engine, id)!)
      expect(
        found.filter((task) => holds(task, nowFor(engine, null))).map(({ title }) => title),
      ).toEqual(held)
    },
  )
  it('the journal’s are carried along: what is taken back comes back in the one language', () => {
    const me = { id: 1, name: 'Imogen', access: 'manager', clientId: null } as const
    undoChange(engine, me, 1).whole()
    expect(definitions('rules')[0]!.conditions.of).toEqual([
      { field: 'client', op: 'in', value: [1] },
    ])
    const [{ before }] = rows<{ before: string }>(
      "select before from journal where entity = 'views'",
    ) as [{ before: string }]
    expect(JSON.parse((JSON.parse(before) as { definition: string }).definition)).toMatchObject({
      filter: { of: [{ field: 'client.tier' }] },
    })
  })
  it('first dues and how often they were put off come from the journal', () => {
    expect(rows('select id, firstDue, postponed from tasks order by id')).toEqual([
      { id: 1, firstDue: '2026-11-20', postponed: 1 },
      { id: 2, firstDue: null, postponed: 0 },
      { id: 3, firstDue: '2026-12-03', postponed: 0 },
    ])
  })
})
