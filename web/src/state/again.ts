import { onScopeDispose } from 'vue'
import type { LiveChange } from '#contract/live.ts'

/** How much a change concerns what is shown: it shows on it; it may, in some corner; it does not. */
export type Concern = 'now' | 'later' | false

/** Changes told in one breath are asked about once, after so many milliseconds. */
const BREATH = 120
/** What may show in a corner waits so long, and up to as long again: many browsers ask in turn. */
const LATER = 4_000

/**
 * Asks again when changes say so: once for all that is told in a breath, spread among the browsers
 * that ask, never while a question is under way, and not at all where the answer at hand holds the
 * change already. `ask` answers the mark that its answer was given at.
 */
export function useAgain(ask: () => Promise<number>, random: () => number = Math.random) {
  let wanted = 0
  let held = 0
  let due = Infinity
  let timer: ReturnType<typeof setTimeout> | undefined
  let asking = 0

  function plan(wait: number): void {
    const at = Date.now() + wait
    if (at >= due) return
    due = at
    clearTimeout(timer)
    timer = setTimeout(look, wait)
  }
  function look(): void {
    due = Infinity
    if (held >= wanted) return
    if (asking > 0) return plan(BREATH)
    void now()
  }
  /** Asks at once; an answer that was overtaken by a newer question holds nothing. */
  async function now(): Promise<void> {
    asking++
    try {
      held = Math.max(held, await ask())
    } finally {
      asking--
    }
  }
  function hear({ at, spread }: LiveChange, concern: Concern): void {
    if (concern === false || at <= held) return
    wanted = Math.max(wanted, at)
    const wait = concern === 'now' ? BREATH + spread * random() : LATER * (1 + random())
    plan(wait)
  }
  onScopeDispose(() => clearTimeout(timer))
  return { now, hear }
}
