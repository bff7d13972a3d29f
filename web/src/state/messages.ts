import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { Undone } from '#contract/journal.ts'
import { changeOf, post } from '#web/api/client.ts'
import { sayUndone } from '#web/parts/say.ts'

export interface Message {
  readonly text: string
  readonly tone: 'plain' | 'alarm'
  readonly undo?: () => Promise<void>
}

/**
 * The one message at the foot of the page; it stays long enough to read and to take the step back.
 */
export const useMessages = defineStore('messages', () => {
  const current = ref<Message | null>(null)
  const say = (text: string, undo?: () => Promise<void>): void =>
    void (current.value = { text, tone: 'plain', ...(undo && { undo }) })
  const fault = (text: string): void => void (current.value = { text, tone: 'alarm' })
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
  return { current, say, fault, did }
})
