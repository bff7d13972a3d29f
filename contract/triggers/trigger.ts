import type { About, Step } from '../actions/action.ts'

/** A trigger: what happens, or when, that a rule acts on. One that escalates has rungs. */
export interface TriggerKind<K extends string = string, A extends object = object> extends Step<
  K,
  A
> {
  readonly climbs: boolean
  /** What it is about: what its actions are done with. */
  readonly about: About
  /** What the rule asks is what it waits for: in a sentence it follows upon “that”. */
  readonly that?: true
}
export const trigger = <K extends string, A extends object>(
  of: Omit<TriggerKind<K, A>, 'climbs' | 'about'> & Partial<Pick<TriggerKind, 'climbs' | 'about'>>,
): TriggerKind<K, A> => ({ climbs: false, about: 'task', ...of })
