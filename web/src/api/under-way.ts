import { shallowRef } from 'vue'

/** What was sent and is not answered yet: a change, a file, a question that may take long. */
export interface UnderWay {
  readonly since: number
  /** It can be stopped at any time, however far it has come. */
  readonly stops: boolean
  readonly stop: () => void
}
/** All of them, oldest first. */
export const underWay = shallowRef<readonly UnderWay[]>([])

/** Keeps in sight what is being sent, so that it can be stopped. */
export async function keptInSight<T>(
  send: (signal: AbortSignal) => Promise<T>,
  stops: boolean,
): Promise<T> {
  const stopping = new AbortController()
  const mine: UnderWay = { since: Date.now(), stops, stop: () => stopping.abort() }
  underWay.value = [...underWay.value, mine]
  try {
    return await send(stopping.signal)
  } finally {
    underWay.value = underWay.value.filter((each) => each !== mine)
  }
}
