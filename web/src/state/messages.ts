import { defineStore } from 'pinia'
import { ref } from 'vue'
import { changeOf, post } from '#web/api/client.ts'

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
    say(
      text,
      change === null ? undefined : async () => void (await post(`/changes/${change}/undo`)),
    )
  }
  return { current, say, fault, did }
})
