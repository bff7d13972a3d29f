import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface Message {
  readonly text: string
  readonly tone: 'plain' | 'alarm'
  readonly undo?: () => Promise<void>
}

/** The one message at the foot of the page; it stays long enough to read and to take the step back. */
export const useMessages = defineStore('messages', () => {
  const current = ref<Message | null>(null)
  const say = (text: string, undo?: () => Promise<void>): void => void (current.value = { text, tone: 'plain', ...(undo && { undo }) })
  const fault = (text: string): void => void (current.value = { text, tone: 'alarm' })
  return { current, say, fault }
})
