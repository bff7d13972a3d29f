import { computed, ref, type Ref } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { put } from '#web/api/client.ts'
import type { Carried, Landing } from '#web/drag/carry.ts'
import type { Point } from '#web/drag/way.ts'
import type { Known } from '#web/fields/known.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import { groupWith, idsIn, placeAt, type Item } from './grid-items.ts'
import { useRegroup } from './useRegroup.ts'

export const SORTED = 'Rows are sorted by a field; take the sorting off to order them by hand.'

type View = () => { readonly def: ViewDefinition; readonly known: Known }
type Items = Readonly<Ref<readonly Item[]>>

/** Tasks put to their places: under another head, or in the order by hand. */
function useOrder(view: View, items: Items, moved: () => void) {
  const tasks = useTasks()
  const messages = useMessages()
  const { attempt } = useAttempt()
  const regroup = useRegroup(
    () => view().known,
    () => view().def.group!,
  )
  const byHand = computed(() => {
    const { scope, sort } = view().def
    return scope.of === 'project' && sort.length === 0
  })
  const groups = computed(() => [...new Set(items.value.map(({ group }) => group))])
  const groupOf = ({ id, out }: Carried) => groupWith(groups.value, Number(id), out)
  const order = (id: number, after: number | null) => put(`/tasks/${id}/order`, { after })

  async function place(carried: Carried, index: number): Promise<void> {
    const id = Number(carried.id)
    const [task, target, from] = [tasks.rows.get(id), items.value[index], groupOf(carried)]
    if (!task || !target || !from || (target.kind === 'row' && target.id === id)) return
    const stays = target.group === from
    if (stays && !byHand.value) return messages.say(SORTED)
    const after = placeAt(items.value, index, id)
    await attempt(async () => {
      if (!stays && !(await regroup(task, from, target.group))) return
      const done = byHand.value && (await order(id, after))
      if (stays) messages.did('The order is changed.', done)
      moved()
    })
  }
  /** Past the row above or below; answers whether it went. */
  async function shift(id: number, by: 1 | -1): Promise<boolean> {
    if (!byHand.value) messages.say(SORTED)
    const ids = idsIn(items.value)
    const at = ids.indexOf(id)
    const after = by > 0 ? ids[at + 1] : at < 2 ? null : ids[at - 2]
    if (!byHand.value || after === undefined || (by < 0 && at === 0)) return false
    return attempt(async () => {
      messages.did('The order is changed.', await order(id, after))
      moved()
    })
  }
  return { byHand, groupOf, place, shift }
}

/**
 * Tasks moved among the rows of a list: into another group, or to their place in the order by hand.
 * `lineAt` says which line lies under a point; `moved` hears that something was.
 */
export function useRowMoves(
  view: View,
  items: Items,
  { lineAt, moved }: { lineAt: (point: Point) => number | null; moved: () => void },
) {
  const tasks = useTasks()
  const { byHand, groupOf, place, shift } = useOrder(view, items, moved)
  /** The line that what is carried would be put down on. */
  const over = ref<number | null>(null)
  function sayPlace(carried: Carried, index: number): string {
    const target = items.value[index]
    if (!target) return ''
    if (target.group !== groupOf(carried)) return `to ${target.group.name}`
    if (!byHand.value) return 'Rows are sorted by a field.'
    if (target.kind !== 'row') return target.kind === 'add' ? 'to the end' : 'to the beginning'
    if (target.id === carried.id) return 'where it is'
    return `to the place of “${tasks.rows.get(target.id)?.title ?? ''}”`
  }
  const landing: Landing = {
    takes: (carried) => carried.kind === 'task' && groupOf(carried) !== undefined,
    over(carried, at) {
      over.value = carried && lineAt(at)
      return carried && over.value !== null ? sayPlace(carried, over.value) : ''
    },
    land(carried, at) {
      const index = lineAt(at)
      if (index !== null) void place(carried, index)
    },
    grain: () => ({ y: 36 }),
  }
  return { over, landing, shift }
}
