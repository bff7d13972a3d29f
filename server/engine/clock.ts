/** The one source of time. Everything that depends on time asks it, so that time can be moved. */
export interface Clock {
  /** Epoch milliseconds, UTC. */
  now(): number
}

export const systemClock: Clock = { now: () => Date.now() }

/** A clock that stands still until it is set: for tests, the demo's history and rehearsal. */
export interface HandClock extends Clock {
  set(at: number): void
}

export function handClock(start: number): HandClock {
  let at = start
  return {
    now: () => at,
    set: (next) => {
      at = next
    },
  }
}
