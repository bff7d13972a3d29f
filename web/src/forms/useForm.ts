import { computed, ref, watch, type Ref } from 'vue'
import { ApiProblem, sentence } from '#web/api/client.ts'
import { merge, partAt, same, withPart } from './merge.ts'

/** What the server holds of something, as it is edited, and which version that is. */
export interface Held<T> {
  readonly value: T
  readonly version: number
}

/** What is wrong with a value, by the place it stands at. */
export type Faults = Readonly<Record<string, string>>

/** A place that was changed here and, meanwhile, by somebody else. */
export interface ClashAt {
  readonly place: string
  readonly mine: unknown
  readonly theirs: unknown
}

/** Where what is being written is kept, in case the page goes before it is saved. */
export interface Shelf {
  get(): string | null
  set(text: string | null): void
}

export interface FormOptions<T> {
  /** What is edited: another key begins another form; null while there is nothing to edit. */
  readonly key: () => string | null
  /** What the server holds now; null until it is here. A new one holds its blank, at version 0. */
  readonly held: () => Held<T> | null
  /** Saves it on top of a version. @throws ApiProblem */
  readonly send: (value: T, seen: number) => Promise<Held<T>>
  /** What is wrong with it, before it is sent. */
  readonly check?: (value: T) => Faults
  /** Reads again what the server holds, where a save finds that somebody else was first. */
  readonly again?: () => Promise<unknown>
  readonly shelf?: (key: string) => Shelf
}

interface Shelved<T> {
  readonly base: T
  readonly seen: number
  readonly draft: T
}

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

function shelved<T>(shelf: Shelf | undefined): Shelved<T> | null {
  try {
    return JSON.parse(shelf?.get() ?? 'null') as Shelved<T> | null
  } catch {
    return null
  }
}

/** What is being written: what it began as, on which version, merged with what arrives. */
function useWritten<T extends object>({ key, held, shelf }: FormOptions<T>) {
  const draft = ref<T | null>(null) as Ref<T | null>
  const base = ref<T | null>(null) as Ref<T | null>
  const clashes = ref<ClashAt[]>([])
  const dirty = computed(() => draft.value !== null && !same(draft.value, base.value))
  const seen = ref(0)
  /** Whose draft it is: the key of what is edited, which may have moved on already. */
  let own: string | null = null
  const kept = (): Shelf | undefined => (own === null ? undefined : shelf?.(own))

  function begin({ value, version }: Held<T>): void {
    draft.value = copy(value)
    base.value = copy(value)
    seen.value = version
    clashes.value = []
  }
  /** Puts what is written on top of what the server holds now. */
  function rebase(now: Held<T>): void {
    const [before, mine] = [base.value, draft.value]
    if (before === null || mine === null) return begin(now)
    const merged = merge(before, mine, now.value)
    draft.value = copy(merged.value)
    base.value = copy(now.value)
    seen.value = now.version
    const found = merged.clashes.map((place) => ({
      ...{ place, mine: partAt(mine, place), theirs: partAt(now.value, place) },
    }))
    clashes.value = [
      ...clashes.value.filter(({ place }) => !merged.clashes.includes(place)),
      ...found,
    ].filter(({ place }) => !same(partAt(draft.value, place), partAt(now.value, place)))
  }
  function open(now: Held<T>): void {
    const left = shelved<T>(kept())
    if (!left) return begin(now)
    ;[base.value, draft.value, seen.value] = [left.base, left.draft, left.seen]
    rebase(now)
  }

  watch(
    [key, held] as const,
    ([name, now]) => {
      if (name !== own) [own, draft.value, base.value] = [name, null, null]
      if (name === null || now === null) return
      if (draft.value === null) open(now)
      // An answer that was overtaken by a save of one's own says nothing new.
      else if (now.version < seen.value) return
      else if (!dirty.value) begin(now)
      else if (now.version > seen.value) rebase(now)
    },
    { immediate: true },
  )
  watch(
    draft,
    (now) => {
      const left = { base: base.value, seen: seen.value, draft: now }
      if (now !== null) kept()?.set(dirty.value ? JSON.stringify(left) : null)
    },
    { deep: true },
  )
  return { draft, base, seen, dirty, clashes, begin, rebase, forget: () => kept()?.set(null) }
}

/** What is wrong at a place, or at one within it. */
const faultWithin = (faults: Faults, place: string): string =>
  Object.entries(faults).find(([at]) => at === place || at.startsWith(`${place}.`))?.[1] ?? ''

/** What an answer says is wrong: at the place it names (RFC 9457), or with the whole. */
const faultsOf = (error: unknown): [at: Faults, whole: string] => {
  const place = error instanceof ApiProblem ? error.problem.place : undefined
  return place ? [{ [place]: sentence(error) }, ''] : [{}, sentence(error)]
}
const outdated = (error: unknown): boolean =>
  error instanceof ApiProblem && error.problem.code === 'changed-since'

/**
 * A form over something the server holds: what is written, what it began as and from which version;
 * whether anything is unsaved; what is wrong and where. What somebody else saves meanwhile is merged
 * in; where both changed the same, `clashes` says so and nothing is sent until it is settled.
 */
export function useForm<T extends object>(options: FormOptions<T>) {
  const written = useWritten(options)
  const { draft, base, seen, dirty, clashes, begin, rebase, forget } = written
  const busy = ref(false)
  const faults = ref<Faults>({})
  const fault = ref('')
  watch(options.key, () => say({}))
  function say(at: Faults, whole = ''): void {
    faults.value = at
    fault.value = whole
  }
  function refused(error: unknown): false {
    say(...faultsOf(error))
    return false
  }

  /** Sends what is written; false where it is not saved, and why is said. */
  async function save(): Promise<boolean> {
    if (draft.value === null || busy.value || clashes.value.length) return false
    say(options.check?.(draft.value) ?? {})
    if (Object.keys(faults.value).length) return false
    busy.value = true
    try {
      return await attempt(true)
    } finally {
      busy.value = false
    }
  }
  async function attempt(first: boolean): Promise<boolean> {
    const sent = copy(draft.value!)
    try {
      const now = await options.send(sent, seen.value)
      // What was written while it was on its way is still to be saved.
      base.value = sent
      if (same(draft.value, sent)) begin(now)
      else rebase(now)
      if (!dirty.value) forget()
      return true
    } catch (error) {
      if (!outdated(error) || !options.again) return refused(error)
      await options.again()
      const now = options.held()
      if (now && now.version > seen.value) rebase(now)
      if (clashes.value.length) return false
      return first ? attempt(false) : refused(error)
    }
  }
  /** Settles every clash one way. */
  function settle(keep: 'mine' | 'theirs'): void {
    if (keep === 'theirs' && draft.value && base.value)
      for (const { place } of clashes.value)
        draft.value = withPart(draft.value, place, copy(base.value))
    clashes.value = []
  }
  /** Goes back to what the server holds. */
  function putBack(): void {
    const now = options.held()
    if (now) begin(now)
    say({})
    forget()
  }
  const faultAt = (place: string) => faultWithin(faults.value, place)
  return { draft, dirty, busy, faults, fault, faultAt, clashes, save, settle, putBack }
}
