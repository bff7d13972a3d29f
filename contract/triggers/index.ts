import type { StepOf } from '../actions/action.ts'
import { changed } from './changed.ts'
import { commented } from './commented.ts'
import { late } from './late.ts'
import { made } from './made.ts'
import type { TriggerKind } from './trigger.ts'

/** The kinds of trigger, in the order they are offered. */
const ALL = [late, made, changed, commented] as const
/** What a rule acts on, with its arguments. */
export type Trigger = StepOf<(typeof ALL)[number]>

const catalogue = new Map<string, TriggerKind>(ALL.map((kind) => [kind.kind, kind as TriggerKind]))
export const triggerKind = (kind: string): TriggerKind | undefined => catalogue.get(kind)
export const triggerKinds = (): TriggerKind[] => [...catalogue.values()]
/** Puts a kind of trigger where rules, their forms and their checks find it. */
export const addTrigger = (kind: TriggerKind): void => void catalogue.set(kind.kind, kind)
