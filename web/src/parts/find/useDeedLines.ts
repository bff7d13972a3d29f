import { computed, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { post } from '#web/api/client.ts'
import { useKnown } from '#web/fields/useKnown.ts'
import { deedsFor, type Deed } from '#web/parts/deeds.ts'
import { plural } from '#web/parts/say.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { fits, type Line } from './useFindLines.ts'

/** As many deeds are offered at most, and where nothing is typed. */
const MOST = { sought: 8, unasked: 6 }

/** What deeds are done to: everything marked, else the task that is open. */
function useTargets() {
  const session = useSession()
  const selection = useSelection()
  const tasks = useTasks()
  const route = useRoute()
  const open = computed(() => Number(route.query['task']) || null)
  const targets = computed(() =>
    selection.count ? [...selection.marked] : open.value === null ? [] : [open.value],
  )
  const setOf = (id: number): number | null => {
    const row = tasks.rows.get(id)
    if (!row) return null
    const project = session.directory.projects.find((p) => p.id === row.project?.id)
    return project?.stateSetId ?? 1
  }
  /** The set of states that all of them use, as far as their rows are here. */
  const setId = computed(() => {
    const sets = new Set(targets.value.map(setOf))
    return sets.size === 1 ? [...sets][0]! : null
  })
  return { open, targets, setId }
}

/** Signs out, and goes to the door. */
function useLeaving(): () => Promise<void> {
  const session = useSession()
  const router = useRouter()
  return async () => {
    await session.signOut()
    await router.push('/door')
  }
}

/** What can be done with everything marked, else with the task that is open. */
export function useDeedLines(text: Readonly<Ref<string>>) {
  const session = useSession()
  const selection = useSelection()
  const messages = useMessages()
  const known = useKnown()
  const { open, targets, setId } = useTargets()
  async function act(deed: Deed): Promise<void> {
    const done = await post<{ count: number }>('/tasks/bulk', { ids: targets.value, ...deed.body })
    if (done.count) messages.did(`${plural(done.count, 'task')} changed. ${deed.name}.`, done)
    else messages.say('Nothing needed changing.')
  }
  const on = computed(() =>
    selection.count ? plural(selection.count, 'task marked', 'tasks marked') : `#${open.value}`,
  )
  const changes = (): Line[] =>
    targets.value.length && session.me?.may.member
      ? deedsFor(known.value, session.me.id, setId.value, text.value)
          .filter((deed) => deed.key.startsWith('w-') || fits(deed.name, text.value))
          .map((deed) => ({
            key: `d-${deed.key}`,
            name: deed.name,
            more: on.value,
            run: () => act(deed),
          }))
      : []
  const marks = (): Line[] => {
    const id = open.value
    const unmark = { key: 'b-none', name: 'Unmark all', more: on.value, run: selection.clear }
    const mark = `${id !== null && selection.has(id) ? 'Unmark' : 'Mark'} task #${id}`
    return [
      ...(selection.count ? [unmark] : []),
      ...(id !== null && session.me?.may.member
        ? [
            { key: 't-mark', name: mark, more: '', run: () => selection.toggle(id) },
            {
              ...{ key: 't-print', name: `Print task #${id}`, more: '' },
              run: () => window.open(`/print/task/${id}`, '_blank'),
            },
          ]
        : []),
    ]
  }
  /** What was done last, to be taken back. */
  const undo = (): Line[] => {
    const [last] = messages.done
    return last ? [{ key: 'a-undo', name: 'Undo', more: last.text, run: messages.undoLast }] : []
  }
  const leave = useLeaving()
  return computed((): Line[] => {
    const words = text.value
    if (!words.trim() && targets.value.length === 0) return undo()
    const own = [
      ...undo(),
      ...marks(),
      { key: 'a-out', name: 'Sign out', more: 'leave', run: leave },
    ]
    const lines = [...changes(), ...own.filter(({ name }) => fits(name, words))]
    return lines.slice(0, words.trim() ? MOST.sought : MOST.unasked)
  })
}
