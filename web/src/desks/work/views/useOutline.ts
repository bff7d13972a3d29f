import { computed, type Ref } from 'vue'
import type { LiveChange } from '#contract/live.ts'
import type { Outline, ViewDefinition } from '#contract/query.ts'
import type { Concern } from '#web/state/again.ts'
import { useSession } from '#web/state/session.ts'
import { useResource } from '#web/state/resource.ts'
import { queryOf } from './definition.ts'
import { fieldOf } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/** Fields that a row shows and no order, group, sum or condition goes by unless it names them. */
const ALONE = /^(title|description|priority|assignee|follower|tag|field:\d+)$/
/** What goes by fields under a name of its own. */
const UNDER: Readonly<Record<string, readonly string[]>> = {
  title: ['words'],
  description: ['words'],
  assignee: ['count:people'],
}
/** Whether a question's answer may differ once a field has: where it does not, rows are enough. */
const goesBy = (question: string, field: string): boolean =>
  !ALONE.test(field) ||
  [field, ...(UNDER[field] ?? [])].some((name) => question.includes(`"${name}`))

/** Whether the rows tell all that changed, and the order and grouping stay as they are. */
const rowsTell = ({ fields }: LiveChange, { scope }: ViewDefinition, question: string): boolean =>
  fields !== null &&
  !fields.some((field) => goesBy(question, field)) &&
  !(scope.of === 'person' && fields.includes('assignee'))

/** More tasks than these are not asked about anew within a second. */
const MANY = 2_000
/** How much a change concerns what a view finds. */
function concernOf(
  change: LiveChange,
  view: ViewDefinition,
  { question, found }: { question: string; found: Outline | null },
): Concern {
  const within = view.scope.of === 'project' ? view.scope.id : null
  if (change.entities.some((e) => CHOICES.has(e))) return 'now'
  if (change.tasks.length === 0 || rowsTell(change, view, question)) return false
  if (within !== null) return change.projects.includes(within) && 'now'
  return (found?.total ?? 0) <= MANY ? 'now' : 'later'
}
const CHOICES = new Set(['states', 'phases', 'tags', 'fields'])

/**
 * What a view finds, kept fresh; nothing is asked while there is no definition. `days` narrows it
 * to what touches them.
 */
export function useOutline(
  def: Readonly<Ref<ViewDefinition | null>>,
  known: Readonly<Ref<Known>>,
  days?: Readonly<Ref<{ first: string; last: string }>>,
) {
  const session = useSession()
  const sums = computed(() =>
    (def.value?.columns ?? [])
      .map((c) => c.field)
      .filter((field) => field !== 'estimate' && fieldOf(known.value, field)?.sums),
  )
  const question = computed(() =>
    def.value ? JSON.stringify(queryOf(def.value, sums.value, days?.value)) : '',
  )
  return useResource<Outline>(
    () =>
      session.me && question.value
        ? `/tasks/outline?q=${encodeURIComponent(question.value)}`
        : null,
    (change, found) =>
      def.value !== null && concernOf(change, def.value, { question: question.value, found }),
    { keep: true },
  )
}
