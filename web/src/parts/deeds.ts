import { plural } from '#core/text/speak.ts'
import type { BulkBody } from '#contract/tasks.ts'
import type { Known } from '#web/fields/known.ts'
import { writtenFields } from '#web/fields/read.ts'
import { sayPatch } from '#web/fields/versions.ts'
import { PRIORITIES, PRIORITY_NAMES, STATE_NAMES, STATES } from '#contract/words.ts'

/** Something that can be done with tasks, by its name. */
export interface Deed {
  readonly key: string
  readonly name: string
  readonly body: Omit<BulkBody, 'ids'>
}

/**
 * Everything one line can do with tasks: states, priorities, people, tags, projects, fields by what
 * the firm has; any field by what is written after its name ("due fri 3pm", "estimate 45m"), days by
 * their number ("on 3"). `setId` is the set of states they share, null where they stand in
 * several.
 */
export function deedsFor(known: Known, me: number, setId: number | null, words: string): Deed[] {
  const { directory } = known
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
    ...written(known, words),
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
    { key: 'reviewed', name: 'Mark as reviewed', body: { set: { reviewed: true } } },
    { key: 'archive', name: 'Archive', body: { set: { archived: true } } },
  ]
}

type Said = Omit<Deed, 'key'> | null

/** “due fri 3pm”, “estimate: 45m”: any field that is set to one value, by its name. */
function writtenField(known: Known, words: string): Said {
  const line = words.trim()
  for (const { name, read } of writtenFields(known)) {
    const head = line.slice(0, name.length + 1).toLowerCase()
    if (head !== `${name.toLowerCase()}:` && head !== `${name.toLowerCase()} `) continue
    const set = read(line.slice(name.length + 1).replace(/^[: ]+/, ''))
    if (set) return { name: sayPatch(known, set), body: { set } }
  }
  return null
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

const SHIFTS: ReadonlyMap<string, (rest: string) => Said> = new Map([
  ['on', writtenShift('On', 1)],
  ['back', writtenShift('Back', -1)],
])

/** What the words themselves say: a field and its value, a number of days after "on" or "back". */
function written(known: Known, words: string): Deed[] {
  const [, verb = '', rest = ''] = /^(on|back)[: ]+(?:by )?(.+)$/i.exec(words.trim()) ?? []
  const said = SHIFTS.get(verb.toLowerCase())?.(rest) ?? writtenField(known, words)
  return said ? [{ key: `w-${words}`, ...said }] : []
}
