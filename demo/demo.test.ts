import { expect, it } from 'vitest'
import { openDatabase } from '#server/database/open.ts'
import { memoryFiles } from '#server/engine/files.ts'
import { london } from '#server/test/lab.ts'
import { makeDemoFirm } from './firm.ts'

it('the demo shows every part of work with something true in it', async () => {
  const db = openDatabase(':memory:')
  const files = memoryFiles()
  await makeDemoFirm(db, london('2026-11-23T09:12'), files)
  const n = (sql: string) =>
    db.sqlite.prepare(`select count(*) from ${sql}`).pluck().get() as number
  const between = (sql: string, least: number, most = Infinity) => {
    expect(n(sql), sql).toBeGreaterThanOrEqual(least)
    expect(n(sql), sql).toBeLessThanOrEqual(most)
  }
  // Of the firm on its first day: about 25 open projects and 350 open tasks, people late, others
  // waiting.
  between('projects where closedAt is null', 22, 30)
  between('tasks where closedAt is null and archivedAt is null', 320, 380)
  between("tasks where state = 'waiting' and closedAt is null", 3)
  between('tasks where rung > 0', 3)
  // Every feature is used.
  between('taskTags', 15)
  for (const kind of ['choice', 'money', 'text', 'person'])
    between(`fields where kind = '${kind}'`, 1)
  between('fields where hidden = 1', 1)
  between('fieldValues', 30)
  between('tasks where parentId in (select id from tasks where parentId is not null)', 1)
  between('tasks where datesFollow = 1 and stateFollows = 1', 1)
  between(
    "tasks where doneBy = 'all' and (select count(*) from taskAssignees a where a.taskId " +
      '= tasks.id and a.estimate is not null) > 1',
    1,
  )
  between('taskFollowers', 3)
  between('attachments where url is not null', 1)
  between("attachments where type in ('image/png', 'application/pdf', 'text/csv')", 3)
  between('projects where stateSetId is not null', 1)
  between("states where only <> 'anyone'", 1)
  between('milestones where doneAt is not null', 1)
  between('milestones where doneAt is null', 1)
  between('posts where health is not null', 1)
  between("projects where health is not null and healthReason <> ''", 1)
  between('views where shared = 1', 2)
  between('viewPins', 2)
  between("teams where kind = 'closed'", 1)
  between("projects where audience = 'team'", 1)
  between("projects where audience = 'named'", 1)
  between(
    "shares join people on people.id = personId where access = 'client' and may = 'comment'",
    1,
  )
  between('projects where archivedAt is not null', 3)
  between('tasks where mergedInto is not null', 1)
  between("comments where body like '%data-person%'", 1)
  // What it says holds together: dates run forward, files are there, states are those of their
  // projects, nothing names a tag of another firm.
  expect(n('tasks where start > due')).toBe(0)
  expect(
    n(
      'tasks t left join projects p on p.id = t.projectId join states s on s.id = ' +
        't.stateId where s.setId <> coalesce(p.stateSetId, 1) or s.kind <> t.state',
    ),
  ).toBe(0)
  for (const digest of db.sqlite
    .prepare('select digest from attachments where digest is not null')
    .pluck()
    .all() as string[])
    expect(await files.read(digest)).not.toBeNull()
  expect(
    n(
      "tasks where description like '%<script%' or description not like '<%' and description <> ''",
    ),
  ).toBe(0)
  db.close()
})
