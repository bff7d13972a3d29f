import { defineStore } from 'pinia'
import { onScopeDispose, ref } from 'vue'
import { get } from '#web/api/client.ts'

export interface Change {
  readonly tasks: readonly number[]
  readonly projects: readonly number[]
  readonly entities: readonly string[]
}

/** What the server says has changed; views that care ask for themselves again. */
export const useLive = defineStore('live', () => {
  const listeners = new Set<(change: Change) => void>()
  const connected = ref(true)
  let source: EventSource | null = null
  let dropped = false
  const everything: Change = { tasks: [], projects: [], entities: ['all'] }

  function open(): void {
    if (source) return
    source = new EventSource('/api/v1/live')
    source.addEventListener('hello', () => {
      connected.value = true
      // What happened while the line was down was missed: everything shown is asked for again.
      if (dropped) for (const listener of listeners) listener(everything)
      dropped = false
    })
    source.addEventListener('change', (event) => {
      const change = JSON.parse((event as MessageEvent<string>).data) as Change
      for (const listener of listeners) listener(change)
    })
    source.addEventListener('bye', () => {
      // The session is over: asking once says so to whoever shows the door.
      close()
      void get('/me').catch(() => undefined)
    })
    source.addEventListener('error', () => {
      connected.value = false
      dropped = true
    })
  }
  function close(): void {
    source?.close()
    source = null
  }
  function subscribe(listener: (change: Change) => void): () => void {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  return { connected, open, close, subscribe }
})

/** Listens for as long as the component lives. */
export function onChange(listener: (change: Change) => void): void {
  onScopeDispose(useLive().subscribe(listener))
}
