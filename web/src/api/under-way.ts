import { shallowRef } from 'vue'

/** A change that was sent and is not answered yet. */
export interface UnderWay {
  readonly since: number
  readonly stop: () => void
}
/** All of them, oldest first. */
export const underWay = shallowRef<readonly UnderWay[]>([])

/** Keeps in sight what is being sent, so that it can be stopped. */
export async function keptInSight<T>(send: (signal: AbortSignal) => Promise<T>): Promise<T> {
  const stopping = new AbortController()
  const mine: UnderWay = { since: Date.now(), stop: () => stopping.abort() }
  underWay.value = [...underWay.value, mine]
  try {
    return await send(stopping.signal)
  } finally {
    underWay.value = underWay.value.filter((each) => each !== mine)
  }
}
