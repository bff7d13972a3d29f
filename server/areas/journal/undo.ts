import type { ChangeId } from '#core/brands.ts'
import { plural } from '#core/text/speak.ts'
import { refuse } from '#core/refusal.ts'
import type { Undone } from '#contract/journal.ts'
import { isConstraint } from '../../database/faults.ts'
import type { Reader } from '../../database/query.ts'
import type { Stored } from '../../database/tables/engine.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import type { Row } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { journalFrom } from '../../engine/sweep.ts'
import { actorOf, mayStructure, sightOf, type Viewer } from '../../engine/viewer.ts'
import { titleOf } from '../talk/queries.ts'
import { isLink, rowsOf, type Known } from './history.ts'
import {
  anOwner,
  entriesOfChange,
  inUse,
  linkNow,
  mailsOf,
  ofOwners,
  unseenIn,
  othersOnItem,
  pagesOfChange,
  sizeOfChange,
  undosOf,
} from './queries.ts'
import { COUNTERS, lastWhole, replay } from './replay.ts'
import { labelOf } from './wording.ts'

type Stands = (change: ChangeId) => boolean

/** Which changes stand: those that no standing change has taken back. */
function standings(reader: Reader, without: ChangeId): Stands {
  const known = new Map<ChangeId, boolean>([[without, false]])
  const stands: Stands = (change) => {
    let answer = known.get(change)
    if (answer === undefined) {
      answer = !undosOf.all(reader, { change }).some((undo) => stands(undo.change))
      known.set(change, answer)
    }
    return answer
  }
  return stands
}

/** One taking back: what it may write with, what stands afterwards, and what it leaves. */
interface Undoing {
  readonly engine: Engine
  readonly write: Writer
  readonly change: ChangeId
  readonly stands: Stands
  readonly left: string[]
}

function nameOf({ engine }: Undoing, { item }: Known): string {
  const task = item?.kind === 'task' ? titleOf.get(engine.reader, { id: item.id }) : undefined
  return task ? `“${task.title}”` : 'Something here'
}

/** Whether something that stands was done to what a change made, or in it. */
function workedOn({ engine, stands }: Undoing, { entity, ids, steps }: Known): boolean {
  const [id = 0] = ids
  const makers = new Set(steps.filter((s) => s.action === 'made').map((s) => s.change))
  const others =
    entity === 'tasks' || entity === 'projects'
      ? othersOnItem[entity].all(engine.reader, { id })
      : steps.filter((step) => step.action === 'changed')
  return others.some((other) => !makers.has(other.change) && stands(other.change))
}

/** Writes what may be in the way of something; answers whether it was not. */
function tried({ left }: Undoing, work: () => void, inTheWay: string): boolean {
  try {
    work()
    return true
  } catch (error) {
    if (!isConstraint(error)) throw error
    left.push(inTheWay)
    return false
  }
}

/** Takes away what a change made. Answers whether it is gone. */
function takeAway(undoing: Undoing, known: Known, id: number): boolean {
  const { engine, write, left } = undoing
  const { entity } = known
  const name = nameOf(undoing, known)
  const used = `${name} is used elsewhere now.`
  if (!isLink(entity) && workedOn(undoing, known)) {
    left.push(`${name} was worked on afterwards.`)
    return false
  }
  if (inUse[entity]?.some((question) => question.get(engine.reader, { id }))) {
    left.push(used)
    return false
  }
  return tried(undoing, () => write.stored.remove(entity, id), used)
}

/** Puts back what a change took away: under its own number, or, for a link, under a new one. */
function putBack(undoing: Undoing, known: Known, values: Stored): boolean {
  const { write, left } = undoing
  const { entity } = known
  const name = nameOf(undoing, known)
  const { id: _, ...row } = { ...lastWhole(known.steps), ...values }
  const number = known.ids.find((id) => !write.stored.read(entity, id))
  if (number === undefined && !isLink(entity)) {
    left.push(`${name}: its number was given to something else.`)
    return false
  }
  const whole: Stored = number === undefined ? row : { ...row, id: number }
  return tried(
    undoing,
    () => void write.stored.insert(entity, whole),
    `${name}: what it belongs to is gone.`,
  )
}

/** Says which columns of a change stay, since something that stands wrote them afterwards. */
function sayLeft(undoing: Undoing, known: Known): void {
  const { change, stands, left } = undoing
  const own = known.steps.findLastIndex((step) => step.change === change)
  const mine = known.steps[own]
  if (mine?.action !== 'changed') return
  const later = known.steps.slice(own + 1).filter((step) => stands(step.change))
  const over = Object.keys(mine.after ?? {}).filter(
    (column) => !COUNTERS.has(column) && later.some((step) => column in (step.after ?? {})),
  )
  const labels = [...new Set(over.flatMap((column) => labelOf(column) ?? []))]
  if (labels.length)
    left.push(`${nameOf(undoing, known)} was changed again afterwards: ${labels.join(', ')}.`)
}

/** The row as it is there now; a link may have come back under a number that no step knows. */
function rowNow({ engine, write }: Undoing, { entity, key, ids }: Known): [number, Stored] | null {
  const [one = 0, other = 0] = key.split(' ').map(Number)
  const link = linkNow[entity]
  const id = link ? link.get(engine.reader, { one, other })?.id : ids[0]
  const row = id === undefined ? undefined : write.stored.read(entity, id)
  return row && id !== undefined ? [id, row] : null
}

/** Brings one row to where it would stand. Answers whether anything was written. */
function settle(undoing: Undoing, known: Known): boolean {
  const { write, stands } = undoing
  const { exists, values } = replay(known.steps, stands)
  const there = rowNow(undoing, known)
  if (!there) return exists && putBack(undoing, known, values)
  const [id, now] = there
  if (!exists) return takeAway(undoing, known, id)
  sayLeft(undoing, known)
  const patch = Object.fromEntries(
    Object.entries(values).filter(([column, value]) => column in now && now[column] !== value),
  )
  if (Object.keys(patch).length === 0) return false
  const { version } = now
  const next = typeof version === 'number' ? { ...patch, version: version + 1 } : patch
  write.stored.update(known.entity, id, next)
  return true
}

/** What a row stands in: its task or project, and the project that is in. */
const placesOf = ({ item, projectId }: Known): string[] => [
  ...(item ? [`${item.kind} ${item.id}`] : []),
  ...(projectId === null ? [] : [`project ${projectId}`]),
]

/** What others may have worked on, or in. */
const isThing = ({ entity, item }: Known): boolean =>
  (entity === 'tasks' || entity === 'projects') && item !== null
/** Whether a row is there that would not be. */
const isGoing = ({ write, stands }: Undoing, { entity, item, steps }: Known): boolean =>
  write.stored.read(entity, item?.id ?? 0) !== undefined && !replay(steps, stands).exists

/**
 * The things a change made that stay, since something that stands was done to them: what it made in
 * them stays with them.
 */
function* staying(undoing: Undoing, rows: readonly Known[]): Steps<ReadonlySet<string>> {
  const { left } = undoing
  const made: Known[] = []
  for (const known of rows) {
    yield
    if (isThing(known) && isGoing(undoing, known)) made.push(known)
  }
  const stay = new Set<string>()
  for (const known of made) {
    yield
    if (!known.item || !workedOn(undoing, known)) continue
    stay.add(`${known.item.kind} ${known.item.id}`)
    left.push(`${nameOf(undoing, known)} was worked on afterwards.`)
  }
  for (const known of made)
    if (known.item && placesOf(known).some((place) => stay.has(place)))
      stay.add(`${known.item.kind} ${known.item.id}`)
  return stay
}

/** Takes back what stands of a change; answers how many things it touched. */
function* takeBack(undoing: Undoing): Steps<number> {
  const rows = yield* rowsOf(undoing.engine.reader, undoing.change)
  const stay = yield* staying(undoing, rows)
  const things = new Set<string>()
  for (const known of rows) {
    yield
    if (placesOf(known).some((place) => stay.has(place)) || !settle(undoing, known)) continue
    const { item, entity, key } = known
    things.add(item ? `${item.kind} ${item.id}` : `${entity} ${key}`)
  }
  return things.size
}

/**
 * Answers how many rows it wrote.
 * @throws Refusal `not-found`, `forbidden` for somebody else's change
 */
function needUndoable(engine: Engine, viewer: Viewer, change: ChangeId): number {
  const { reader } = engine
  const [first] = entriesOfChange.all(reader, { change, before: Number.MAX_SAFE_INTEGER })
  if (!first) return refuse('not-found', 'There is no such change.')
  const { entries = 0, began = 0 } = sizeOfChange.get(reader, { change }) ?? {}
  if (Number(began) > 0)
    refuse('changed-since', 'This is how the firm began; it is not taken back.')
  if (viewer.access !== 'owner' && ofOwners.get(reader, { change }))
    refuse('forbidden', 'Only an owner may take back who owns the firm.')
  if (first.at < journalFrom(engine))
    refuse('not-found', 'This was done before what the journal keeps; it stays as it is.')
  needOwn(engine, viewer, first)
  return entries
}
/** @throws Refusal `forbidden` for somebody else's change, and one's own that is out of sight now */
function needOwn(
  { reader }: Engine,
  viewer: Viewer,
  { change, actorKind, actorId }: Row<typeof entriesOfChange>,
): void {
  if (mayStructure(viewer)) return
  if (actorKind !== 'person' || actorId !== viewer.id)
    refuse('forbidden', 'Only who made a change, or a manager, may take it back.')
  if (unseenIn.get(reader, { change, sight: sightOf(viewer) }))
    refuse('forbidden', 'Part of what this changed is out of your sight; ask a manager to undo it.')
}

/**
 * Notes that a change is taken back whose fields stand already as they would without it: it stands
 * no more, and is in the way of nothing else. Answers how many rows it speaks of that are there.
 */
function* noteTaken({ engine, write, change }: Undoing): Steps<number> {
  let there = 0
  for (const page of pagesOfChange(engine.reader, change))
    for (const { entity, entityId } of page) {
      yield
      if (!write.stored.read(entity, entityId)) continue
      write.stored.note(entity, entityId)
      there++
    }
  return there
}

/** A mail that waits does not leave; one that has left is said to have. */
function holdMails({ engine, write, change, left }: Undoing): void {
  for (const { id, recipient, state } of mailsOf.all(engine.reader, { change }))
    if (state === 'sent') left.push(`A mail to ${recipient} has left.`)
    else write.remove('outbox', id)
}

function nothingStands(already: boolean, left: readonly string[]): string {
  const [first, ...others] = new Set(left)
  if (already) return 'This was taken back already.'
  if (first === undefined) return 'What this changed is gone, so there is nothing to take back.'
  const more = others.length ? ` So were ${plural(others.length, 'other')}.` : ''
  return `${first}${more} Undoing would lose that.`
}

/**
 * Takes back a change, field by field: what still stands of it goes, what was written over since
 * stays and is named. Changes taken back in any order leave the rows as if they had never been.
 * Answers the change that did so, which can itself be taken back.
 * @throws Refusal `not-found`, `forbidden`, `changed-since` where nothing of it stands any more
 */
export function undoChange(engine: Engine, viewer: Viewer, change: ChangeId): Large<Undone> {
  const { reader, journal } = engine
  function* work(write: Writer): Steps<Undone> {
    const left: string[] = []
    const stands = standings(reader, change)
    const already = undosOf.all(reader, { change }).some((undo) => stands(undo.change))
    const undoing: Undoing = { engine, write, change, stands, left }
    const owned = anOwner.get(reader) !== undefined
    const done = yield* takeBack(undoing)
    if (owned && !anOwner.get(reader))
      refuse('last-owner', 'That would leave the firm without an owner; make somebody one first.')
    const none = done === 0 && left.length === 0 && !already
    const count = none ? yield* noteTaken(undoing) : done
    if (count === 0) refuse('changed-since', nothingStands(already, left))
    holdMails(undoing)
    return { change: write.change ?? change, count, left: [...new Set(left)] }
  }
  const size = needUndoable(engine, viewer, change)
  return journal.large({ actor: actorOf(viewer), size, work, cause: { undoes: change } })
}
