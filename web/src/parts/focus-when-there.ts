import { nextTick } from 'vue'

/** As many frames as something is waited for that is drawn with the next few. */
const MOST = 60

/**
 * Puts the focus on something once it is there, unless it is not wanted any more: lines that are far
 * away are drawn with the next frames, others come with an answer.
 */
export async function focusWhenThere(
  find: () => HTMLElement | null | undefined,
  wanted: () => boolean,
  most = MOST,
): Promise<void> {
  for (let tries = 0; tries < most && wanted(); tries++) {
    await nextTick()
    const found = find()
    if (found) return found.focus()
    await new Promise((then) => requestAnimationFrame(then))
  }
}
