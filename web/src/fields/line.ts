import type { IsoDate } from '#core/brands.ts'
import { joined } from '#core/fields/parse.ts'
import { capture, type Captured } from '#core/text/capture.ts'
import type { NewTask, TaskPatch } from '#contract/tasks.ts'
import { PRIORITY_NAMES } from '#contract/words.ts'
import { sayDateAt, sayMinutes } from '#web/parts/say.ts'
import type { Known } from './known.ts'
import { writtenFields } from './read.ts'
import { sayPatch } from './versions.ts'

/** One line that a task is noted in, read with the names that the firm knows. */
export const readLine = (known: Known, text: string): Captured => {
  const { people, clients, projects, tags } = known.directory
  return capture(
    text,
    {
      people: people
        .filter((p) => p.active)
        .map((p) => ({ id: p.id, names: [p.name, p.name.split(' ')[0]!] })),
      clients: clients.map((c) => ({ id: c.id, names: [c.name, c.short] })),
      projects: projects.map((p) => ({ id: p.id, names: [p.name] })),
      tags: tags.map((t) => ({ id: t.id, names: [t.name] })),
      fields: writtenFields(known),
    },
    known.today as IsoDate,
  )
}

/** What was understood of a line besides its title, in words: “due Fri 27 Nov, 15:00”, “30m”. */
export function sayLine(known: Known, line: Captured): string[] {
  const name = (list: readonly { id: number; name: string }[], id: number) =>
    list.find((each) => each.id === id)?.name ?? ''
  const { directory } = known
  return [
    line.clientId ? name(directory.clients, line.clientId) : '',
    line.projectId ? name(directory.projects, line.projectId) : '',
    line.due ? `due ${sayDateAt(line.due, line.time, known)}` : '',
    line.estimate ? sayMinutes(line.estimate) : '',
    line.priority ? PRIORITY_NAMES[line.priority] : '',
    line.people.map((id) => name(directory.people, id)).join(' and '),
    ...line.tags.map((id) => `#${name(directory.tags, id)}`),
    ...line.edits.map((edit) => sayPatch(known, edit)),
  ].filter(Boolean)
}

/** Where a task stands; a client or project that a line names takes the place of the one it is in. */
function placeOf(line: Captured, { projectId, clientId, phaseId, parentId }: Partial<NewTask>) {
  // A subtask is where its task is.
  if (parentId) return { parentId }
  if (line.projectId !== null) return { projectId: line.projectId }
  if (line.clientId !== null) return { clientId: line.clientId }
  return defined({ projectId, clientId, phaseId })
}
/** What was said of it, and nothing of what was not. */
const saidIn = (line: Captured) =>
  defined({
    due: line.due ?? undefined,
    dueTime: line.time ?? undefined,
    estimate: line.estimate ?? undefined,
    priority: line.priority ?? undefined,
    assignees: line.people.length ? [...line.people] : undefined,
    tags: line.tags.length ? [...line.tags] : undefined,
  })
const defined = <T extends object>(all: T): { [K in keyof T]?: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)) as never

/** The task that a line asks for: what it says goes before what it `begins` with where it stands. */
export function taskOfLine(line: Captured, begins: Partial<NewTask>): NewTask {
  const { projectId: _project, clientId: _client, phaseId: _phase, ...rest } = begins
  const set = line.edits.reduce<TaskPatch>((all, edit) => joined(all, edit), {})
  const title = line.title.slice(0, 200)
  return { ...rest, ...placeOf(line, begins), title, ...saidIn(line), ...set }
}

/** Where a series that a line asks for is made, with what the line says. */
export function seriesOfLine(line: Captured, begins: Partial<NewTask>): string {
  const task = taskOfLine(line, begins)
  const query = new URLSearchParams({ title: task.title, every: JSON.stringify(line.every) })
  const { due, dueTime, estimate, clientId, projectId, assignees } = task
  const more = { due, dueTime, estimate, client: clientId, project: projectId }
  for (const [key, value] of Object.entries(more))
    if (value !== null && value !== undefined) query.set(key, String(value))
  if (assignees?.length) query.set('on', assignees.join(','))
  return `/clockwork/series/new?${query.toString()}`
}
