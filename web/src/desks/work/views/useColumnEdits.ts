import { computed } from 'vue'
import type { OutlineGroup, ViewDefinition } from '#contract/query.ts'
import type { StateSetBody, StateSetSheet } from '#contract/setup.ts'
import type { State } from '#contract/words.ts'
import { get, put } from '#web/api/client.ts'
import type { Known } from '#web/fields/known.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSession } from '#web/state/session.ts'
import { boardField } from './definition.ts'

/** A column as it is written: what it is called; of states, their colour and kind too. */
export interface ColumnDraft {
  readonly name: string
  readonly colour: string | null
  readonly kind: State
}
type Column = Partial<ColumnDraft> & { readonly id?: number; readonly name: string }

/** Columns with one moved by a step; as they are where there is no room. */
export function stepped<T>(columns: readonly T[], at: number, by: 1 | -1): readonly T[] {
  const moved = columns[at]
  if (moved === undefined || at + by < 0 || at + by >= columns.length) return columns
  return columns.toSpliced(at, 1).toSpliced(at + by, 0, moved)
}

/** What columns become of those there are. */
type Edit = (all: readonly Column[]) => readonly Column[]

/** Saves the phases of a project as `edit` has them. */
function savePhases(
  project: number,
  columns: readonly OutlineGroup[],
  edit: Edit,
): Promise<unknown> {
  const all = columns.flatMap(({ key, name }) => (key === null ? [] : [{ id: +key, name }]))
  const phases = edit(all).map(({ id, name }) => ({ ...(id !== undefined && { id }), name }))
  return put(`/projects/${project}/phases`, { phases })
}
/** Saves a set of states as `edit` has them; tasks of one that goes stand in its neighbour then. */
async function saveStates(setId: number, edit: Edit): Promise<unknown> {
  const sets = await get<StateSetSheet[]>('/state-sets')
  const set = sets.find((s) => s.id === setId)!
  const before = set.states.map(({ id, name, kind, colour, only }) => ({
    ...{ id, name, kind, colour, only },
  }))
  const after = edit(before).map((column) => ({
    ...{ kind: 'under-way' as const, colour: null, only: 'anyone' as const },
    ...column,
  }))
  const moveTo = Object.fromEntries(
    before.flatMap(({ id }, i) => {
      if (after.some((state) => state.id === id)) return []
      const next = before[i + 1] ?? before[i - 1]
      return next ? [[String(id), next.name]] : []
    }),
  )
  const body: StateSetBody = { name: set.name, states: after, moveTo }
  return put(`/state-sets/${set.id}`, body, { seen: set.version })
}

interface Board {
  readonly def: () => ViewDefinition
  readonly known: () => Known
  readonly columns: () => readonly OutlineGroup[]
  /** Hears that columns are others now. */
  readonly changed: () => void
}

/** The columns of a board changed where they stand: phases of a project, or states of its set. */
export function useColumnEdits({ def, known, columns, changed }: Board) {
  const session = useSession()
  const messages = useMessages()
  const { attempt } = useAttempt()
  const project = computed(() => {
    const { scope } = def()
    return scope.of === 'project' ? scope.id : null
  })
  /** What the columns are, where whoever looks may change them here. */
  const of = computed((): 'phases' | 'states' | null => {
    const field = boardField(def())
    if (session.me?.may.structure !== true || project.value === null) return null
    return field === 'phase' ? 'phases' : field === 'state' ? 'states' : null
  })
  const keys = () => columns().flatMap(({ key }) => (key === null ? [] : [Number(key)]))
  const setId = () => known().projects.find((p) => p.id === project.value)?.stateSetId ?? 1
  const save = async (edit: Edit, said: string): Promise<void> => {
    const done = await (of.value === 'phases'
      ? savePhases(project.value!, columns(), edit)
      : saveStates(setId(), edit))
    messages.did(said, done)
    await session.read()
    changed()
  }
  const add = (draft: ColumnDraft) =>
    save((all) => [...all, draft], `The column “${draft.name}” is added.`)
  const change = (id: number, draft: ColumnDraft) =>
    save(
      (all) => all.map((column) => (column.id === id ? { ...column, ...draft } : column)),
      `The column is “${draft.name}” now.`,
    )
  const shift = (id: number, by: 1 | -1) =>
    attempt(() =>
      save(
        (all) =>
          stepped(
            all,
            all.findIndex((column) => column.id === id),
            by,
          ),
        'The columns stand in another order.',
      ),
    )
  const remove = (id: number, name: string) =>
    attempt(() =>
      save((all) => all.filter((column) => column.id !== id), `The column “${name}” is removed.`),
    )
  /** Where the tasks of a column go that is removed. */
  const after = (id: number): string | null => {
    if (of.value === 'phases') return null
    const at = keys().indexOf(id)
    const next = keys()[at + 1] ?? keys()[at - 1]
    return columns().find(({ key }) => key === next)?.name ?? null
  }
  return { of, add, change, shift, remove, after }
}
