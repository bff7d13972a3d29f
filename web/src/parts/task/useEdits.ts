import { computed, onScopeDispose, ref, watch, type Ref } from 'vue'
import type { TaskPatch, TaskSheet } from '#contract/tasks.ts'
import { ApiProblem, sentence } from '#web/api/client.ts'
import type { Edit } from './edits.ts'

/** Texts that are long in writing: they are saved when they are left. */
export type Text = 'title' | 'description'
type Texts = Partial<Record<Text, string>>

interface Parts {
  readonly task: Readonly<Ref<TaskSheet | null>>
  /** Saves an edit over the version it was made over. @throws ApiProblem */
  readonly send: (edit: TaskPatch, over: number) => Promise<TaskSheet>
  /** Whether an edit touches what somebody else changed between two versions. */
  readonly touches: (edit: TaskPatch, base: TaskSheet, theirs: TaskSheet) => boolean
  /** Told once nobody sees the task any more: what was not saved, and why, unless by a clash. */
  readonly told: (edit: TaskPatch, why: string | null) => void
}

/** Where edits start from: the version seen, and how texts stood when they began to be typed. */
interface Begun {
  seen: number
  texts: Texts
}

/** Saves edits one after the other; what somebody else changed elsewhere stands beside them. */
function useSaving({ task, send, touches, told }: Parts, begun: Begun) {
  const wrong = ref('')
  const clash = ref<{ mine: TaskPatch; theirs: TaskSheet } | null>(null)
  let gone = false
  let turn: Promise<unknown> = Promise.resolve()
  /** Saves an edit when its turn comes; answers whether it was saved. */
  function save(edit: Edit): Promise<boolean> {
    const done = turn.then(() => {
      if (!task.value) return false
      return put(typeof edit === 'function' ? edit(task.value) : edit, begun.seen)
    })
    turn = done
    return done
  }
  async function put(edit: TaskPatch, over: number): Promise<boolean> {
    wrong.value = ''
    try {
      begun.seen = (await send(edit, over)).version
      return true
    } catch (problem) {
      const theirs = theirsOf(problem)
      if (theirs && task.value && !touches(edit, { ...task.value, ...begun.texts }, theirs))
        return put(edit, theirs.version)
      if (gone) told(edit, theirs ? null : sentence(problem))
      else if (theirs) clash.value = { mine: edit, theirs }
      else wrong.value = sentence(problem)
      return false
    }
  }
  return { wrong, clash, save, put, end: () => void (gone = true) }
}

/**
 * Edits of one task, each saved as it is made. What two people changed is asked about, and nothing
 * that was typed is lost: what is being typed when the sheet goes is saved.
 */
export function useEdits(parts: Parts) {
  const { task } = parts
  /** What is being typed. */
  const texts = ref<Texts>({})
  const typing = () => Object.keys(texts.value).length > 0
  const begun: Begun = { seen: 0, texts: {} }
  const { wrong, clash, save, put, end } = useSaving(parts, begun)
  watch(
    task,
    (now) => {
      // While something is typed its version stays: saving then finds out who came in between.
      if (now && !typing()) begun.seen = now.version
    },
    { immediate: true, flush: 'sync' },
  )
  /** Whoever asks keeps one of two versions; answers the other’s, where it is that. */
  async function settle(keep: 'mine' | 'theirs'): Promise<TaskSheet | null> {
    const both = clash.value
    clash.value = null
    texts.value = begun.texts = {}
    if (!both) return null
    begun.seen = both.theirs.version
    if (keep === 'theirs') return both.theirs
    await put(both.mine, both.theirs.version)
    return null
  }
  function type(text: Text, value: string): void {
    if (!typing() && task.value) {
      const { title, description, version } = task.value
      begun.seen = version
      begun.texts = { title, description }
    }
    texts.value[text] = value
  }
  /** Saves a text that was typed, unless it is as it was. */
  async function leave(text: Text): Promise<void> {
    const value = texts.value[text]?.trim()
    if (value === undefined) return
    if (value !== begun.texts[text] && !(await save({ [text]: value }))) return
    delete texts.value[text]
    if (!typing()) begun.texts = {}
  }
  onScopeDispose(() => {
    end()
    for (const text of Object.keys(texts.value)) void leave(text as Text)
  })
  return { texts: computed(() => texts.value), type, leave, save, wrong, clash, settle }
}

const theirsOf = (problem: unknown): TaskSheet | null =>
  problem instanceof ApiProblem && problem.problem.status === 412
    ? ((problem.problem.theirs as TaskSheet | undefined) ?? null)
    : null
