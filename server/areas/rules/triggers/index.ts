import type { Trigger } from '#contract/rules.ts'
import { changed, clientChanged, projectChanged } from './changed.ts'
import { phaseDone, stepsDone, subtasksDone, workDone } from './done.ts'
import { ANY, itsClient, itsProject, itsTask, wokenBy, type Wakes } from './wake.ts'

/** Triggers that changes wake; what comes with time has alarms instead. */
type Woken = Exclude<Trigger['kind'], 'late' | 'dated'>
type Every = { readonly [K in Woken]: Wakes<Extract<Trigger, { kind: K }>> }
const EVERY: Every = {
  'becomes-true': { on: () => [ANY], about: itsTask },
  made: wokenBy('task.made', itsTask),
  changed,
  given: wokenBy('task.given', itsTask),
  commented: wokenBy('comment.made', itsTask),
  'file-added': wokenBy('file.added', itsTask),
  ...{ 'steps-done': stepsDone, 'subtasks-done': subtasksDone },
  ...{ 'phase-done': phaseDone, 'work-done': workDone },
  'project-made': wokenBy('project.made', itsProject),
  'project-changed': projectChanged,
  'project-finished': wokenBy('project.finished', itsProject),
  'client-made': wokenBy('client.made', itsClient),
  'client-changed': clientChanged,
}

const catalogue = new Map<string, Wakes<Trigger>>(Object.entries(EVERY))
/** Puts what wakes a kind of trigger where rules find it. */
export const addWakes = (kind: string, wakes: Wakes<Trigger>): void =>
  void catalogue.set(kind, wakes)
export const wakesFor = (kind: string): Wakes<Trigger> | undefined => catalogue.get(kind)
