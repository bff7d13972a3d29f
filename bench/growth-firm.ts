import { addDays, isoDate } from '#core/calendar/dates.ts'
import type { Template } from '#core/templates/template.ts'
import type { SeriesBody } from '#contract/series.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import { insertRule } from '#server/areas/rules/service.ts'
import { insertSeries } from '#server/areas/series/service.ts'
import { projectSteps } from '#server/areas/templates/start.ts'
import { drained } from '#server/engine/portions.ts'
import { insertTemplate } from '#server/areas/templates/service.ts'
import { openDatabase } from '#server/database/open.ts'
import { handClock } from '#server/engine/clock.ts'
import { assemble } from '#server/assembly.ts'
import { ENGINE, type Writer } from '#server/engine/journal.ts'
import type { Engine } from '#server/engine/services.ts'
import type { Viewer } from '#server/engine/viewer.ts'

/** A firm of one size; what the signed-in person has open is the same in all of them. */

const NOW = Date.parse('2026-11-23T12:00:00Z')
const TODAY = isoDate('2026-11-23')
const DAY = 86_400_000
const PEOPLE = 20
/** Tasks of a project, and of one in how many is still open. */
const IN_PROJECT = 30
const OPEN_OF = 7

const TEMPLATE: Template = {
  name: 'Month-end books',
  anchor: 'deadline',
  roles: [
    { key: 'keeper', name: 'Bookkeeper' },
    { key: 'reviewer', name: 'Reviewer' },
  ],
  phases: ['Gather', 'Close'].map((name) => ({
    key: name,
    name,
    tasks: Array.from({ length: 8 }, (_, i) => ({
      key: `${name}${i}`,
      title: `${name} ${i}`,
      role: i % 4 ? 'keeper' : 'reviewer',
      effort: 30,
      due: { days: -i },
      checklist: ['Cash', 'Cards'],
    })),
  })),
}

export type Grown = ReturnType<typeof grow>

interface Place {
  readonly n: number
  readonly i: number
  readonly projectId: number
  readonly phaseId: number
  readonly people: readonly number[]
}

/** Fills one task: who is on it, what was said, what rules did to it. */
function fillTask(write: Writer, open: boolean, { n, i, projectId, phaseId, people }: Place): void {
  const taskId = write.insert('tasks', {
    title: `${i % 2 ? 'Post takings' : 'Check statements'} ${n}-${i}`,
    ...{ projectId, phaseId, position: i, estimate: 30 },
    ...(open
      ? { stateId: 1, state: 'not-started', closedAt: null, due: addDays(TODAY, i - 5) }
      : {
          ...{ stateId: 5, state: 'done', closedAt: NOW - DAY - n * 60_000 },
          due: addDays(TODAY, -(n % 300) - 1),
        }),
    creatorId: people[1 + (i % (PEOPLE - 1))]!,
    createdAt: NOW - 20 * DAY,
  })
  // The signed-in person is on closed work everywhere, and on open work in one firm's size only.
  const personId = people[i % 15 === 0 && !open ? 0 : 1 + ((n + i) % (PEOPLE - 1))]!
  write.insert('taskAssignees', { taskId, personId })
  if (i % 5 === 0)
    write.insert('comments', { taskId, authorId: people[2]!, body: '<p>Seen</p>', at: NOW })
  if (i % 3 === 0) write.insert('checklistItems', { taskId, title: 'Cash', position: 0 })
  write.insert('runs', {
    ...{ key: `grown:${taskId}`, ruleId: 1, itemKind: 'task', itemId: taskId },
    ...{ outcome: i % 9 ? 'done' : 'failed', summary: 'Rung 1: Reminded' },
    ...{ reasons: ['1 working day late'], at: NOW - 40 * DAY },
  })
  write.insert('notices', {
    ...{ personId, kind: 'reminder', body: 'Late', itemKind: 'task', itemId: taskId },
    ...{ at: NOW - 2 * DAY, readAt: NOW - DAY },
  })
}

/** Fills one project: its phases, and tasks with people, comments and history. */
function fillProject(write: Writer, of: { n: number; people: number[]; clientId: number }): number {
  const { n, people, clientId } = of
  const running = n % OPEN_OF === 0
  const projectId = write.insert('projects', {
    name: `Books ${n}`,
    clientId,
    leadId: people[1 + (n % (PEOPLE - 1))]!,
    templateId: 1,
    templateVersion: 1,
    createdAt: NOW - n * DAY,
    closedAt: running ? null : NOW - n * 3_600_000,
  })
  const phases = ['Gather', 'Close'].map((name, position) =>
    write.insert('phases', { projectId, name, position }),
  )
  for (let i = 0; i < IN_PROJECT; i++)
    fillTask(write, running && i % 10 < 9, { n, i, projectId, phaseId: phases[i % 2]!, people })
  return projectId
}

/** The open work of the signed-in person: a project of theirs, and some tasks of no project. */
function ownWork(write: Writer, people: number[]): { project: number; tasks: number[] } {
  const project = write.insert('projects', {
    name: 'Their own',
    leadId: people[0]!,
    createdAt: NOW,
  })
  const tasks = Array.from({ length: 36 }, (_, i) => {
    const taskId = write.insert('tasks', {
      title: `Own ${i}${i === 7 ? ' autoclave' : ''}`,
      projectId: project,
      due: addDays(TODAY, i - 6),
      estimate: 20,
      position: i,
      creatorId: people[0]!,
      stateId: 1,
      createdAt: NOW,
    })
    write.insert('taskAssignees', { taskId, personId: people[0]! })
    write.insert('checklistItems', { taskId, title: 'Cash', position: 0 })
    return taskId
  })
  return { project, tasks }
}

const FIRM = {
  ...{ id: 1, name: 'Grown', zone: 'Europe/London' },
  week: ['MO', 'TU', 'WE', 'TH', 'FR'] as const,
  hours: {},
}

function hire(write: Writer): number[] {
  write.insert('firm', FIRM)
  const ids = Array.from({ length: PEOPLE }, (_, i) =>
    write.insert('people', {
      name: `Person ${i}`,
      email: `p${i}@bench.example`,
      access: i === 0 ? 'manager' : 'member',
    }),
  )
  const teamId = write.insert('teams', { name: 'Accounts' })
  for (const personId of ids.slice(3, 8)) write.insert('teamMembers', { teamId, personId })
  return ids
}

const RULE: RuleDefinition = {
  trigger: { kind: 'late' },
  conditions: { match: 'all', of: [] },
  rungs: [
    {
      key: 'a',
      delay: { days: 400, unit: 'calendar', time: '09:00' },
      actions: [{ kind: 'set-priority', to: 'urgent' }],
    },
  ],
}

const weekly = (i: number, clientId: number, person: number): SeriesBody => ({
  name: `Series ${i}`,
  leadDays: 3,
  schedule: { start: '2026-11-24', rule: 'FREQ=WEEKLY;BYDAY=TU', zone: 'Europe/London' },
  makes: {
    ...{ kind: 'task', title: 'Weekly rota', description: '', clientId, projectId: null },
    ...{ assignees: [person], estimate: 30, checklist: [] },
    period: { of: 'week', which: 'same' },
  },
})

type Roles = Record<string, { person: number } | { team: number }>
const start = (roles: Roles, name: string) => ({
  ...{ name, roles, clientId: null, anchor: '2027-02-01' },
})

/** What grows with the firm: clients, their projects, series. */
function fill(engine: Engine, people: number[], size: number): number[] {
  const { journal } = engine
  const clients = journal.change(ENGINE, (write) =>
    Array.from({ length: 4 * size }, (_, i) =>
      write.insert('clients', { name: `Clinic ${i}`, short: `C${i}`, tier: 'gold' }),
    ),
  ).result
  const projects = Array.from({ length: 32 * size }, (_, n) => {
    const clientId = clients[n % clients.length]!
    return journal.change(ENGINE, (write) => fillProject(write, { n, people, clientId })).result
  })
  journal.change(ENGINE, (write) => {
    for (let i = 0; i < 4 + 6 * size; i++) {
      // Four of them give work to the signed-in person, whatever the firm's size.
      const person = i < 4 ? people[0]! : people[1 + (i % (PEOPLE - 1))]!
      const body = weekly(i, clients[i % clients.length]!, person)
      insertSeries(engine, write, body, people[0]!)
    }
  })
  return projects
}

/** The same firm, `size` times as large, in memory or in a file. */
export function grow(size: number, file = ':memory:') {
  const db = openDatabase(file)
  const { engine, runner } = assemble(db, handClock(NOW))
  const { journal } = engine
  const people = journal.change(ENGINE, hire).result
  const viewer: Viewer = { id: people[0]!, name: 'Person 0', access: 'manager', clientId: null }
  const roles = { keeper: { person: people[4]! }, reviewer: { person: people[5]! } }
  const template = journal.change(ENGINE, (write) => {
    const made = insertTemplate(write, TEMPLATE)
    insertRule(engine, write, { name: 'Late', ownerId: people[0]!, definition: RULE }, true)
    return made
  }).result
  // An old start, in which somebody has worked since: taking it back is refused.
  const old = journal.change({ kind: 'person', id: people[0]! }, (write) =>
    drained(projectSteps(engine, write, template, start(roles, 'Old start'))),
  )
  const own = journal.change(ENGINE, (write) => ownWork(write, people)).result
  const projects = fill(engine, people, size)
  runner.tick()
  db.sqlite.pragma('optimize')
  return { db, engine, runner, viewer, people, projects, own, old, roles, start, template }
}
