import { daysLate } from '../calendar/calendar.ts'
import {
  isoDate,
  localStamp,
  localTime,
  quote,
  stamp,
  toInstant,
  toLocal,
  zoneName,
} from '../calendar/dates.ts'
import type { Lookup, Now } from '../conditions/ask.ts'
import { explain } from '../conditions/compile.ts'
import type { Condition, Operand } from '../conditions/condition.ts'
import { taskField } from '../fields/catalogue.ts'
import type { TaskFacts } from '../fields/facts.ts'
import { field, WAS, type Field } from '../fields/field.ts'
import { FIELD_TYPES, type FieldType, type Single, type Value } from '../fields/types.ts'
import { PERIODS } from '../query/when.ts'
import { refuse } from '../refusal.ts'
import { missedAt, rungAt, RUNG_TIME, type Due } from '../rules/ladder.ts'
import { calendarOf, list, oneOf, record, text, whole, type Line } from './input.ts'

const UNITS = ['working', 'calendar'] as const

/** When the rungs of a ladder fire for a due, in the order they fire; none once it was closed. */
export function ladder(line: Line): object {
  const due = localStamp(text(line['due'], 'due'), 'due')
  const zone = zoneName(line['zone'] ?? 'UTC')
  const calendar = calendarOf(line['calendar'])
  const unit = oneOf(line['count'] ?? 'working', UNITS, 'count')
  const time = localTime(line['time'] ?? RUNG_TIME, 'time')
  const given = line['closed'] ?? null
  const shut = given === null ? null : localStamp(text(given, 'closed'), 'closed')
  const closed = shut && toInstant(shut.date, shut.time, zone)
  const fires = list(line['rungs'], 'rungs')
    .map((rung, i) => whole(rung, `rungs[${i}]`, 1, 100_000))
    .map((rung) => ({ rung, at: rungAt({ days: rung, unit, time }, due, calendar, zone) }))
    .filter(({ at }) => closed === null || at < closed)
    .sort((a, b) => a.at - b.at || a.rung - b.rung)
  return { fires: fires.map(({ rung, at }) => ({ rung, at: localAt(at, zone) })) }
}
function localAt(at: number, zone: string): string {
  const { date, time } = toLocal(at, zone)
  return stamp(date, time)
}

/** An operand as the contract writes it, as conditions hold it. */
function operand(value: unknown): Operand {
  if (!isRecord(value)) return value as Operand
  const { now, period, shift } = value
  if (period !== undefined)
    return {
      period: oneOf(period, PERIODS, 'value.period'),
      shift: whole(shift ?? 0, 'value.shift', -1_200, 1_200),
    }
  const { days, unit } = record(now, 'value.now')
  return {
    days: whole(days ?? 0, 'value.now.days', -100_000, 100_000),
    working: oneOf(unit ?? 'calendar', UNITS, 'value.now.unit') === 'working',
  }
}
/** As deep as groups stand in each other. */
const DEEPEST = 40
const MATCHES = ['all', 'any', 'none'] as const
/** Reads a condition; what each test was written as is put down in `given`. */
function conditionOf(
  value: unknown,
  place: string,
  given: Map<Condition, Line>,
  depth = 0,
): Condition {
  if (depth > DEEPEST) refuse('bad-input', `conditions: groups stand at most ${DEEPEST} deep.`)
  const of = record(value, place)
  if (of['match'] === undefined) {
    const test = {
      field: text(of['field'], `${place}.field`),
      op: text(of['op'], `${place}.op`) as never,
      ...(of['value'] !== undefined && { value: operand(of['value']) }),
    }
    given.set(test, of)
    return test
  }
  return {
    match: oneOf(of['match'], MATCHES, `${place}.match`),
    of: list(of['of'], `${place}.of`).map((each, i) =>
      conditionOf(each, `${place}.of[${i}]`, given, depth + 1),
    ),
  }
}

/** What an item says of a field: under its path, or along it. */
function found(item: Line, path: string): unknown {
  if (Object.hasOwn(item, path)) return item[path]
  const [first = '', ...rest] = path.split('.')
  if (rest.length === 0 || !Object.hasOwn(item, first)) return undefined
  const next = item[first]
  const on = rest.join('.')
  if (Array.isArray(next))
    return next.flatMap((each) => (isRecord(each) ? (found(each, on) ?? []) : []))
  return isRecord(next) ? found(next, on) : undefined
}
const isRecord = (value: unknown): value is Line =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

interface Given {
  readonly raw: unknown
  readonly place: string
  readonly zone: string
}
type Read = (given: Given) => Single
const reading =
  (want: string, read: (raw: unknown) => Single | undefined): Read =>
  ({ raw, place }) =>
    read(raw) ?? refuse('bad-value', `${place}: expected ${want}, found ${quote(raw)}.`, place)
const aThing = reading('a number, or {"id":…,"name":…}', (raw) => {
  const [id, name] = isRecord(raw) ? [raw['id'], raw['name']] : [raw, '']
  return typeof id === 'number' ? { id, name: typeof name === 'string' ? name : '' } : undefined
})
const aMoment: Read = ({ raw, place, zone }) => {
  if (typeof raw === 'number') return raw
  const { date, time } = localStamp(raw, place)
  return toInstant(date, time, zone)
}
const aWord = reading('text', (raw) => (typeof raw === 'string' ? raw : undefined))
const ofType = <T extends 'number' | 'boolean'>(type: T, want: string) =>
  reading(want, (raw) => (typeof raw === type ? (raw as Single) : undefined))
const READ: Readonly<Record<(typeof FIELD_TYPES)[FieldType]['operand'], Read>> = {
  ...{ text: aWord, list: aWord },
  amount: ofType('number', 'a number'),
  truth: ofType('boolean', 'true or false'),
  day: ({ raw, place }) => isoDate(raw, place),
}
/** A value as a field of its type holds it. @throws Refusal `bad-value`, `bad-date` */
function single({ name, type }: Field<'task'>, raw: unknown, zone: string): Single {
  const { operand: kind, numbered } = FIELD_TYPES[type]
  const read = numbered ? aThing : type === 'moment' ? aMoment : READ[kind]
  return read({ raw, zone, place: `item.${name}` })
}
function valueOf(of: Field<'task'>, raw: unknown, zone: string): Value {
  if (raw === undefined || raw === null || raw === '') return of.type === 'yes-no' ? false : null
  if (!of.many) return single(of, raw, zone)
  return (Array.isArray(raw) ? raw : [raw]).map((each) => single(of, each, zone))
}

/** When something is asked, with its time of day. */
interface Asking extends Now {
  readonly at: number
}
const dueOf = (item: Line): Due | null =>
  item['due'] == null
    ? null
    : {
        date: isoDate(item['due'], 'item.due'),
        time: item['due-time'] == null ? null : localTime(item['due-time'], 'item.due-time'),
      }
const isOpen = (item: Line): boolean =>
  item['closed'] == null && item['kind'] !== 'done' && item['kind'] !== 'dropped'
const isLate = (item: Line, { at, zone }: Asking): boolean => {
  const due = dueOf(item)
  return due !== null && isOpen(item) && missedAt(due, zone) <= at
}
/** Fields that follow from others, where the item does not say them itself. */
const FOLLOWS: ReadonlySet<string> = new Set([
  ...['open', 'late', 'days-late', 'days-left', 'weeks-left'],
])
/** What a field reads of what it follows from. */
function following(of: Field<'task'>, item: Line, now: Asking): Value {
  const [due, late] = [dueOf(item), isLate(item, now)]
  const facts = {
    ...{ due: due?.date ?? null, late, closedAt: isOpen(item) ? null : 0 },
    daysLate: late && due ? daysLate(now.calendar, due.date, now.today) : 0,
  }
  return of.read(facts as Partial<TaskFacts> as TaskFacts, now)
}

const TYPES = Object.keys(FIELD_TYPES) as FieldType[]
/** Finds fields whose values are what the item, and what it was before, say of them. */
function lookupIn(line: Line, now: Asking): Lookup {
  const item = record(line['item'] ?? {}, 'item')
  const before = record(line['before'] ?? {}, 'before')
  const types = record(line['types'] ?? {}, 'types')
  return (path) => {
    const was = path.startsWith(WAS)
    const name = was ? path.slice(WAS.length) : path
    const own = Object.hasOwn(types, name) ? types[name] : undefined
    const known =
      own === undefined
        ? taskField(name)
        : field('task', { name, label: name, type: oneOf(own, TYPES, `types.${name}`) })
    if (!known) return refuse('no-field', `There is no field “${name}”; docs/calc.md lists them.`)
    const raw = found(was ? before : item, name)
    const value =
      raw === undefined && !was && FOLLOWS.has(name)
        ? following(known, item, now)
        : valueOf(known, raw, now.zone)
    return { ...known, read: () => value }
  }
}
/** A value as it is told: things by their number, with their name where the item gave one. */
const told = (value: Value): unknown => {
  if (Array.isArray(value)) return value.map(told)
  if (typeof value !== 'object' || value === null || !('id' in value)) return value
  return value.name ? { id: value.id, name: value.name } : value.id
}

/** Whether the conditions of a rule hold of an item, with what every test saw. */
export function rule(line: Line): object {
  const given = new Map<Condition, Line>()
  const wanted = line['conditions'] ?? { match: 'all', of: [] }
  const conditions = conditionOf(wanted, 'conditions', given)
  const zone = zoneName(line['zone'] ?? 'UTC')
  const { date, time } = localStamp(text(line['now'], 'now'), 'now')
  const me = line['me'] == null ? null : whole(line['me'], 'me', 1, Number.MAX_SAFE_INTEGER)
  const now: Asking = {
    ...{ today: date, zone, calendar: calendarOf(line['calendar']), me },
    at: toInstant(date, time, zone),
  }
  const { verdict, faults } = explain(conditions, lookupIn(line, now))
  const [fault] = faults
  if (fault)
    refuse(
      'bad-condition',
      `${['conditions', fault.place].filter(Boolean).join('.')}: ${fault.detail}`,
    )
  const { holds, reasons } = verdict({} as never, now)
  return {
    holds,
    why: reasons.map(({ test, seen, held }) => ({
      ...{ condition: given.get(test), seen: told(seen), holds: held },
    })),
  }
}
