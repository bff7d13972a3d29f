import { isoDate } from '#core/calendar/dates.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { Viewer } from '#server/engine/viewer.ts'
import { whoSeesTask } from '#server/areas/access/who.ts'
import { invite } from '#server/areas/people/invite.ts'
import { taskPage } from '#server/areas/tasks/page.ts'
import { taskSheet } from '#server/areas/tasks/service.ts'
import { ENGINE, house, NOW, race, report } from './house.ts'

/** What seeing costs: 60 teams with 40 projects each, of which somebody sees those of five. */

const TEAMS = 60
const TASKS = 100_000
const h = house()
const viewer = (id: number, access: Viewer['access']): Viewer => ({
  ...{ id, name: `P${id}`, access, clientId: null },
})
const made = h.engine.journal.change(ENGINE, (write) => {
  const people = Array.from({ length: 180 }, (_, i) =>
    write.insert('people', { name: `M${i}`, email: `m${i}@quillhaven.example`, access: 'member' }),
  )
  const teams = Array.from({ length: TEAMS }, (_, i) =>
    write.insert('teams', { name: `Team ${i}` }),
  )
  for (const [i, teamId] of teams.entries())
    for (let n = 0; n < 15; n++)
      write.insert('teamMembers', { teamId, personId: people[(i * 3 + n * 7) % people.length]! })
  const someone = write.insert('people', {
    ...{ name: 'Ines', email: 'ines@quillhaven.example', access: 'member' },
  })
  for (const teamId of teams.slice(10, 15))
    write.insert('teamMembers', { teamId, personId: someone })
  const projects = teams.flatMap((teamId, i) =>
    Array.from({ length: 40 }, (_, n) =>
      write.insert('projects', {
        ...{ name: `Project ${i}-${n}`, audience: 'team', teamId, createdAt: NOW },
      }),
    ),
  )
  for (let i = 0; i < TASKS; i++) {
    const due = new Date(NOW + ((i % 400) - 200) * 86_400_000).toISOString().slice(0, 10)
    const id = write.insert('tasks', {
      title: `Task ${i}`,
      projectId: projects[(i * 7) % projects.length]!,
      ...(i % 5 === 0 ? {} : { stateId: 5, state: 'done' as const, closedAt: NOW - i }),
      ...{ due: isoDate(due), estimate: (i % 12) * 10, position: i, createdAt: NOW - i },
    })
    write.insert('taskAssignees', { taskId: id, personId: people[i % people.length]! })
  }
  return { someone }
}).result
h.db.sqlite.pragma('optimize')
const owner = viewer(h.people[0]!, 'owner')
const member = viewer(made.someone, 'member')

const asked = (open: boolean): TaskQuery => ({
  scope: { of: 'firm' },
  filter: { match: 'all', of: open ? [{ field: 'open', op: 'is', value: true }] : [] },
  ...{ sort: [], group: null, tree: false, sums: [], every: false },
})
for (const open of [true, false]) {
  const page = (who: Viewer) => taskPage(h.engine, who, asked(open), { limit: 100, cursor: null })
  if (page(member).tasks.length !== 100) throw new Error('The page is not full.')
  const [a, b] = await race(
    200,
    () => page(owner),
    () => page(member),
  )
  report(
    `first page of ${open ? 'what is open of ' : ''}100,000 tasks for a member of 5 of 60 teams, ` +
      'against the owner’s',
    b / a,
    1.3,
    `${b.toFixed(2)} ms against ${a.toFixed(2)} ms`,
  )
}
{
  const { id } = taskPage(h.engine, member, asked(true), { limit: 1, cursor: null }).tasks[0]!
  const [a, b] = await race(
    400,
    () => taskSheet(h.engine, owner, id),
    () => whoSeesTask(h.engine, owner, id),
  )
  report(
    '“who sees this” of a task among 200 people, against reading the task',
    b / a,
    3,
    `${b.toFixed(2)} ms against ${a.toFixed(2)} ms`,
  )
}
{
  const people = Array.from({ length: 100 }, (_, i) => ({
    ...{ name: `New ${i}`, email: `new${i}@quillhaven.example`, access: 'member' as const },
  }))
  invite(h.engine, owner, { people, address: 'https://fernwick.example' })
  const changes = h.db.sqlite
    .prepare(
      `select count(distinct "change") from journal where entity = 'people'
        and json_extract(after, '$.email') like 'new%'`,
    )
    .pluck()
    .get()
  report('changes that inviting 100 people makes', Number(changes), 1, '100 people')
}
