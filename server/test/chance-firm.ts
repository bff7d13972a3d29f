import { chance } from '#core/test/chance.ts'
import { SHARED, type Access, type Audience, type Level } from '#contract/words.ts'
import { addLink } from '../areas/attachments/service.ts'
import { addPost } from '../areas/projects/posts.ts'
import { addComment } from '../areas/tasks/comments.ts'
import type { Viewer } from '../engine/viewer.ts'
import { ENGINE, lab, type Lab } from './lab.ts'

/** Firms made by chance, to see who sees what in them. */

export interface Somebody {
  readonly viewer: Viewer
  readonly teams: readonly number[]
  readonly left: boolean
}
export interface Given {
  readonly person: number
  readonly may: Level
  readonly project?: number
  readonly phase?: number
  readonly client?: number
}
export interface ProjectMade {
  readonly id: number
  readonly name: string
  readonly audience: Audience
  readonly team: number | null
  readonly lead: number | null
  readonly client: number | null
  readonly phases: readonly number[]
}
export interface TaskMade {
  readonly id: number
  readonly word: string
  readonly project: ProjectMade | null
  readonly phase: number | null
  readonly client: number | null
  readonly on: readonly number[]
  readonly file: number
}
export interface Firm {
  readonly l: Lab
  readonly people: readonly Somebody[]
  readonly projects: readonly ProjectMade[]
  readonly tasks: readonly TaskMade[]
  readonly given: readonly Given[]
}

const WORDS = 'abcdefghijklmnopqrstuvwxyz'
/** A word that stands nowhere else, so that finding it finds one thing. */
const wordFor = (n: number) =>
  `zq${WORDS[Math.floor(n / 26) % 26]}${WORDS[n % 26]}${WORDS[Math.floor(n / 676)]}x`

/** A firm of eleven people, three teams, eight projects and what is shared in them, by chance. */
export function made(seed: number): Firm {
  const l = lab({ now: '2026-11-23T08:00' })
  const { pick, some, next, below } = chance(seed)
  const { result } = l.engine.journal.change(ENGINE, (write) => {
    const clients = [l.client, write.insert('clients', { name: 'Larkmoor', short: 'Larkmoor' })]
    const access: Access[] = [
      ...(['owner', 'manager', 'contractor', 'contractor', 'client', 'client'] as const),
      ...(['member', 'member', 'member', 'member', 'member'] as const),
    ]
    const teams = (['open', 'ask', 'closed'] as const).map((kind) =>
      write.insert('teams', { name: `Team ${kind}`, kind }),
    )
    const people = access.map((each, i): Somebody => {
      const left = each === 'member' && i === access.length - 1
      const clientId = each === 'client' ? pick(clients) : null
      const name = `Person ${i}`
      const id = write.insert('people', {
        ...{ name, email: `p${i}@quillhaven.example`, access: each, clientId, active: !left },
      })
      const own = each === 'member' ? some(teams, 0.4) : []
      for (const teamId of own) write.insert('teamMembers', { teamId, personId: id })
      return { viewer: { id, name, access: each, clientId }, teams: own, left }
    })
    const ids = people.map(({ viewer }) => viewer.id)
    const projects = Array.from({ length: 8 }, (_, i): ProjectMade => {
      const audience = pick(['firm', 'team', 'named', 'named'] as const)
      const team = audience === 'team' ? pick(teams) : null
      const lead = next() < 0.3 ? pick(ids) : null
      const client = next() < 0.6 ? pick(clients) : null
      const name = `Project ${wordFor(600 + i)}`
      const id = write.insert('projects', {
        ...{ name, audience, teamId: team, leadId: lead, clientId: client, createdAt: write.at },
      })
      const phases = ['Gather', 'Check'].map((phase, position) =>
        write.insert('phases', { projectId: id, name: phase, position }),
      )
      return { id, name, audience, team, lead, client, phases }
    })
    const given: Given[] = []
    const shared = new Set<string>()
    for (let i = 0; i < 14; i++) {
      const person = pick(ids)
      const project = pick(projects)
      const on = pick([
        { project: project.id },
        { project: project.id, phase: pick(project.phases) },
        { client: pick(clients) },
      ])
      const key = JSON.stringify([person, on])
      if (shared.has(key)) continue
      shared.add(key)
      const may = pick(SHARED)
      given.push({ person, may, ...on })
      write.insert('shares', {
        ...{ personId: person, may },
        ...('client' in on ? { clientId: on.client } : { projectId: on.project }),
        ...('phase' in on && { phaseId: on.phase }),
      })
    }
    const tasks = Array.from({ length: 28 }, (_, i): TaskMade => {
      const project = next() < 0.8 ? pick(projects) : null
      const phase = project && next() < 0.6 ? pick(project.phases) : null
      const client = project === null && next() < 0.6 ? pick(clients) : null
      const on = next() < 0.4 ? some(ids, 0.15) : []
      const word = wordFor(i)
      const id = write.insert('tasks', {
        ...{ title: `Task ${word}`, projectId: project?.id ?? null, phaseId: phase },
        ...{ clientId: client, position: below(50), createdAt: write.at },
      })
      for (const personId of on) write.insert('taskAssignees', { taskId: id, personId })
      return { ...{ id, word, project, phase, client, on }, file: 0 }
    })
    return { people, projects, tasks, given }
  })
  const boss = result.people[1]!.viewer
  const tasks = result.tasks.map((task) => {
    addComment(l.engine, boss, task.id, `<p>said ${task.word}said</p>`)
    const link = { name: `Plan ${task.word}`, url: 'https://quillhaven.example' }
    return { ...task, file: addLink(l.engine, boss, { taskId: task.id }, link).result.id }
  })
  for (const { id } of result.projects)
    addPost(l.engine, boss, id, { body: `<p>About ${id}</p>`, health: null })
  return { l, ...result, tasks }
}
