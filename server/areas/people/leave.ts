import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { HELD, type HandOver, type HeldPart, type LeaveBody, type Left } from '#contract/people.ts'
import type { Large } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { unfit } from './chains.ts'
import { heldOf } from './held.ts'
import { checkLeaving, needPerson, showOut } from './service.ts'

/** Somebody leaves: what they held goes to others, and they are out, all as one change. */

/** As many of a part are named beforehand. */
const FEW = 5

/** What somebody holds that would need another to look after it. */
export function handOver(engine: Engine, viewer: Viewer, id: PersonId): HandOver {
  needStructure(viewer, 'hand over what somebody holds')
  needPerson(engine, id)
  return HELD.map((part) => {
    const things = heldOf(engine.reader, part, id)
    return { part, count: things.length, names: things.slice(0, FEW).map(({ name }) => name) }
  }).filter(({ count }) => count > 0)
}

/** Work goes to whoever could stand in for them; all else to somebody inside, as to a manager. */
function checkTo({ reader }: Engine, id: PersonId, part: HeldPart, to: PersonId): void {
  const place = `to.${part}`
  if (to === id) refuse('unfit', 'They cannot be handed what is theirs.', place)
  const link = part === 'tasks' || part === 'standing' ? 'standInId' : 'managerId'
  const why = unfit(reader, id, link, to)
  if (why) refuse('unfit', why, place)
}

/**
 * Lets somebody leave: they are out at once, at every browser, and what they held goes to whom it is
 * given; what is given to nobody stays as it is.
 * @throws Refusal `not-found`, `left`, `owners-only`, `last-owner`, `unfit`
 */
export function leave(engine: Engine, viewer: Viewer, id: PersonId, body: LeaveBody): Large<Left> {
  const person = checkLeaving(engine, viewer, id)
  if (!person.active) refuse('left', `${person.name} has left already.`)
  const given = HELD.flatMap((part) => {
    const to = body.to[part] ?? null
    if (to === null) return []
    checkTo(engine, id, part, to)
    return [{ part, to }]
  })
  const { reader, journal } = engine
  return journal.large({
    actor: actorOf(viewer),
    size: given.reduce((sum, { part }) => sum + heldOf(reader, part, id).length, 1),
    *work(write) {
      let count = 0
      for (const { part, to } of given)
        for (const thing of heldOf(reader, part, id)) {
          thing.give({ engine, write, from: id, to })
          count++
          // What is read whole is written before others write.
          if (part === 'tasks') yield
        }
      write.update('people', id, { active: false })
      showOut(engine, write, id)
      return { person: needPerson(engine, id), count }
    },
  })
}
