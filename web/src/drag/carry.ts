import { shallowRef, type Directive } from 'vue'
import type { makeReady } from './manager.ts'
import type { Place, Point } from './way.ts'

/**
 * What is picked up and put down, by mouse, by a long touch, or by keyboard: Alt and Enter pick it
 * up, arrows choose where, Enter puts it down, Esc leaves it where it was. Rows that come and go are
 * only noted here; what picks up is made ready for what the pointer or the focus comes to.
 */

/** Something being carried. */
export interface Carried {
  /** What kind of thing it is: only what takes such things is a place to put it down. */
  readonly kind: string
  readonly id: string | number
  readonly name: string
  /** Which part of it, where only a part is moved. */
  readonly part?: string
  /** What it was picked up from, where it stands in several: the key of a group. */
  readonly out?: string
}
/** A place to put things down. */
export interface Landing {
  takes(carried: Carried): boolean
  /**
   * Shows where something would come to lie that was picked up at `from`, and says it: “to
   * Waiting”. Null: it is not here any more.
   */
  over(carried: Carried | null, at: Point, from: Point): string
  land(carried: Carried, at: Point, from: Point): void
  /** How far apart places in it lie, where arrows go from one to the next. */
  readonly grain?: () => Place['grain']
}

interface Carrying {
  readonly what: Carried
  readonly from: Point
  readonly at: Point
  /** Where it would be put down; empty where it cannot be. */
  readonly to: string
}
/** What is carried now, and where to. */
export const carrying = shallowRef<Carrying | null>(null)

const carriedBy = new WeakMap<Element, Carried>()
const landings = new Map<Element, Landing>()
let target: Landing | null = null

/** The place under a point that takes what is carried; what lies on top of it hides it. */
function landingAt({ x, y }: Point, what: Carried): Landing | null {
  const [top] = document.elementsFromPoint(x, y).filter((el) => !el.closest('.carried'))
  for (let el: Element | null = top ?? null; el; el = el.parentElement) {
    const landing = landings.get(el)
    if (landing?.takes(what)) return landing
  }
  return null
}
/** Where what is carried can be put down, each with the element that takes it. */
export const placesFor = (what: Carried): (Place & { readonly element: Element })[] =>
  [...landings].flatMap(([element, landing]) =>
    landing.takes(what)
      ? [{ element, box: element.getBoundingClientRect(), grain: landing.grain?.() ?? {} }]
      : [],
  )
export function pickUp(element: Element, at: Point): void {
  const what = carriedBy.get(element)
  if (!what) return
  carrying.value = { what, from: at, at, to: '' }
  carryTo(at)
}
export function carryTo(at: Point): void {
  if (!carrying.value) return
  const { what, from } = carrying.value
  const found = landingAt(at, what)
  if (target && target !== found) target.over(null, at, from)
  target = found
  carrying.value = { what, from, at, to: found?.over(what, at, from) ?? '' }
}
/** Puts down what is carried, or leaves it where it was. */
export function letGo({ canceled }: { canceled: boolean }): void {
  const carried = carrying.value
  const landing = target
  carrying.value = target = null
  if (!carried || !landing) return
  const { what, at, from } = carried
  landing.over(null, at, from)
  if (!canceled) landing.land(what, at, from)
}

/** Makes ready to pick up what the pointer or the focus comes to. */
function come(event: Event): void {
  const { type, target: to } = event
  // What is pressed already is what will be picked up, wherever the pointer goes.
  if (event instanceof PointerEvent && event.pointerType !== 'touch' && event.buttons) return
  let element = to instanceof Element ? to : null
  while (element && !carriedBy.has(element)) element = element.parentElement
  if (element) void ready().then((make) => make?.(element, type))
}
let fetching: Promise<typeof makeReady | null> | null = null
/** What picks up; null while it cannot be fetched: what is come to next asks for it again. */
const ready = (): NonNullable<typeof fetching> =>
  (fetching ??= import('./manager.ts').then(
    (manager) => manager.makeReady,
    () => (fetching = null),
  ))
let listening = false
function listen(): void {
  if (listening) return
  listening = true
  void ready()
  for (const type of ['pointerover', 'focusin']) document.addEventListener(type, come)
}
function carries(element: HTMLElement, what: Carried | null | undefined | false): void {
  if (!what) return void carriedBy.delete(element)
  carriedBy.set(element, what)
  listen()
}
/** An element that can be picked up, as what it stands for; nothing where it cannot. */
export const vCarry: Directive<HTMLElement, Carried | null | undefined | false> = {
  mounted: (element, { value }) => carries(element, value),
  updated: (element, { value }) => carries(element, value),
}
/** An element that things can be put down on; nothing where they cannot. */
export const vLand: Directive<HTMLElement, Landing | null | undefined | false> = {
  mounted: (element, { value }) => void (value && landings.set(element, value)),
  updated: (element, { value }) =>
    void (value ? landings.set(element, value) : landings.delete(element)),
  beforeUnmount: (element) => void landings.delete(element),
}
