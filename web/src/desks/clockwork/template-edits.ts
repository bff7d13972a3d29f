import type { Template, TemplatePhase, TemplateTask } from '#core/templates/template.ts'

/** What is done to a template while it is written; each edit is made in place. */

type Editable<T> = {
  -readonly [K in keyof T]: T[K] extends readonly (infer U)[] | undefined ? Editable<U>[] : T[K]
}
export type DraftPhase = Editable<Omit<TemplatePhase, 'tasks'>> & { tasks: TemplateTask[] }
export type Draft = Editable<Omit<Template, 'phases'>> & { phases: DraftPhase[] }

export const tasksOf = ({ phases }: Draft): TemplateTask[] => phases.flatMap((p) => p.tasks)
export const phaseOf = ({ phases }: Draft, key: string): DraftPhase | undefined =>
  phases.find((p) => p.tasks.some((t) => t.key === key))

/** A key that nothing has yet. */
function fresh(base: string, things: readonly { readonly key: string }[]): string {
  const taken = new Set(things.map((thing) => thing.key))
  let n = taken.size + 1
  while (taken.has(`${base}-${n}`)) n++
  return `${base}-${n}`
}

export function changeTask(draft: Draft, key: string, edit: Partial<TemplateTask>): void {
  for (const phase of draft.phases)
    phase.tasks = phase.tasks.map((t) => (t.key === key ? { ...t, ...edit } : t))
}
/** Moves when a task is due, and when it begins, by some of its days. */
export function shiftTask(draft: Draft, key: string, by: number): void {
  const task = tasksOf(draft).find((t) => t.key === key)
  if (!task || by === 0) return
  const { due, start } = task
  changeTask(draft, key, {
    due: { ...due, days: due.days + by },
    ...(start && { start: { ...start, days: start.days + by } }),
  })
}
/** Adds a task at the end of a phase, due when the one before it is; answers its key. */
export function addTask(draft: Draft, phase: DraftPhase): string {
  const key = fresh('task', tasksOf(draft))
  const days = phase.tasks.at(-1)?.due.days ?? 0
  phase.tasks = [...phase.tasks, { key, title: 'New task', due: { days, unit: 'working' } }]
  return key
}
export function addPhase({ phases }: Draft): void {
  phases.push({ key: fresh('phase', phases), name: `Phase ${phases.length + 1}`, tasks: [] })
}
export function namePhase({ phases }: Draft, key: string, name: string): void {
  for (const phase of phases) if (phase.key === key) phase.name = name
}
/** The key of a role by its name, which is added where there is none. */
export function roleNamed(draft: Draft, name: string): string {
  const roles = (draft.roles ??= [])
  const known = roles.find((r) => r.name.toLowerCase() === name.toLowerCase())
  if (known) return known.key
  const key = fresh('role', roles)
  roles.push({ key, name })
  return key
}
export function removeTask({ phases }: Draft, key: string): void {
  for (const phase of phases) phase.tasks = phase.tasks.filter((t) => t.key !== key)
}
/** Puts a task into a phase: to the place of another of its tasks, or to its end. */
export function placeTask(draft: Draft, key: string, phase: string, at?: string): void {
  const [task, to] = [
    tasksOf(draft).find((t) => t.key === key),
    draft.phases.find((p) => p.key === phase),
  ]
  if (!task || !to || key === at) return
  const place = to.tasks.findIndex((t) => t.key === at)
  removeTask(draft, key)
  to.tasks = to.tasks.toSpliced(place < 0 ? to.tasks.length : place, 0, task)
}
/** Past the task above or below: into the phase beside its own, where it is the first or last of it. */
export function stepTask(draft: Draft, key: string, by: 1 | -1): void {
  const phase = phaseOf(draft, key)
  if (!phase) return
  const at = phase.tasks.findIndex((task) => task.key === key) + by
  const beside = draft.phases[draft.phases.indexOf(phase) + by]
  if (phase.tasks[at]) placeTask(draft, key, phase.key, phase.tasks[at].key)
  else if (beside) placeTask(draft, key, beside.key, by > 0 ? beside.tasks[0]?.key : undefined)
}
/** Past the phase above or below. */
export function stepPhase(draft: Draft, key: string, by: 1 | -1): void {
  const beside = draft.phases[draft.phases.findIndex((phase) => phase.key === key) + by]
  if (beside) placePhase(draft, key, beside.key)
}
/** Puts a phase to the place of another. */
export function placePhase(draft: Draft, key: string, at: string): void {
  const [from, to] = [key, at].map((each) => draft.phases.findIndex((p) => p.key === each))
  const phase = draft.phases[from!]
  if (!phase || to === -1) return
  draft.phases.splice(from!, 1)
  draft.phases.splice(to!, 0, phase)
}
