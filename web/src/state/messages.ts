import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { Undone } from '#contract/journal.ts'
import { changeOf, post } from '#web/api/client.ts'
import { sayUndone } from '#web/parts/say.ts'

export interface Message {
  readonly text: string
  readonly tone: 'plain' | 'alarm'
  readonly undo?: () => Promise<void>
}

/** So many things done can be taken back one after the other. */
const REMEMBERED = 50

/**
 * Messages at the foot of the page, one at a time: each stays long enough to read and to take the
 * step back. The next word of what was done takes the place of the one before; what went wrong
 * stays until it is read, and what comes meanwhile waits behind it.
 */
export const useMessages = defineStore('messages', () => {
  const waiting = ref<readonly Message[]>([])
  const current = computed(() => waiting.value[0] ?? null)
  function put(message: Message): void {
    const faults = waiting.value.filter(({ tone }) => tone === 'alarm')
    if (message.tone === 'plain') waiting.value = [...faults, message]
    // The same is not said twice.
    else if (!faults.some(({ text }) => text === message.text)) {
      const after = faults.length ? waiting.value.filter(({ tone }) => tone === 'plain') : []
      waiting.value = [...faults, message, ...after]
    }
  }
  const say = (text: string, undo?: () => Promise<void>): void =>
    put({ text, tone: 'plain', ...(undo && { undo }) })
  const fault = (text: string): void => put({ text, tone: 'alarm' })
  /** Takes the message away that is shown; the next comes. */
  const next = (): void => void (waiting.value = waiting.value.slice(1))
  /** What was done here, the last first, as far as it can be taken back. */
  const done = ref<readonly { text: string; change: number }[]>([])
  /** Keeps what a change did, to be taken back, where the page shows by itself that it is done. */
  function remember(text: string, answer: unknown): number | null {
    const change = changeOf(answer)
    if (change !== null) done.value = [{ text, change }, ...done.value].slice(0, REMEMBERED)
    return change
  }
  /**
   * Says what a change did; `answer` is what the API answered to it, and what undoing starts from.
   */
  function did(text: string, answer: unknown): void {
    const change = remember(text, answer)
    say(text, change === null ? undefined : () => undo(change))
  }
  /** Takes a change back; what of it stays is said. */
  async function undo(change: number): Promise<void> {
    // Refused or not, it is not offered again: what was done before it may be.
    done.value = done.value.filter((each) => each.change !== change)
    const undone = await post<Undone>(`/changes/${change}/undo`)
    if (undone.left.length) say(sayUndone(undone))
  }
  /** Takes back what was done last, and says what that was; there may be nothing. */
  async function undoLast(): Promise<void> {
    const [last] = done.value
    if (!last) return say('There is nothing to take back.')
    say(`Taken back: ${last.text}`)
    await undo(last.change)
  }
  /** Somebody else is here: what was done before is not theirs to take back. */
  const forget = (): void => void (done.value = [])
  return { current, done, say, fault, did, remember, next, undoLast, forget }
})
