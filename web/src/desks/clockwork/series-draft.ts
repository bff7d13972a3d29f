import type { LocationQuery } from 'vue-router'
import { plainText } from '#core/text/rich.ts'
import type { TemplateSummary } from '#contract/clockwork.ts'
import type { Makes, ScheduleBody, SeriesBody } from '#contract/series.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import type { Directory } from '#contract/desks.ts'
import { get } from '#web/api/client.ts'

/** What a new series begins as: out of a task, out of a template, or blank. */

interface Here {
  readonly today: string
  readonly directory: Directory
  readonly me: number
}
type MakesTask = Extract<Makes, { kind: 'task' }>

/** What a task that is repeated hands on, from one to the next. */
const CARRIED = [
  'description',
  'followers',
  'tags',
  'fields',
  'checklist',
  'subtasks',
  'files',
] as const

const PERIOD = { of: 'month', which: 'before' } as const
const schedule = (start: string): ScheduleBody => ({
  start,
  rule: { workday: 5, of: 'month' },
  roll: 'following',
})

const blank = (me: number): MakesTask => ({
  kind: 'task',
  title: '',
  description: '',
  clientId: null,
  projectId: null,
  assignees: [me],
  estimate: null,
  checklist: [],
  period: PERIOD,
})

async function ofTask(id: number, { today, me }: Here): Promise<SeriesBody> {
  const task = await get<TaskSheet>(`/tasks/${id}`)
  return {
    name: task.title,
    leadDays: 3,
    schedule: schedule(today),
    // The next one is as this one is, what hangs on it included.
    ways: { carries: CARRIED },
    makes: {
      ...blank(me),
      like: id,
      title: task.title,
      description: plainText(task.description),
      clientId: task.project ? null : (task.client?.id ?? null),
      projectId: task.project?.id ?? null,
      assignees: task.assignees.map((a) => a.id),
      estimate: task.estimate,
      checklist: task.checklist.map((item) => item.title),
    },
  }
}

async function ofTemplate(
  templateId: number,
  clientId: number | null,
  { today, me, directory }: Here,
): Promise<SeriesBody> {
  const templates = await get<TemplateSummary[]>('/templates')
  const template = templates.find((t) => t.id === templateId)
  const name = template?.name ?? 'Projects'
  const short = directory.clients.find((c) => c.id === clientId)?.short
  return {
    name: [name, short].filter(Boolean).join(', '),
    // A day before its first task begins, so that nothing of it is late at birth.
    leadDays: (template?.reach ?? 11) + 1,
    schedule: schedule(today),
    makes: {
      ...{ kind: 'project', templateId, clientId, leadId: me, roles: {} },
      name: `{client}, ${name.toLowerCase()} {period: MMMM yyyy}`,
      period: PERIOD,
    },
  }
}

/** A rule as it stands in an address; the usual one where that cannot be read. */
function ruleIn(text: unknown): ScheduleBody['rule'] {
  try {
    const rule: unknown = JSON.parse(String(text))
    if (typeof rule === 'string') return rule
    if (typeof rule === 'object' && rule && 'workday' in rule && 'of' in rule)
      return rule as Exclude<ScheduleBody['rule'], string>
  } catch {
    // As below.
  }
  return schedule('').rule
}

/** Of what was typed in one line. */
function ofLine(query: LocationQuery, { today, me }: Here): SeriesBody {
  const said = (name: string) => (typeof query[name] === 'string' ? query[name] : '')
  const people = said('on').split(',').map(Number).filter(Boolean)
  const start = said('due') || today
  return {
    name: said('title'),
    leadDays: 3,
    schedule: {
      ...schedule(said('dueTime') ? `${start}T${said('dueTime')}` : start),
      rule: ruleIn(query['every']),
    },
    makes: {
      ...blank(me),
      title: said('title'),
      clientId: Number(said('client')) || null,
      projectId: Number(said('project')) || null,
      estimate: Number(said('estimate')) || null,
      ...(people.length && { assignees: people }),
    },
  }
}

/** The draft that an address asks for. @throws ApiProblem where what it names is not to be had */
export async function draftSeries(query: LocationQuery, here: Here): Promise<SeriesBody> {
  const [task, template, client] = ['fromTask', 'template', 'client'].map(
    (name) => Number(query[name]) || null,
  ) as [number | null, number | null, number | null]
  if (typeof query['title'] === 'string') return ofLine(query, here)
  if (task) return ofTask(task, here)
  if (template) return ofTemplate(template, client, here)
  return { name: '', leadDays: 3, schedule: schedule(here.today), makes: blank(here.me) }
}
