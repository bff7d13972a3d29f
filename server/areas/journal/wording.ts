import { storedIn } from '#core/fields/catalogue.ts'
import type { Target } from '#core/fields/field.ts'
import { sayValue, type Saying as SayingValues } from '#core/fields/say.ts'
import { sayDate, sayTime } from '#core/text/speak.ts'
import { customField, type CustomField } from '#contract/fields.ts'
import type { Stored } from '../../database/tables/engine.ts'
import type { Entry } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { waysOf } from '../people/ways.ts'
import { readsField } from '../fields/queries.ts'
import { fieldOfValue } from './queries.ts'
import { namesOf, type Mentions, type Named, type Names } from './names.ts'

/** As much of an entry as its wording needs. */
export type Worded = Pick<
  Entry,
  'id' | 'entity' | 'entityId' | 'action' | 'item' | 'before' | 'after'
>

/** Columns of tasks that are no fields of their own, as people know them. */
const LABELS: Readonly<Record<string, string>> = {
  dueTime: 'due time',
  doneBy: 'done when',
  datesFollow: 'dates follow subtasks',
  stateFollows: 'state follows subtasks',
}
/** Columns that follow from others and say nothing of their own. */
const SILENT = new Set([
  ...[
    'version',
    'closedAt',
    'rung',
    'rungOf',
    'position',
    'state',
    'firstDue',
    'postponed',
    'fieldId',
  ],
])
/** Where the names of what fields point at are looked up. */
const NAMES: Readonly<Partial<Record<Target, Named>>> = {
  ...{ person: 'people', client: 'clients', project: 'projects', phase: 'phases' },
  ...{ state: 'states', tag: 'tags', series: 'series' },
}
/** Columns that tie things to a task. */
const LINKS: Readonly<Record<string, Named | 'fields'>> = {
  ...{ personId: 'people', tagId: 'tags', fieldId: 'fields', teamId: 'teams' },
  ruleId: 'rules',
}
/** Kinds that somebody may not see, though they are there. */
const HIDES: ReadonlySet<Named> = new Set(['projects', 'phases', 'tasks'])
/** Columns that hold another kind of thing than those of tasks that are called so. */
const OTHERWISE: Readonly<Record<string, Named>> = { 'clients.stateId': 'clientStates' }
/** The kind of thing whose number a column holds. */
const refersTo = (entity: string, column: string): Named | 'fields' | undefined =>
  OTHERWISE[`${entity}.${column}`] ?? LINKS[column] ?? NAMES[storedIn('task', column)?.to ?? 'task']

/** A column as people know it; null where it follows from others. */
export const labelOf = (column: string): string | null =>
  SILENT.has(column)
    ? null
    : (storedIn('task', column)?.label.toLowerCase() ?? LABELS[column] ?? column)

/** What is needed to say an entry: the firm's day, the names it mentions. */
interface Saying extends SayingValues {
  readonly names: Names
  /** The field that a value was of: its row may be gone, its making is in the journal. */
  readonly fieldOf: (entry: Worded) => number | null
  /** Whether the values of a field are the viewer's to read. */
  readonly reads: (field: CustomField) => boolean
}

/** Each side of a change of one column, in words. */
function shown(saying: Saying, column: string, value: Stored[string]): string {
  if (value === null || value === '') return 'none'
  if (column === 'dueTime') return sayTime(String(value), saying.clock)
  const field = storedIn('task', column)
  if (!field) return String(value)
  const kind = NAMES[field.to ?? 'task']
  if (kind)
    return (
      saying.names.of(kind, value) ?? (HIDES.has(kind) ? 'one out of sight' : 'one that is gone')
    )
  return sayValue(field, value, saying)
}

/** What is said of a column instead of both sides of it. */
const INSTEAD: Readonly<Record<string, (is: Stored[string]) => string>> = {
  description: () => 'changed the description',
  mergedInto: (is) =>
    is === null ? 'took it out of the task it was merged into' : `merged it into #${is}`,
  archivedAt: (is) => (is === null ? 'brought it back from the archive' : 'archived it'),
  reviewedAt: (is) => (is === null ? 'took the review back' : 'reviewed it'),
  datesFollow: (is) => `dates follow subtasks: ${is ? 'yes' : 'no'}`,
  stateFollows: (is) => `state follows subtasks: ${is ? 'yes' : 'no'}`,
}

/**
 * One column's change; null where both sides read the same, as when a state gives way to its
 * namesake in another set.
 */
function sayColumn(
  saying: Saying,
  column: string,
  before: Stored[string],
  after: Stored[string],
): string | null {
  const instead = INSTEAD[column]
  if (instead) return instead(after)
  const [from, to] = [shown(saying, column, before), shown(saying, column, after)]
  return from === to ? null : `${labelOf(column) ?? column} ${from} → ${to}`
}

type Say = (saying: Saying, entry: Worded, was: Stored, is: Stored) => string | null

const sayTask: Say = (saying, { action }, was, is) => {
  if (action === 'made') return 'made this task'
  if (action === 'removed') return 'removed this task'
  const parts = Object.keys(is)
    .filter((column) => !SILENT.has(column))
    .flatMap((column) => sayColumn(saying, column, was[column] ?? null, is[column] ?? null) ?? [])
  const rung = is['rung']
  if (typeof rung === 'number' && rung > 0) parts.push(`took it to rung ${rung}`)
  return parts.length ? parts.join('; ') : null
}

const sayAssignee: Say = ({ names }, { action }, was, is) => {
  const who = names.of('people', is['personId'] ?? was['personId']) ?? 'someone'
  if (action === 'made') return `put ${who} on it`
  if (action === 'removed') return `took ${who} off`
  if (!('doneAt' in is)) return 'changed a part of the estimate'
  return is['doneAt'] ? 'finished one part' : 'opened one part again'
}

const sayValueOf: Say = (saying, entry, was, is) => {
  const { names } = saying
  const field = names.field(is['fieldId'] ?? was['fieldId'] ?? saying.fieldOf(entry))
  if (field && !saying.reads(field)) return null
  const say = (row: Stored): string => {
    const value = row['text'] ?? row['number'] ?? null
    if (field?.kind === 'person' && value !== null) return names.of('people', value) ?? 'someone'
    return (field ? sayValue(customField(field), value, saying) : String(value ?? '')) || 'none'
  }
  const name = field?.name ?? 'a field'
  if (entry.action === 'removed') return `emptied ${name}`
  return `${name} ${entry.action === 'made' ? '' : `${say(was)} `}→ ${say(is)}`
}

const sayItem: Say = (_, { action }, was, is) => {
  const title = String(is['title'] ?? was['title'] ?? '')
  if (action === 'made') return `added “${title}” to the checklist`
  if (action === 'removed') return `removed “${title}” from the checklist`
  if (!('done' in is)) return 'reworded a checklist item'
  return is['done'] ? 'ticked a checklist item' : 'unticked a checklist item'
}

const sayComment: Say = (_, { action }, __, is) => {
  if (action === 'made') return 'commented'
  if (action === 'removed') return 'removed a comment'
  return 'taskId' in is ? 'brought a comment along' : 'reworded a comment'
}

const sayFile: Say = (_, { action }, was, is) => {
  if (action === 'changed' && 'onBoard' in is)
    return is['onBoard'] ? 'showed a file on the board' : 'took a file off the board'
  if (action === 'changed' && 'taskId' in is) return 'brought a file along'
  return action === 'made' ? `added “${String(is['name'])}”` : `took “${String(was['name'])}” off`
}

const sayTag: Say = ({ names }, { action }, was, is) => {
  const tag = names.of('tags', is['tagId'] ?? was['tagId']) ?? 'a tag'
  return action === 'made' ? `tagged it “${tag}”` : `took the tag “${tag}” off`
}

/** Things with a name that come, change and go. */
const sayNamed =
  (made: string, removed: string, changed: string): Say =>
  (_, { action }, was, is) =>
    action === 'made'
      ? `${made} “${String(is['name'])}”`
      : action === 'removed'
        ? `${removed} “${String(was['name'])}”`
        : changed

const plain =
  (text: string): Say =>
  () =>
    text

const AUDIENCE_SAID: Readonly<Record<string, string>> = {
  firm: 'everybody inside',
  team: 'its team',
  named: 'those named',
}
const PROJECT_STATE_SAID: Readonly<Record<string, string>> = {
  proposed: 'made the project a proposal',
  running: 'set the project going',
  hold: 'put the project on hold',
}
const personOf = ({ names }: Saying, was: Stored, is: Stored): string =>
  names.of('people', is['personId'] ?? was['personId']) ?? 'someone'
const teamOf = ({ names }: Saying, was: Stored, is: Stored): string =>
  names.of('teams', is['teamId'] ?? was['teamId']) ?? 'a team'
const sayMember: Say = (saying, { action }, was, is) => {
  const [who, team] = [personOf(saying, was, is), teamOf(saying, was, is)]
  return action === 'made' ? `put ${who} into “${team}”` : `took ${who} out of “${team}”`
}
const sayShare: Say = (saying, { action }, was, is) => {
  const who = personOf(saying, was, is)
  if (action === 'removed') return `took back what was shared with ${who}`
  return action === 'made' ? `shared it with ${who}` : 'changed what is shared'
}

const sayClient = sayNamed('made the client', 'removed the client', 'changed a client')

const sayDateByHand: Say = (_, { action }, was, is) => {
  const day = (stamp: unknown) => sayDate(String(stamp).slice(0, 10))
  const [scheduled, date] = [is['scheduled'] ?? was['scheduled'], is['date']]
  const what = scheduled ? day(scheduled) : 'a date'
  if (action === 'removed') return `put ${what} back where it was`
  return date ? `moved ${what} to ${day(date)}` : `left out ${what}`
}
const SAY: Readonly<Partial<Record<Entry['entity'], Say>>> = {
  tasks: sayTask,
  taskAssignees: sayAssignee,
  taskFollowers: ({ names }, { action }, was, is) => {
    const who = names.of('people', is['personId'] ?? was['personId']) ?? 'someone'
    return action === 'made' ? `${who} follows it` : `${who} follows it no more`
  },
  ...{ taskTags: sayTag, clientTags: sayTag },
  ...{ fieldValues: sayValueOf, projectValues: sayValueOf, clientValues: sayValueOf },
  attachments: sayFile,
  projects: (_, { action }, __, is) =>
    action === 'made'
      ? 'made the project'
      : 'state' in is
        ? (PROJECT_STATE_SAID[String(is['state'])] ?? 'changed the project')
        : 'view' in is
          ? 'set how the project is shown'
          : 'audience' in is
            ? `said who sees the project: ${AUDIENCE_SAID[String(is['audience'])] ?? ''}`
            : 'changed the project',
  phases: sayNamed('added the phase', 'removed the phase', 'changed a phase'),
  milestones: sayNamed('set the milestone', 'removed the milestone', 'changed a milestone'),
  posts: plain('wrote about the project'),
  states: plain('changed the states'),
  stateSets: plain('changed the states'),
  fields: plain('changed the fields'),
  hiddenFields: plain('changed the fields'),
  tags: (_, { action }, __, is) =>
    action === 'made' ? `made the tag “${String(is['name'])}”` : 'changed a tag',
  views: plain('changed a saved view'),
  templates: plain('changed a template'),
  series: plain('changed a series'),
  seriesDates: sayDateByHand,
  rules: plain('changed a rule'),
  ruleOffs: ({ names }, { action }, was, is) => {
    const rule = names.of('rules', is['ruleId'] ?? was['ruleId']) ?? 'a rule'
    return `switched “${rule}” ${action === 'made' ? 'off' : 'on again'} in it`
  },
  teams: sayNamed('made the team', 'removed the team', 'changed a team'),
  teamMembers: sayMember,
  teamAsks: (saying, { action }, was, is) =>
    action === 'made' ? `asked to join “${teamOf(saying, was, is)}”` : null,
  shares: sayShare,
  // Those of a place come many at once, with the firm that goes by them.
  holidays: (_, { action }, was, is) => {
    if (action === 'changed') return 'changed a holiday'
    const name = String(is['name'] ?? was['name'])
    if (action === 'removed') return `took out the holiday “${name}”`
    return is['own'] ? `entered the holiday “${name}”` : null
  },
  timeOff: (saying, { action }, was, is) =>
    `${action === 'made' ? 'entered' : 'took out'} time off of ${personOf(saying, was, is)}`,
  people: sayNamed('brought in', 'took out', 'changed a person'),
  clientRoles: (saying, { action }, was, is) =>
    action === 'removed'
      ? `${personOf(saying, was, is)} is no more its usual ${String(was['role'])}`
      : `made ${personOf(saying, was, is)} its usual ${String(is['role'] ?? was['role'])}`,
  clients: (saying, entry, was, is) => {
    const state = 'stateId' in is && saying.names.of('clientStates', is['stateId'])
    return entry.action === 'changed' && state
      ? `moved the client to “${state}”`
      : sayClient(saying, entry, was, is)
  },
  clientStates: plain('changed the states of clients'),
  checklistItems: sayItem,
  reminders: (_, { action }) =>
    action === 'made'
      ? 'set a reminder'
      : action === 'removed'
        ? 'took a reminder off'
        : 'changed a reminder',
  comments: sayComment,
}

/** Rows that are the value of a field. */
const VALUES: ReadonlySet<string> = new Set(['fieldValues', 'projectValues', 'clientValues'])
/** The numbers that an entry's wording looks up. */
function mention(into: Map<Named | 'fields', Set<number>>, entry: Worded): void {
  const add = (kind: Named | 'fields', id: unknown) => {
    if (typeof id !== 'number') return
    const set = into.get(kind) ?? new Set()
    into.set(kind, set.add(id))
  }
  for (const row of [entry.before, entry.after])
    for (const [column, value] of Object.entries(row ?? {})) {
      const kind = refersTo(entry.entity, column)
      if (kind) add(kind, value)
      // A field's value may be a person.
      if (VALUES.has(entry.entity) && column === 'number') add('people', value)
    }
}

/**
 * Says entries in words; null for what says nothing of its own. The names that all of them mention
 * are looked up together, whatever their number.
 */
export function wordingOf(
  engine: Engine,
  viewer: Viewer,
  entries: readonly Worded[],
): (entry: Worded) => string | null {
  const { reader, firm } = engine
  const mentions = new Map<Named | 'fields', Set<number>>()
  const fieldIds = new Map<number, number | null>()
  for (const entry of entries) {
    mention(mentions, entry)
    if (entry.entity !== 'fieldValues' || entry.action !== 'changed') continue
    const found = fieldOfValue.get(reader, { id: entry.entityId, before: entry.id })?.fieldId
    fieldIds.set(entry.id, found ?? null)
    if (typeof found === 'number')
      mentions.set('fields', (mentions.get('fields') ?? new Set()).add(found))
  }
  const names = namesOf(reader, sightOf(viewer), mentions satisfies Mentions)
  const { zone, clock } = waysOf(engine, viewer)
  const saying: Saying = {
    today: firm.today(),
    ...{ zone, clock },
    names,
    fieldOf: (entry) => fieldIds.get(entry.id) ?? null,
    reads: ({ readers }) => readsField(viewer, readers),
  }
  return (entry) =>
    SAY[entry.entity]?.(saying, entry, entry.before ?? {}, entry.after ?? {}) ?? null
}
