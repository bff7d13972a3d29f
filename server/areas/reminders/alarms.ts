import type { IsoDate, PersonId, TaskId } from '#core/brands.ts'
import { isoDate, localTime } from '#core/calendar/dates.ts'
import { firstDay, nextTurn, type OwnTime, type Turn } from '#core/rules/remind.ts'
import { sayDateAt } from '#core/text/speak.ts'
import type { Reader } from '../../database/query.ts'
import type { Clock } from '../../engine/clock.ts'
import type { Firm } from '../../engine/firm.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Deriver, type Entry, type Writer } from '../../engine/journal.ts'
import { alarmById, alarmByKey, dueOfKind, type AlarmRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { mayHear, notify, type News } from '../notices/notify.ts'
import { personById } from '../people/queries.ts'
import { actingOn } from '../people/who.ts'
import { justMade } from '../tasks/derived.ts'
import { rests } from '../tasks/rest.ts'
import {
  onTask,
  ownWays,
  reminderById,
  remindersOf,
  wasReminded,
  type Reminder,
} from './queries.ts'

/** Reminders of tasks: one alarm for each, at the next moment that it comes to anybody. */

interface Placing {
  readonly reader: Reader
  readonly clock: Clock
  readonly firm: Firm
}

/** Somebody's own time; nothing for who has left. */
function ownTime({ reader, firm }: Placing, id: PersonId): OwnTime | null {
  const found = ownWays.get(reader, { id })
  if (!found?.active) return null
  const { zone, quiet } = found.ways ?? {}
  return {
    zone: zone ?? firm.zone(),
    calendar: firm.calendarOf(id),
    quiet: quiet ? { from: localTime(quiet.from), to: localTime(quiet.to) } : null,
  }
}
/** Whom a reminder is for, as things stand. */
const remindedBy = ({ reader }: Placing, { taskId, assignees, people }: Reminder): PersonId[] => [
  ...new Set([
    ...(assignees ? onTask.all(reader, { task: taskId }).map(({ id }) => id) : []),
    ...people,
  ]),
]
/** The first day that a reminder comes to somebody; nothing while its task has no such date. */
function beginsOn({ when, task }: Reminder, own: OwnTime): IsoDate | null {
  if (when.kind === 'at') return isoDate(when.date)
  const date = task[when.field]
  return date === null ? null : firstDay(when, isoDate(date), own)
}
/** When a reminder comes to somebody next after a moment. */
function turnOf(placing: Placing, reminder: Reminder, id: PersonId, after: number): Turn | null {
  const own = ownTime(placing, id)
  const first = own && beginsOn(reminder, own)
  if (!own || !first) return null
  const { when, daily } = reminder
  return nextTurn({ first, time: localTime(when.time), daily }, own, after)
}
/** When a reminder comes next to anybody; null where it does not come any more. */
export function nextOf(placing: Placing, reminder: Reminder, after: number): number | null {
  const { closedAt, archivedAt } = reminder.task
  if (closedAt !== null || archivedAt !== null) return null
  const all = remindedBy(placing, reminder).flatMap(
    (id) => turnOf(placing, reminder, id, after)?.at ?? [],
  )
  return all.length ? Math.min(...all) : null
}

const KEY = 'reminder:'
const keyOf = (id: number): string => `${KEY}${id}`
const idOf = (key: string): number => Number(key.slice(KEY.length))
/** Puts up the alarm of a reminder anew. */
function plan(placing: Placing, write: Writer, id: number, after: number): void {
  const { reader } = placing
  const old = alarmByKey.get(reader, { key: keyOf(id) })
  const reminder = reminderById.get(reader, { id })
  const at = reminder ? nextOf(placing, reminder, after) : null
  if (old && at !== null) write.update('alarms', old, { at })
  else if (old) write.remove('alarms', old.id)
  else if (reminder && at !== null)
    write.insert('alarms', {
      ...{ at, kind: 'reminder', key: keyOf(id), itemKind: 'task', itemId: reminder.taskId },
    })
}

/** Passes by what came due: every reminder waits for its next turn. */
export function passReminders(engine: Engine, write: Writer): void {
  const now = engine.clock.now()
  for (const { key } of dueOfKind.all(engine.reader, { kind: 'reminder', now }))
    plan(engine, write, idOf(key), now)
}

const MOVES = ['due', 'start', 'closedAt', 'archivedAt']
/** The tasks whose reminders a change moves. */
const movedBy = ({ entity, action, after, item }: Entry): TaskId[] => {
  const moves =
    entity === 'taskAssignees' ||
    (entity === 'tasks' && action === 'changed' && MOVES.some((column) => after && column in after))
  return moves && item?.kind === 'task' ? [item.id] : []
}
/** Keeps the alarms of reminders in step with them, their tasks and who is on these. */
export function reminderAlarms(reader: Reader, clock: Clock, firm: Firm): Deriver {
  const placing: Placing = { reader, clock, firm }
  return (write, entries) => {
    const own = entries
      .filter(({ entity }) => entity === 'reminders')
      .map((entry) => entry.entityId)
    // Those of a task that was just made are among what was written with it.
    const made = justMade(entries)
    const moved = [...new Set(entries.flatMap(movedBy))].filter((task) => !made.has(task))
    const theirs = moved.flatMap((task) => remindersOf.all(reader, { task }).map(({ id }) => id))
    for (const id of new Set([...own, ...theirs])) plan(placing, write, id, clock.now())
  }
}

/** What a reminder says, where nothing else was written. */
function said({ firm }: Engine, { text, task }: Reminder): string {
  if (text) return text
  return task.due
    ? `${task.title}: due ${sayDateAt(task.due, task.dueTime, { ...firm.dates(), today: firm.today() })}`
    : task.title
}
/** Whose turn it is now, and whom they are told in the place of. */
function due(engine: Engine, reminder: Reminder, from: number) {
  const { reader, clock, firm } = engine
  return remindedBy(engine, reminder).flatMap((person) => {
    const turn = turnOf(engine, reminder, person, from - 1)
    if (!turn || turn.at > clock.now()) return []
    if (wasReminded.get(reader, { reminder: reminder.id, person, day: turn.day })) return []
    const to = actingOn(reader, person, firm.today())
    return mayHear(engine, { to, about: { kind: 'task', id: reminder.taskId } })
      ? [{ person, to, day: turn.day }]
      : []
  })
}
function remind(engine: Engine, alarm: AlarmRow): void {
  const { reader, journal, address } = engine
  const id = idOf(alarm.key)
  const reminder = reminderById.get(reader, { id })
  journal.change(ENGINE, (write) => {
    const quiet = !reminder || rests(reader, reminder.taskId)
    const turns = quiet ? [] : due(engine, reminder, alarm.at)
    const text = reminder ? said(engine, reminder) : ''
    const news = turns.map(({ person, to, day }): News => {
      write.insert('reminded', { reminderId: id, personId: person, day, at: write.at })
      const recipient = personById.get(reader, { id: to })?.email
      const link = address ? `${new URL(`/today?task=${alarm.itemId}`, address).href}\n` : ''
      return {
        ...{ to, kind: 'reminder', text, about: { kind: 'task', id: alarm.itemId } },
        ...(recipient !== undefined && {
          mail: {
            ...{ recipient, key: `${alarm.key}:${person}:${day}`, body: `${text}\n${link}` },
            subject: text.slice(0, 90),
          },
        }),
      }
    })
    notify(engine, write, news)
    plan(engine, write, id, engine.clock.now())
  })
}
const HOUR = 3_600_000
export const reminderKind: AlarmKind = {
  kind: 'reminder',
  run: remind,
  failed({ journal, reader }, alarm) {
    journal.change(ENGINE, (write) => {
      const left = alarmById.get(reader, { id: alarm.id })
      if (left) write.update('alarms', left, { at: write.at + HOUR })
    })
  },
}
