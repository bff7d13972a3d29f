import type { StepOf } from '../actions/action.ts'
import { changed } from './changed.ts'
import { becomesTrue } from './becomes-true.ts'
import { clientChanged } from './client-changed.ts'
import { clientMade } from './client-made.ts'
import { commented } from './commented.ts'
import { dated } from './dated.ts'
import { fileAdded } from './file-added.ts'
import { given } from './given.ts'
import { late } from './late.ts'
import { made } from './made.ts'
import { phaseDone } from './phase-done.ts'
import { projectChanged } from './project-changed.ts'
import { projectFinished } from './project-finished.ts'
import { projectMade } from './project-made.ts'
import { stepsDone } from './steps-done.ts'
import { subtasksDone } from './subtasks-done.ts'
import type { TriggerKind } from './trigger.ts'
import { workDone } from './work-done.ts'

/** The kinds of trigger, in the order they are offered. */
const ALL = [
  ...([late, dated, becomesTrue, made, changed, given, commented, fileAdded] as const),
  ...([stepsDone, subtasksDone, phaseDone, workDone] as const),
  ...([projectMade, projectChanged, projectFinished, clientMade, clientChanged] as const),
] as const
/** What a rule acts on, with its arguments. */
export type Trigger = StepOf<(typeof ALL)[number]>

const catalogue = new Map<string, TriggerKind>(ALL.map((kind) => [kind.kind, kind as TriggerKind]))
export const triggerKind = (kind: string): TriggerKind | undefined => catalogue.get(kind)
export const triggerKinds = (): TriggerKind[] => [...catalogue.values()]
/** Puts a kind of trigger where rules, their forms and their checks find it. */
export const addTrigger = (kind: TriggerKind): void => void catalogue.set(kind.kind, kind)
