import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Sqlite from 'better-sqlite3'
import { drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { expect, it } from 'vitest'
import { expectDerived } from '../test/derived.ts'
import { migrationsFolder, openDatabase } from './open.ts'

/**
 * A database as the first version left it, with something in every table that later ones change.
 */
function asFirst(folder: string): string {
  const only = join(folder, 'first')
  cpSync(migrationsFolder(), only, { recursive: true })
  const journal = JSON.parse(readFileSync(join(only, 'meta/_journal.json'), 'utf8')) as {
    entries: unknown[]
  }
  writeFileSync(
    join(only, 'meta/_journal.json'),
    JSON.stringify({ ...journal, entries: journal.entries.slice(0, 1) }),
  )
  const file = join(folder, 'fernwick.sqlite')
  const db = new Sqlite(file)
  migrate(drizzle(db), { migrationsFolder: only })
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
