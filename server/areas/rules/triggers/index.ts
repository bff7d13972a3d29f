import type { Trigger } from '#contract/rules.ts'
import { changed } from './changed.ts'
import { commented } from './commented.ts'
import { made } from './made.ts'
import type { Wakes } from './wake.ts'

/** Triggers that changes wake; what comes with time has alarms instead. */
type Woken = Exclude<Trigger['kind'], 'late'>
type Every = { readonly [K in Woken]: Wakes<Extract<Trigger, { kind: K }>> }
const EVERY: Every = { made, changed, commented }

const catalogue = new Map<string, Wakes<Trigger>>(Object.entries(EVERY))
/** Puts what wakes a kind of trigger where rules find it. */
export const addWakes = (kind: string, wakes: Wakes<Trigger>): void =>
  void catalogue.set(kind, wakes)
export const wakesFor = (kind: string): Wakes<Trigger> | undefined => catalogue.get(kind)
