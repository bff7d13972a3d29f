import type { PersonId, RunId } from '#core/brands.ts'
import { workingDayAfter } from '#core/calendar/calendar.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Action } from '#contract/rules.ts'
import type { NoticeKind } from '#contract/words.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { personById, personName, resolveWho } from '../people/queries.ts'
import { setAssignees } from '../tasks/links.ts'
import { insertTask, needContext, patchTask } from '../tasks/write.ts'
import { madeByRule, type RuleRecord } from './queries.ts'
import type { LateTask } from './climb.ts'

/** What one run did, as the run log tells it. */
export interface Account {
  readonly done: string[]
  readonly notes: string[]
}

/** One run of a rule on a task, while it is under way. */
export interface LiveRun {
  readonly engine: Engine
  readonly write: Writer
  readonly rule: RuleRecord
  readonly task: LateTask
  /** Fills in merge fields. */
  readonly text: (text: string) => string
  readonly runId: RunId
  /** Keeps what it does single, whatever restarts. */
  readonly key: string
  readonly account: Account
}

interface Told {
  readonly people: readonly PersonId[]
  readonly names: string
}

type WithWho = Extract<Action, { who: unknown }>

function whoOf({ engine, rule, task, account }: LiveRun, action: WithWho): Told {
  const { people, left } = resolveWho(engine, action.who, task.id, rule.ownerId)
  for (const name of left) account.notes.push(`${name} has left, so nothing went there`)
  const names = people.map((id) => personName(engine.reader, id)).join(' and ')
  return { people, names }
}

/** As long as the subject of a mail is. */
const SUBJECT = 90

/** The mail of a message about a task. */
function letter({ task }: LiveRun, text: string) {
  const place = [task.client?.short, task.project].filter(Boolean).join(' · ')
  const due = `Due ${sayDate(task.due)}${task.dueTime ? `, ${task.dueTime}` : ''}`
  return {
    subject: text.length > SUBJECT ? `${text.slice(0, SUBJECT - 2)}…` : text,
    body: `${text}\n\nTask #${task.id}: ${task.title}\n${place}\n${due}\n`,
  }
}

/** Tells people in the application and, if asked, by mail. */
function tell(
  running: LiveRun,
  to: Told,
  kind: NoticeKind,
  { text, mail, nth }: { text: string; mail: boolean; nth: number },
): void {
  const { engine, write, task, runId, key } = running
  for (const personId of to.people) {
    write.insert('notices', {
      personId,
      kind,
      body: text,
      itemKind: 'task',
      itemId: task.id,
      runId,
      at: write.at,
    })
    const person = mail ? personById.get(engine.reader, { id: personId }) : undefined
    if (person)
      write.insert('outbox', {
        ...letter(running, text),
        key: `${key}:${nth}:${personId}`,
        recipient: person.email,
        nextAt: write.at,
        createdAt: write.at,
        change: write.change,
      })
  }
}

const DOING = { remind: 'Reminding', tell: 'Telling', assign: 'Assigning' }
/** Why an action finds nobody. */
const nobody = ({ is }: WithWho['who']): string =>
  is === 'lead' ? 'the project has no lead' : is === 'assignees' ? 'the task has no owner' : is

function makeTask(running: LiveRun, title: string, to: Told): void {
  const { engine, write, rule, task, account } = running
  // A follow-up that is late itself is reminded of and escalated, but gets none of its own.
  if (madeByRule.get(engine.reader, { task: task.id })) {
    account.notes.push('No further task: this one was made by a rule already')
    return
  }
  const id = insertTask(engine, write, {
    title,
    assignees: [...to.people],
    projectId: task.projectId,
    clientId: task.client?.id ?? null,
    due: workingDayAfter(engine.firm.calendar(), engine.firm.today(), 1),
    creatorId: rule.ownerId,
  })
  account.done.push(`Made task #${id} “${title}”${to.names ? ` for ${to.names}` : ''}`)
}

/** Does the `nth` action of a run, and accounts for it. */
export function act(running: LiveRun, action: Action, nth: number): void {
  const { engine, write, task, text, account } = running
  if (action.kind === 'set-priority') {
    patchTask(engine, write, needContext(engine, task.id), { priority: action.to })
    account.done.push(`Set priority ${action.to}`)
    return
  }
  const to = whoOf(running, action)
  if (action.kind === 'make-task') return makeTask(running, text(action.title), to)
  if (to.people.length === 0) {
    account.notes.push(`${DOING[action.kind]} found nobody (${nobody(action.who)})`)
    return
  }
  switch (action.kind) {
    case 'remind':
      tell(running, to, 'reminder', { text: text(action.text), mail: true, nth })
      account.done.push(`Reminded ${to.names}`)
      break
    case 'tell':
      tell(running, to, 'escalation', { text: text(action.text), mail: action.mail, nth })
      account.done.push(`Told ${to.names}`)
      break
    case 'assign':
      setAssignees(engine, write, task.id, to.people)
      account.done.push(`Assigned ${to.names}`)
  }
}
