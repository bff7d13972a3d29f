import type { ClientId, IsoDate, PersonId, RuleId } from '#core/brands.ts'
import { isoDate } from '#core/calendar/dates.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { sayDateAt } from '#core/text/speak.ts'
import type { Who } from '#contract/rules.ts'
import type { NoticeKind } from '#contract/words.ts'
import type { Writer } from '../../../engine/journal.ts'
import type { Engine } from '../../../engine/services.ts'
import { mayHear, type News } from '../../notices/notify.ts'
import { othersContacts } from '../../people/contacts.ts'
import { personById, personName } from '../../people/queries.ts'
import { actingOn } from '../../people/who.ts'
import { assignmentsOf } from '../../tasks/queries.ts'
import { madeByRule, turnOf } from '../queries.ts'
import type { Planned } from '../run.ts'
import type { Subject } from '../subject.ts'
import { resolveWho, type Whom } from '../whom.ts'

/** What one run did and left, and whom it has to tell what: as the run log and notices tell it. */
export interface Account {
  readonly did: string[]
  readonly left: string[]
  /** Why those were chosen whom it had to choose. */
  readonly why: string[]
  readonly news: News[]
}

/** One run of a rule, while it is under way. */
export interface LiveRun {
  readonly engine: Engine
  readonly write: Writer
  readonly rule: { readonly id: RuleId; readonly ownerId: PersonId | null }
  readonly about: Subject
  /** What is known of it; of what is no task, where it stands alone. */
  readonly task: TaskFacts
  /** Fills in merge fields. */
  readonly text: (text: string) => string
  /** Keeps what it does single, whatever restarts. */
  readonly key: string
  readonly account: Account
  /** Whom it chose of a team: the same for all that a run does. */
  readonly chosen: Map<string, Whom>
  readonly planned: Planned
}

/**
 * What an action does: the `nth` of its run. Written as a method, so that those of one kind may stand
 * in a catalogue of all: what is handed to them was found by its kind.
 */
export type Does<A> = { does(run: LiveRun, action: A, nth: number): void }['does']

interface Found {
  readonly people: readonly PersonId[]
  readonly names: string
}
const namesOf = ({ reader }: Engine, ids: readonly PersonId[]): string =>
  ids.map((id) => personName(reader, id)).join(' and ')
const sees = ({ engine, about }: LiveRun, to: PersonId): boolean => mayHear(engine, { to, about })

/** Who acts for whom an action is about on a day: a stand-in who sees the task, else themselves. */
function acting(run: LiveRun, id: PersonId, day: IsoDate): PersonId {
  const { engine, account } = run
  const other = actingOn(engine.reader, id, day)
  if (other === id) return id
  const [name, them] = [namesOf(engine, [other]), namesOf(engine, [id])]
  if (!sees(run, other)) {
    account.left.push(`${name} stands in for ${them}, but does not see this ${run.about.kind}`)
    return id
  }
  account.did.push(`${them} is away, so ${name} stands in`)
  return other
}
/** What it is about: somebody themselves, or whoever acts for them on a day while they are away. */
type On = IsoDate | 'themselves'
/** Who a step is about; of a team, whoever was chosen before in the same run. */
function whom(run: LiveRun, who: Who, day: IsoDate): Whom {
  const { engine, write, rule, task, about, account, chosen } = run
  const key = JSON.stringify([who, day])
  const before = chosen.get(key)
  if (before) return before
  const client: ClientId | null = task.client?.id ?? null
  const found = resolveWho(engine, who, {
    ...{ about, client, day, owner: rule.ownerId, project: task.project?.id ?? null },
    turns: {
      last: (team) => turnOf.get(engine.reader, { id: turnId(rule.id, team) })?.personId ?? null,
      now(team, personId) {
        const id = turnId(rule.id, team)
        if (turnOf.get(engine.reader, { id })) write.update('turns', id, { personId })
        else write.insert('turns', { id, personId })
      },
    },
  })
  if (found.why === null) return found
  account.why.push(found.why)
  chosen.set(key, found)
  return found
}
const turnId = (rule: RuleId, team: number): string => `${rule}:${team}`
/**
 * Whom an action is about, as people; those who left are accounted for. Whoever is away on the day
 * that it is about (today, where none is given) has somebody standing in.
 */
export function whoOf(run: LiveRun, who: Who, day?: On): Found {
  const { engine, task, account } = run
  const on = day ?? engine.firm.today()
  const { people, left } = whom(run, who, on === 'themselves' ? engine.firm.today() : on)
  for (const name of left) account.left.push(`${name} has left, so nothing went there`)
  const others = othersContacts(engine.reader, people, task.client?.id ?? null)
  for (const { name } of others)
    account.left.push(`${name} is a contact of another client, so nothing went there`)
  const own = people
    .filter((id) => !others.some((other) => other.id === id))
    .map((id) => (on === 'themselves' ? id : acting(run, id, on)))
  const each = [...new Set(own)]
  return { people: each, names: namesOf(engine, each) }
}
/** The day that work on the task is about: its due, or today. Who is back by then does it themselves. */
export function dayOf({ engine, task }: LiveRun): IsoDate {
  const [today, due] = [engine.firm.today(), task.due && isoDate(task.due)]
  return due && due > today ? due : today
}
/**
 * Words with their merge fields filled in; nothing, which is accounted for, where they come out empty.
 */
export function worded(run: LiveRun, text: string, most: number): string | null {
  const said = run.text(text).trim().slice(0, most)
  if (said === '') run.account.left.push('Its words came out empty')
  return said || null
}
const TABLES = { task: 'tasks', project: 'projects', client: 'clients' } as const
/**
 * Whether what a run is about was made by a rule: it is reminded of and escalated, but nothing
 * further is made of it.
 */
export function ofARule(run: LiveRun, further: string): boolean {
  const { engine, about, account } = run
  if (!madeByRule.get(engine.reader, { of: TABLES[about.kind], id: about.id })) return false
  account.left.push(`${further}: this one was made by a rule already`)
  return true
}
/** Who is on the task now: an action before may have changed that. */
export const assigned = ({ engine, task }: LiveRun): PersonId[] =>
  assignmentsOf.all(engine.reader, { id: task.id }).map(({ personId }) => personId)
/** Why an action finds nobody. */
const NOBODY: Readonly<Partial<Record<Who['is'], string>>> = {
  lead: 'the project has no lead',
  assignees: 'the task has no owner',
  manager: 'nobody on it has a manager',
  'managers-manager': 'no manager of theirs has one',
  creator: 'nobody is known to have made it',
  followers: 'nobody follows it',
  'client-lead': 'the client has no lead',
  owner: 'the rule has no owner',
  ...{ team: 'the team has nobody', 'team-turn': 'the team has nobody' },
  'team-all': 'the team has nobody',
  role: 'nobody usually does that for the client',
  contact: 'the client has no contact of that title',
}

/** The same, where there must be somebody: nothing where there is nobody, which is accounted for. */
export function someone(run: LiveRun, who: Who, doing: string, day?: On): Found | null {
  const found = whoOf(run, who, day)
  if (found.people.length) return found
  run.account.left.push(`${doing} found nobody (${NOBODY[who.is] ?? who.is})`)
  return null
}

/** The same of whom is to be told: who does not see the task is accounted for, and hears nothing. */
export function listeners(run: LiveRun, who: Who, doing: string, day?: On): Found | null {
  const found = someone(run, who, doing, day)
  if (!found) return null
  const { engine, account } = run
  const people = found.people.filter((to) => sees(run, to))
  const others = found.people.filter((id) => !people.includes(id))
  if (others.length)
    account.left.push(
      `${namesOf(engine, others)} does not see this ${run.about.kind}, and was left out`,
    )
  return people.length ? { people, names: namesOf(engine, people) } : null
}

/** As long as the subject of a mail is. */
const SUBJECT = 90
/** What a message is about, and where it stands, a line each. */
function lines({ about, task, engine: { firm } }: LiveRun): string[] {
  const place = [task.client?.short, task.project?.name].filter(Boolean).join(' · ')
  if (about.kind !== 'task') return [place]
  const due = task.due && `Due ${sayDateAt(task.due, task.dueTime, firm.dates())}`
  return [`Task #${task.id}: ${task.title}`, place, due ?? 'No due date']
}
const LINKS: Readonly<Record<Subject['kind'], (id: number) => string>> = {
  task: (id) => `/today?task=${id}`,
  project: (id) => `/work/${id}`,
  client: (id) => `/clients/${id}`,
}
/** The mail of a message about something. */
function letter(run: LiveRun, text: string) {
  const { about, engine } = run
  const link = engine.address && new URL(LINKS[about.kind](about.id), engine.address).href
  const body = [`${text}\n`, ...lines(run), ...(link ? [link] : [])]
  return {
    subject: text.length > SUBJECT ? `${text.slice(0, SUBJECT - 2)}…` : text,
    body: `${body.join('\n')}\n`,
  }
}

/** Tells people in the application and, if asked, by mail. */
export function tellThem(
  run: LiveRun,
  { people }: Found,
  kind: NoticeKind,
  { text, mail, nth }: { text: string; mail: boolean; nth: number },
): void {
  const { engine, about, account, key } = run
  for (const to of people) {
    const person = mail ? personById.get(engine.reader, { id: to }) : undefined
    account.news.push({
      ...{ to, kind, text, about },
      ...(person && {
        mail: { ...letter(run, text), key: `${key}:${nth}:${to}`, recipient: person.email },
      }),
    })
  }
}
