import { expect } from 'vitest'
import type Sqlite from 'better-sqlite3'

/** What derivers keep, and the same worked out anew from what it is derived from. */
const DERIVED: Record<string, { kept: string; anew: string }> = {
  'open assignments': {
    kept: 'select personId, taskId from openAssignments',
    anew: `select a.personId, a.taskId from taskAssignees a join tasks t on t.id = a.taskId
      where t.closedAt is null and t.archivedAt is null`,
  },
  'open tasks that nobody is on': {
    kept: 'select id, projectId, role, creatorId from openUnassigned',
    anew: `select id, projectId, role, creatorId from tasks t where closedAt is null
      and archivedAt is null and not exists (select 1 from taskAssignees where taskId = t.id)`,
  },
  'tasks in each state': {
    kept: 'select id, tasks from stateCounts where tasks > 0',
    anew: 'select stateId, count(*) from tasks where stateId is not null group by stateId',
  },
  'projects of each template': {
    kept: 'select id, projects from templateCounts where projects > 0',
    anew: `select templateId, count(*) from projects where templateId is not null
      group by templateId`,
  },
}

/** What derivers keep that is not what it is derived from, by name. */
export function derivedFaults(sqlite: Sqlite.Database): string[] {
  const rows = (sql: string) => (sqlite.prepare(sql).raw().all() as unknown[]).map(String).sort()
  return Object.entries(DERIVED)
    .filter(([, { kept, anew }]) => rows(kept).join() !== rows(anew).join())
    .map(([name]) => name)
}

/** Holds what derivers keep against what it is derived from. */
export const expectDerived = (sqlite: Sqlite.Database): void =>
  expect(derivedFaults(sqlite)).toEqual([])
