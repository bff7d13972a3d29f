import { useEventListener, useMutationObserver } from '@vueuse/core'
import { watch, type Ref } from 'vue'

const CONTROLS = 'a[href], button:not(:disabled), input:not(:disabled), [role="button"]'
/** What of a line keys come to first: what opens it. */
const MAIN = '[data-opens]'
const STEPS: Readonly<Record<string, number>> = {
  ...{ ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12, Home: -1_000_000, End: 1_000_000 },
}
const SIDES: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowLeft: -1 }
const within = (n: number, count: number) => Math.max(0, Math.min(count - 1, n))

const controlsIn = (line: Element) =>
  [...line.querySelectorAll<HTMLElement>(CONTROLS)].filter((el) => el.getClientRects().length)
const mainOf = (line: Element | undefined): HTMLElement | undefined =>
  line && (line.querySelector<HTMLElement>(MAIN) ?? controlsIn(line)[0])
/** Whether keys are its own: it is typed into, or it opens something by them. */
const keeps = ({ target }: KeyboardEvent): boolean =>
  target instanceof HTMLInputElement && target.type !== 'checkbox'

/**
 * One stop of Tab for lines that all stand there: up and down lead from line to line, left and right
 * among what can be pressed in one. Where the line in focus goes, the one that takes its place has
 * the focus. `lines` is what a line matches.
 */
export function useRoving(root: Readonly<Ref<HTMLElement | null>>, lines: string): void {
  let stop: HTMLElement | undefined
  /** Where the stop is: its line, and which of what can be pressed there. */
  let at = { line: 0, control: -1 }
  let focused = false
  const all = () => [...(root.value?.querySelectorAll(lines) ?? [])]

  /** What can be reached at a place; the main thing, where a line has no such control. */
  function controlAt(line: Element | undefined, control: number): HTMLElement | undefined {
    return (line && controlsIn(line)[control]) ?? mainOf(line)
  }
  /** Leaves one thing that Tab comes to. */
  function set(): void {
    const here = all()
    if (!stop?.isConnected || !root.value?.contains(stop)) {
      stop = controlAt(here[within(at.line, here.length)], at.control)
      if (focused && document.activeElement === document.body) stop?.focus()
    }
    for (const control of here.flatMap(controlsIn)) control.tabIndex = control === stop ? 0 : -1
  }
  function come(to: HTMLElement): void {
    const line = to.closest(lines)
    if (!line || !root.value?.contains(line)) return
    focused = true
    stop = to
    const control = controlsIn(line).indexOf(to)
    at = { line: all().indexOf(line), control: to === mainOf(line) ? -1 : control }
    set()
  }
  function lead(event: KeyboardEvent, line: Element): HTMLElement | undefined {
    const [step, side] = [STEPS[event.key], SIDES[event.key]]
    const here = all()
    if (step) return controlAt(here[within(here.indexOf(line) + step, here.length)], at.control)
    const controls = controlsIn(line)
    return side ? controls[within(controls.indexOf(stop!) + side, controls.length)] : undefined
  }
  function keydown(event: KeyboardEvent): void {
    const line = (event.target as HTMLElement).closest(lines)
    if (!line || event.defaultPrevented || keeps(event)) return
    if (event.altKey || event.ctrlKey || event.metaKey) return
    const to = lead(event, line)
    if (!to) return
    event.preventDefault()
    to.focus()
  }
  useEventListener(root, 'focusin', ({ target }) => come(target as HTMLElement))
  useEventListener(root, 'focusout', ({ relatedTarget, target }) => {
    // What is taken away while it has the focus is not left: the next line takes its place.
    if (relatedTarget || (target as HTMLElement).isConnected) focused = relatedTarget !== null
  })
  useEventListener(root, 'keydown', keydown)
  useMutationObserver(root, set, { childList: true, subtree: true })
  watch(root, set, { flush: 'post' })
}
