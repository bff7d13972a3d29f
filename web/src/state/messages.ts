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
  /**
   * Says what a change did; `answer` is what the API answered to it, and what undoing starts from.
   */
  function did(text: string, answer: unknown): void {
    const change = changeOf(answer)
    say(text, change === null ? undefined : () => undo(change))
  }
  /** Takes a change back; what of it stays is said. */
  async function undo(change: number): Promise<void> {
    const done = await post<Undone>(`/changes/${change}/undo`)
    if (done.left.length) say(sayUndone(done))
  }
  return { current, say, fault, did, next }
})
