import type { IsoDate } from '#core/brands.ts'
import { readMinutes, readWhen } from '#core/text/read.ts'
import { plural, sayDate, sayMinutes } from '#core/text/speak.ts'
import type { BulkBody } from '#contract/tasks.ts'
import type { Directory } from '#contract/desks.ts'
import { PRIORITIES, PRIORITY_NAMES, STATE_NAMES, STATES } from '#contract/words.ts'

/** Something that can be done with tasks, by its name. */
export interface Deed {
  readonly key: string
  readonly name: string
  readonly body: Omit<BulkBody, 'ids'>
}

/**
 * Everything one line can do with tasks: states, priorities, people, tags, projects, fields by what
 * the firm has; dates, lengths and numbers of days by what is written after the word ("due fri
 * 3pm", "on 3", "estimate 45m"). `setId` is the set of states they share, null where they stand in
 * several.
 */
export function deedsFor(
  directory: Directory,
  me: number,
  today: string,
  setId: number | null,
  words: string,
): Deed[] {
  const people = directory.people.filter((p) => p.active)
  const states =
    setId === null
      ? STATES.map((kind): Deed => ({
          key: `s-${kind}`,
          name: `State: ${STATE_NAMES[kind]}`,
          body: { set: { state: kind } },
        }))
      : directory.states
          .filter((s) => s.setId === setId)
          .map((s): Deed => ({
            key: `s-${s.id}`,
            name: `State: ${s.name}`,
            body: { set: { stateId: s.id } },
          }))
  return [
    ...written(words, today),
    { key: 'slipped', name: 'Bring what slipped to today', body: { slipped: true } },
    { key: 'on-1', name: 'On by 1 working day', body: { shift: { days: 1, working: true } } },
    { key: 'back-1', name: 'Back by 1 working day', body: { shift: { days: -1, working: true } } },
    ...states,
    ...PRIORITIES.map((p): Deed => ({
      key: `p-${p}`,
      name: `Priority: ${PRIORITY_NAMES[p]}`,
      body: { set: { priority: p } },
    })),
    { key: 'me', name: 'Put me on', body: { addAssignees: [me] } },
    ...people.flatMap((p): Deed[] => [
      { key: `a-${p.id}`, name: `Put ${p.name} on`, body: { addAssignees: [p.id] } },
      {
        key: `only-${p.id}`,
        name: `Hand to ${p.name} alone`,
        body: { set: { assignees: [p.id] } },
      },
      { key: `r-${p.id}`, name: `Take ${p.name} off`, body: { removeAssignees: [p.id] } },
      { key: `f-${p.id}`, name: `Let ${p.name} follow`, body: { addFollowers: [p.id] } },
    ]),
    ...directory.tags.flatMap((t): Deed[] => [
      { key: `t-${t.id}`, name: `Tag as “${t.name}”`, body: { addTags: [t.id] } },
      { key: `u-${t.id}`, name: `Take off the tag “${t.name}”`, body: { removeTags: [t.id] } },
    ]),
    ...directory.projects.map((p): Deed => ({
      key: `m-${p.id}`,
      name: `Move to ${p.name}`,
      body: { set: { projectId: p.id } },
    })),
    { key: 'no-due', name: 'Due: no date', body: { set: { due: null } } },
    { key: 'archive', name: 'Archive', body: { set: { archived: true } } },
  ]
}

type Said = Omit<Deed, 'key'> | null

function writtenDue(rest: string, today: string): Said {
  const when = readWhen(rest, today as IsoDate)
  if (!when) return null
  const { date, time } = when
  return {
    name: `Due: ${sayDate(date, today)}${time ? `, ${time}` : ''}`,
    body: { set: { due: date, ...(time && { dueTime: time }) } },
  }
}

function writtenStart(rest: string, today: string): Said {
  const when = readWhen(rest, today as IsoDate)
  if (!when || when.time) return null
  return { name: `Start: ${sayDate(when.date, today)}`, body: { set: { start: when.date } } }
}

function writtenEstimate(rest: string): Said {
  const minutes = readMinutes(rest, true)
  if (minutes === null) return null
  return { name: `Estimate: ${sayMinutes(minutes)}`, body: { set: { estimate: minutes } } }
}

const writtenShift =
  (name: string, sign: 1 | -1) =>
  (rest: string): Said => {
    const days = Number(/^(\d{1,3})(?: (?:working )?days?)?$/i.exec(rest)?.[1] ?? 0)
    if (!days) return null
    return {
      name: `${name} by ${plural(days, 'working day')}`,
      body: { shift: { days: sign * days, working: true } },
    }
  }

const WRITTEN: ReadonlyMap<string, (rest: string, today: string) => Said> = new Map([
  ['due', writtenDue],
  ['start', writtenStart],
  ['estimate', writtenEstimate],
  ['on', writtenShift('On', 1)],
  ['back', writtenShift('Back', -1)],
])

/**
 * What the words themselves say: a date after "due" or "start", a length after "estimate", a number
 * of days after "on" or "back".
 */
function written(words: string, today: string): Deed[] {
  const [, verb = '', rest = ''] =
    /^(due|start|estimate|on|back)[: ]+(?:by )?(.+)$/i.exec(words.trim()) ?? []
  const said = WRITTEN.get(verb.toLowerCase())?.(rest, today)
  return said ? [{ key: `w-${words}`, ...said }] : []
}
