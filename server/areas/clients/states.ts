import { refuse } from '#core/refusal.ts'
import type { ClientList, ClientState, ClientStatesBody } from '#contract/clients.ts'
import type { Reader } from '../../database/query.ts'
import type { Changed } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { mayEditClient } from './page.ts'
import { clientRows, everyState, firstState, standingIn } from './queries.ts'

/** Where clients stand: the list that boards show, and the states it is in, named by the firm. */

/** @throws Refusal `forbidden` for guests */
export function listClients({ reader }: Engine, viewer: Viewer): ClientList {
  needMember(viewer, 'see the clients')
  const first = firstState.get(reader)?.id ?? null
  return {
    states: everyState.all(reader),
    clients: clientRows.all(reader).map((row) => ({
      ...row,
      // One that was brought back from before there were states stands where new ones begin.
      stateId: row.stateId ?? first,
      mayEdit: mayEditClient(viewer, row.lead?.id ?? null),
    })),
  }
}

/** @throws Refusal `one-first`, `state-gone`, `name-twice`, `state-in-use` */
function checkStates({ reader }: Engine, { states, removed }: ClientStatesBody): void {
  const now = everyState.all(reader)
  if (states.filter(({ first }) => first).length !== 1)
    refuse('one-first', 'Say in which one state new clients begin.', 'states')
  for (const [i, { id, name }] of states.entries()) {
    if (id !== undefined && !now.some((state) => state.id === id))
      refuse('state-gone', `“${name}” was removed in the meantime.`, `states.${i}.name`)
    // One that somebody else made meanwhile stays beside these.
    const twice = now.find(
      (state) =>
        state.name.toLowerCase() === name.toLowerCase() &&
        !removed.includes(state.id) &&
        !states.some((one) => one.id === state.id),
    )
    if (twice) refuse('name-twice', `There is a state “${twice.name}” already.`, `states.${i}.name`)
  }
  for (const state of now) if (removed.includes(state.id)) checkEmpty(reader, state)
}
/** @throws Refusal `state-in-use` */
function checkEmpty(reader: Reader, { id, name }: Pick<ClientState, 'id' | 'name'>): void {
  const clients = standingIn.get(reader, { state: id })?.clients ?? 0
  const [they, them] =
    clients === 1 ? ['One client stands', 'it'] : [`${clients} clients stand`, 'them']
  if (clients > 0) refuse('state-in-use', `${they} in “${name}”; move ${them} first.`)
}

/**
 * Saves the states of clients, in their order; those that are to go must be empty.
 * @throws Refusal `forbidden`, `one-first`, `state-gone`, `name-twice`, `state-in-use`
 */
export function saveClientStates(
  engine: Engine,
  viewer: Viewer,
  body: ClientStatesBody,
): Changed<ClientState[]> {
  needStructure(viewer, 'set up the states of clients')
  checkStates(engine, body)
  const { reader } = engine
  const kept = body.states.flatMap(({ id }) => id ?? [])
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const others = everyState.all(reader).filter(({ id }) => !kept.includes(id))
    for (const { id } of others) if (body.removed.includes(id)) write.remove('clientStates', id)
    const stay = others.filter(({ id }) => !body.removed.includes(id))
    const states = [...body.states, ...stay.map((state) => ({ ...state, first: false }))]
    for (const [position, { id, ...state }] of states.entries())
      if (id === undefined) write.insert('clientStates', { ...state, position })
      else write.update('clientStates', id, { ...state, position })
  })
  return { result: everyState.all(reader), change }
}
