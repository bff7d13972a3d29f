import { computed, ref, watch, type Ref } from 'vue'
import type { Group, Test } from '#core/conditions/condition.ts'
import { editForGroup, takesDrops } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import type { Scope, TaskQuery, ViewDefinition, ViewKind } from '#contract/query.ts'
import type { NewTask, TaskRow } from '#contract/tasks.ts'

const column = (field: string, width: number) => ({ field, width })

/** What all that is shown has: a tag, a template or a series. */
export interface Within {
  readonly field: 'tag' | 'template' | 'series'
  readonly id: number
}

/** What a scope is looked at with before anybody chose otherwise. */
export function standard(scope: Scope, within?: Within | null): ViewDefinition {
  return {
    kind: 'list',
    scope,
    filter: {
      match: 'all',
      of: [
        ...(within ? [{ field: within.field, op: 'in' as const, value: [within.id] }] : []),
        ...(scope.of === 'project' ? [] : [{ field: 'open', op: 'is' as const, value: true }]),
      ],
    },
    sort: [],
    group: scope.of === 'project' ? 'phase' : 'due',
    columns: [
      ...(scope.of === 'project' ? [] : [column('project', 200)]),
      column('assignee', 110),
      column('due', 110),
      column('estimate', 84),
      column('tag', 130),
    ],
    colour: null,
    tree: true,
    step: 'fit',
  }
}

/**
 * The field a board's columns stand for: what the view is grouped by, if things can be dropped
 * there; else the state.
 */
export const boardField = (def: ViewDefinition): string =>
  def.group !== null && takesDrops(def.group) ? def.group : 'state'
/** What the lanes of a timeline stand for. */
export const laneField = (def: ViewDefinition): string =>
  def.group !== null && takesDrops(def.group)
    ? def.group
    : def.scope.of === 'project'
      ? 'phase'
      : 'project'

/** The question a view asks; `span` narrows it to what touches some days. */
export function queryOf(
  def: ViewDefinition,
  sums: readonly string[],
  span?: { first: string; last: string },
): TaskQuery {
  const within: readonly (Test | Group)[] = span
    ? [
        { field: 'due', op: 'after', value: dayBefore(span.first) },
        {
          match: 'any',
          of: [
            { field: 'start', op: 'before', value: dayAfter(span.last) },
            {
              match: 'all',
              of: [
                { field: 'start', op: 'empty' },
                { field: 'due', op: 'before', value: dayAfter(span.last) },
              ],
            },
          ],
        },
      ]
    : []
  const board = def.kind === 'board'
  return {
    scope: def.scope,
    filter: within.length ? { match: 'all', of: [def.filter, ...within] } : def.filter,
    sort: def.sort,
    group:
      def.kind === 'calendar'
        ? null
        : board
          ? boardField(def)
          : def.kind === 'timeline'
            ? laneField(def)
            : def.group,
    tree: def.tree && (def.kind === 'list' || def.kind === 'table'),
    sums: [...sums],
    every: board || (def.kind === 'list' && def.group === 'phase' && def.scope.of === 'project'),
  }
}
const shift = (day: string, by: number) =>
  new Date(Date.parse(day) + by * 86_400_000).toISOString().slice(0, 10)
const dayBefore = (day: string) => shift(day, -1)
const dayAfter = (day: string) => shift(day, 1)

export const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

export interface Definition {
  readonly def: Ref<ViewDefinition>
  /** Differs from what it began with: a saved view, or the standard one. */
  readonly changed: Readonly<Ref<boolean>>
  change(part: Partial<ViewDefinition>): void
  show(kind: ViewKind): void
  putBack(): void
}

/** What is remembered: how it is looked at, and what that was chosen in place of. */
type Kept = ViewDefinition & { readonly on?: ViewDefinition }
/**
 * How a scope is being looked at. It is remembered in this browser for each scope; a saved view
 * begins as it was saved, and says when it is no longer looked at like that.
 */
export function useDefinition(base: () => ViewDefinition, key: () => string | null): Definition {
  const def = ref(base()) as Ref<ViewDefinition>
  const place = () => `fernwick.view.${key()}`
  function begin(): void {
    def.value = base()
    if (key() === null) return
    try {
      const kept = JSON.parse(localStorage.getItem(place()) ?? 'null') as Kept | null
      const { on, ...own } = kept ?? {}
      // What was chosen before the project got another view gives way to that.
      if (kept && Array.isArray(kept.columns) && kept.filter && (!on || same(on, base())))
        def.value = { ...base(), ...own, scope: base().scope }
    } catch {
      // What cannot be read is forgotten.
    }
  }
  watch([() => JSON.stringify(base()), key], begin, { immediate: true })
  watch(def, () => {
    if (key() === null) return
    if (same(def.value, base())) localStorage.removeItem(place())
    else localStorage.setItem(place(), JSON.stringify({ ...def.value, on: base() }))
  })
  return {
    def,
    // Without a saved view, turning to another kind of view is no change worth putting back.
    changed: computed(
      () =>
        !same(
          def.value,
          key()?.startsWith('saved')
            ? base()
            : { ...base(), kind: def.value.kind, step: def.value.step },
        ),
    ),
    change: (part) => (def.value = { ...def.value, ...part }),
    show: (kind) =>
      (def.value = {
        ...def.value,
        kind,
        ...(kind === 'timeline' && def.value.step === 'day' && { step: 'week' as const }),
      }),
    putBack: () =>
      (def.value = key()?.startsWith('saved')
        ? base()
        : { ...base(), kind: def.value.kind, step: def.value.step }),
  }
}

/** What a task begins with that is noted in a scope. */
export const beginsIn = (scope: Scope): Partial<NewTask> =>
  scope.of === 'project'
    ? { projectId: scope.id }
    : scope.of === 'client'
      ? { clientId: scope.id }
      : scope.of === 'person'
        ? { assignees: [scope.id] }
        : {}

/** A task that has nothing yet, as what a group asks of it is worked out. */
const BLANK = { assignees: [], tags: [] } as unknown as TaskRow

/** What a task begins with that is noted in a group of a view. */
export const beginsInGroup = (
  known: Known,
  scope: Scope,
  by: string | null,
  key: string | number | null,
): Partial<NewTask> => ({
  ...beginsIn(scope),
  ...(by !== null && key !== null && editForGroup(known, by, { key, from: null }, BLANK)),
})
