import { onScopeDispose } from 'vue'
import type { LiveChange } from '#contract/live.ts'
import { inOneRequest } from '#web/api/together.ts'

/** How much a change concerns what is shown: it shows on it; it may, in some corner; it does not. */
export type Concern = 'now' | 'later' | false

/** Changes told in one breath are asked about once, after so many milliseconds. */
export const BREATH = 120
/** What may show in a corner waits so long, and up to as long again: many browsers ask in turn. */
const LATER = 4_000

/** Each browser has its own turn among those that ask, the same for all it asks. */
const TURN = Math.random()

/** Whatever waits to be asked in this browser. */
const planned = new Set<() => void>()
/** When one question is due, all that wait go with it: several are no dearer than one. */
const askAll = (): void =>
  inOneRequest(() => {
    for (const look of [...planned]) look()
  })

/**
 * Asks again when changes say so: once for all that is told in a breath, spread among the browsers
 * that ask, together with whatever else is to be asked, never while a question is under way, and
 * not at all where the answer at hand holds the change already. `ask` answers the mark that its
 * answer was given at; where the answer may come in other ways too, `at` says the mark of what is
 * at hand.
 */
export function useAgain(
  ask: () => Promise<number>,
  at: () => number = () => 0,
  random: () => number = () => TURN,
) {
  let wanted = 0
  let answered = 0
  const held = () => Math.max(answered, at())
  let due = Infinity
  let timer: ReturnType<typeof setTimeout> | undefined
  let asking = 0
  let over = false

  function plan(wait: number): void {
    const then = Date.now() + wait
    if (over || then >= due) return
    due = then
    clearTimeout(timer)
    timer = setTimeout(askAll, wait)
    planned.add(look)
  }
  function rest(): void {
    due = Infinity
    clearTimeout(timer)
    planned.delete(look)
  }
  function look(): void {
    rest()
    if (held() >= wanted) return
    if (asking > 0) return plan(BREATH)
    void now()
  }
  async function now(): Promise<void> {
    asking++
    if (wanted === Infinity) wanted = 0
    try {
      answered = Math.max(answered, await ask())
    } finally {
      asking--
    }
  }
  function hear({ at: told, spread }: LiveChange, concern: Concern): void {
    if (concern === false || told <= held()) return
    wanted = Math.max(wanted, told)
    const wait = concern === 'now' ? BREATH + spread * random() : LATER * (1 + random())
    plan(wait)
  }
  /** Asks in a breath, whatever is at hand. */
  function soon(): void {
    wanted = Infinity
    plan(BREATH)
  }
  onScopeDispose(() => {
    over = true
    rest()
  })
  return { now, hear, soon }
}
