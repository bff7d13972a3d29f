import type { StateId, StateSetId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { StateRow } from '#contract/fields.ts'
import { STATE_NAMES, type State } from '#contract/words.ts'
import type { Reader } from '../../database/query.ts'
import type { Home } from './queries.ts'
import { FIRM_SET, firstOfKind, stateRow, statesOf } from '../states/queries.ts'

/** What is wished of a task's state: a named one, or one of a kind. */
export interface StateWish {
  readonly stateId?: StateId | undefined
  readonly state?: State | undefined
}

export const isClosed = (state: State): boolean => state === 'done' || state === 'dropped'
/** The set that a project's tasks use; the firm's own for none. */
export const setFor = (home: { stateSetId: StateSetId | null } | null): StateSetId =>
  home?.stateSetId ?? FIRM_SET

/**
 * The row of a set that a wish for a state means: the state itself, its namesake in the set, or the
 * first of a kind; where a task stands already if that is what is wished.
 */
export function resolveState(
  reader: Reader,
  home: Pick<Home, 'stateSetId' | 'states'> | null,
  wish: StateWish,
  nowId: StateId | null,
): StateRow {
  const set = home?.states ?? statesOf(reader, setFor(home))
  if (wish.stateId !== undefined) {
    const own = set.find((state) => state.id === wish.stateId)
    if (own) return own
    const asked =
      stateRow(reader, wish.stateId) ??
      refuse('state-gone', 'That state was removed in the meantime; choose another.', 'state')
    return (
      set.find((state) => state.name.toLowerCase() === asked.name.toLowerCase()) ??
      firstOfKind(set, asked.kind) ??
      refuse('no-such-state', `The states here have none like “${asked.name}”.`, 'state')
    )
  }
  const kind = wish.state ?? 'not-started'
  return (
    set.find((state) => state.id === nowId && state.kind === kind) ??
    firstOfKind(set, kind) ??
    refuse(
      'no-such-state',
      `The states here have none of the kind “${STATE_NAMES[kind]}”.`,
      'state',
    )
  )
}
