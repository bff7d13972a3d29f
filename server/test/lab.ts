import { isoDate, toInstant } from '#core/calendar/dates.ts'
import type { Template } from '#core/templates/template.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import { taskRows } from '../areas/tasks/rows.ts'
import { openDatabase, type Database } from '../database/open.ts'
import { handClock, type HandClock } from '../engine/clock.ts'
import { assemble } from '../assembly.ts'
import type { Runner } from '../engine/runner.ts'
import type { Engine } from '../engine/services.ts'
import type { Viewer } from '../engine/viewer.ts'

export const ENGINE = { kind: 'engine', id: null } as const
/** A moment in London, written local. */
export const london = (local: string): number =>
  toInstant(local.slice(0, 10) as never, local.slice(11) as never, 'Europe/London')

export interface Lab {
  readonly db: Database
  readonly clock: HandClock
  readonly engine: Engine
  readonly runner: Runner
  /** Imogen manages, Tobias and Devika are members, Corrie is a contractor. */
  readonly imogen: Viewer
  readonly tobias: Viewer
  readonly devika: Viewer
  readonly corrie: Viewer
  readonly client: number
  readonly team: number
  /** Moves the clock from alarm to alarm, as time would. */
  until(local: string): void
  rows<T = Record<string, unknown>>(sql: string, ...args: unknown[]): T[]
  /** The number of the newest change. */
  latest(): number
  /** The rows of a project's tasks in their order, as somebody sees them. */
  tasksIn(projectId: number, viewer?: Viewer): TaskRow[]
}

/** Who and what there is in every lab. */
interface Cast {
  readonly imogen: number
  readonly tobias: number
  readonly devika: number
  readonly corrie: number
  readonly client: number
  readonly team: number
}

/** Founds the firm that every lab is. */
function found(db: Database): Cast {
  const { engine } = assemble(db, handClock(london('2026-11-23T08:00')))
  return engine.journal.change(ENGINE, (write) => {
    write.insert('firm', {
      id: 1,
      name: 'Quillhaven',
      zone: 'Europe/London',
      week: ['MO', 'TU', 'WE', 'TH', 'FR'],
      hours: { MO: 450, TU: 450, WE: 450, TH: 450, FR: 450 },
      demo: true,
    })
    for (const date of ['2026-12-25', '2026-12-28', '2027-01-01'])
      write.insert('holidays', { date: isoDate(date), name: 'Bank holiday' })
    const client = write.insert('clients', {
      name: 'Mossgate Veterinary Clinic',
      short: 'Mossgate',
      tier: 'gold',
    })
    const person = (name: string, access: Viewer['access']) =>
      write.insert('people', { name, email: `${name.toLowerCase()}@quillhaven.example`, access })
    const ids = {
      imogen: person('Imogen', 'manager'),
      tobias: person('Tobias', 'member'),
      devika: person('Devika', 'member'),
      corrie: person('Corrie', 'contractor'),
    }
    const team = write.insert('teams', { name: 'Accounts' })
    for (const personId of [ids.tobias, ids.devika])
      write.insert('teamMembers', { teamId: team, personId })
    return { ...ids, client, team }
  }).result
}
/** Founded once for all labs in memory: each is a copy. */
let first: { readonly db: Database; readonly cast: Cast } | undefined
function ownCopy(): { db: Database; cast: Cast } {
  if (!first) {
    const db = openDatabase(':memory:')
    first = { db, cast: found(db) }
  }
  return { db: first.db.copy(), cast: first.cast }
}
function inFile(file: string): { db: Database; cast: Cast } {
  const db = openDatabase(file)
  return { db, cast: found(db) }
}

/** A firm in memory with a clock that stands on Monday 23 November 2026, 08:00. */
export function lab(options: { now?: string; file?: string } = {}): Lab {
  const { db, cast } = options.file === undefined ? ownCopy() : inFile(options.file)
  const clock = handClock(london(options.now ?? '2026-11-23T08:00'))
  const { engine, runner } = assemble(db, clock)
  const viewer = (id: number, name: string, access: Viewer['access']): Viewer => ({
    id,
    name,
    access,
    clientId: null,
  })
  const imogen = viewer(cast.imogen, 'Imogen', 'manager')
  const inOrder = db.sqlite
    .prepare(
      'select id from tasks where projectId = ? and archivedAt is null order by position, id',
    )
    .pluck()
  return {
    ...{ db, clock, engine, runner, imogen },
    tobias: viewer(cast.tobias, 'Tobias', 'member'),
    devika: viewer(cast.devika, 'Devika', 'member'),
    corrie: viewer(cast.corrie, 'Corrie', 'contractor'),
    client: cast.client,
    team: cast.team,
    until: (local) => runner.runUntil(london(local)),
    latest: () => Number(db.sqlite.prepare('select max("change") from journal').pluck().get()),
    tasksIn: (id, who) => taskRows(engine, who ?? imogen, inOrder.all(id) as number[]),
    rows: <T>(sql: string, ...args: unknown[]) => db.sqlite.prepare(sql).all(...args) as T[],
  }
}

/** A template of three tasks and two roles, counted back from a deadline. */
export const BOOKS: Template = {
  name: 'Month-end books',
  anchor: 'deadline',
  roles: [
    { key: 'keeper', name: 'Bookkeeper' },
    { key: 'reviewer', name: 'Reviewer' },
  ],
  phases: [
    {
      key: 'gather',
      name: 'Gather',
      tasks: [
        { key: 'ask', title: 'Ask for statements', role: 'keeper', effort: 20, due: { days: -5 } },
      ],
    },
    {
      key: 'close',
      name: 'Close',
      tasks: [
        {
          key: 'post',
          title: 'Post takings',
          role: 'keeper',
          effort: 90,
          start: { days: -3 },
          due: { days: -2 },
          checklist: ['Cash', 'Cards'],
        },
        {
          key: 'review',
          title: 'Review',
          role: 'reviewer',
          effort: 60,
          due: { days: 0, time: '12:00' as never },
        },
      ],
    },
  ],
}

export const LADDER = (who: { team: number; boss: number }): RuleDefinition => ({
  trigger: { kind: 'late' },
  conditions: { match: 'all', of: [{ field: 'kind', op: 'not-in', value: ['in-review'] }] },
  rungs: [
    {
      key: 'one',
      delay: { days: 1, unit: 'working', time: '09:00' },
      actions: [
        {
          kind: 'remind',
          who: { is: 'assignees' },
          daily: true,
          text: '{task} is {days late} late',
        },
      ],
    },
    {
      key: 'two',
      delay: { days: 3, unit: 'working', time: '09:00' },
      actions: [
        {
          kind: 'tell',
          who: { is: 'person', id: who.boss },
          mail: true,
          text: '{task} for {client} is {days late} late',
        },
      ],
    },
    {
      key: 'three',
      delay: { days: 5, unit: 'working', time: '09:00' },
      actions: [
        { kind: 'assign', who: { is: 'team', id: who.team } },
        { kind: 'set-priority', to: 'urgent' },
        { kind: 'make-task', title: 'Call about {task}', who: { is: 'person', id: who.boss } },
      ],
    },
  ],
})
