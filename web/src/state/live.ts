import { defineStore } from 'pinia'
import { onScopeDispose, ref } from 'vue'
import type { LiveChange, LiveHello, LiveProgress } from '#contract/live.ts'
import { get } from '#web/api/client.ts'

/** What the server says has changed; views that care ask for themselves again. */
export const useLive = defineStore('live', () => {
  const listeners = new Set<(change: LiveChange) => void>()
  const connected = ref(true)
  /** How far a large change of one's own has come. */
  const progress = ref<LiveProgress | null>(null)
  let source: EventSource | null = null
  /** How far the telling had come when it was last heard of; null: nothing was asked yet. */
  let heard: number | null = null

  function tell(change: LiveChange): void {
    heard = change.at
    for (const listener of listeners) listener(change)
  }
  function greeted({ at }: LiveHello): void {
    connected.value = true
    // What was told before the line stood, or while it was down, was missed: all is asked again.
    if (heard !== null && heard !== at)
      tell({
        ...{ at, tasks: [], fields: null, on: [] },
        projects: [],
        entities: ['all'],
        spread: 0,
      })
    heard = at
  }
  /** Says at which mark the first answers were given. */
  function began(at: number): void {
    heard ??= at
  }
  const read = <T>(event: Event) => JSON.parse((event as MessageEvent<string>).data) as T
  function open(): void {
    if (source) return
    source = new EventSource('/api/v1/live')
    source.addEventListener('hello', (event) => greeted(read<LiveHello>(event)))
    source.addEventListener('change', (event) => tell(read<LiveChange>(event)))
    source.addEventListener('progress', (event) => (progress.value = read<LiveProgress>(event)))
    source.addEventListener('bye', () => {
      // The session is over: asking once says so to whoever shows the door.
      close()
      void get('/me').catch(() => undefined)
    })
    source.addEventListener('error', () => {
      connected.value = false
    })
  }
  function close(): void {
    source?.close()
    source = null
    heard = null
  }
  function subscribe(listener: (change: LiveChange) => void): () => void {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  return { connected, progress, began, open, close, subscribe }
})

/** Too much changed to be told: everything is asked for again. */
export const isEverything = ({ entities }: LiveChange): boolean => entities.includes('all')

/** Listens for as long as the component lives. */
export function onChange(listener: (change: LiveChange) => void): void {
  onScopeDispose(useLive().subscribe(listener))
}
