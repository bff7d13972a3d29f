import {
  AutoScroller,
  DragDropManager,
  Draggable,
  KeyboardSensor,
  PointerActivationConstraints,
  PointerSensor,
  PreventSelection,
} from '@dnd-kit/dom'
import { carrying, carryTo, letGo, pickUp, placesFor } from './carry.ts'
import { nextPlace, stepWithin, within, type Direction, type Place } from './way.ts'

/** Pointers and keys, as the drag and drop package hears them: loaded once something can be carried. */

/** Arrows lead from place to place; lists scroll under what is carried over them. */
class CarryKeys extends KeyboardSensor {
  constructor(...args: ConstructorParameters<typeof KeyboardSensor>) {
    super(...args)
    // However it ended, keys are free again.
    args[0].monitor.addEventListener('dragend', () => this.cleanup())
  }
  protected override handleKeyDown(...args: Parameters<KeyboardSensor['handleKeyDown']>): void {
    // While something is carried, keys do nothing else.
    args[0].stopPropagation()
    super.handleKeyDown(...args)
  }
  protected override handleMove(direction: Direction, event: KeyboardEvent): void {
    event.preventDefault()
    const from = carrying.value
    if (!from) return
    const places = placesFor(from.what)
    const here = places.find(({ box }) => within(from.at, box))
    const to =
      (here && stepWithin(here, from.at, direction)) ??
      (here && scrolled(here, direction) ? from.at : nextPlace(places, from.at, direction))
    if (to) this.manager.actions.move({ event, to })
  }
}
/** Scrolls a list on where there is more of it; answers whether there was. */
function scrolled(
  { element, grain }: { element: Element; grain: Place['grain'] },
  direction: Direction,
): boolean {
  const by = grain.y ?? 0
  if (!by || direction === 'left' || direction === 'right') return false
  const list = [element, ...element.querySelectorAll('*')].find(
    (el) => el.scrollHeight > el.clientHeight + 1 && getComputedStyle(el).overflowY !== 'visible',
  )
  const before = list?.scrollTop
  list?.scrollBy({ top: direction === 'down' ? by : -by })
  return list !== undefined && list.scrollTop !== before
}

/** What is typed into, or moved by itself, is no handle of what it lies in. */
const OWN = 'input:not([type=checkbox]), textarea, select, [contenteditable], [data-own-drag]'
const { Delay, Distance } = PointerActivationConstraints
const manager = new DragDropManager({
  plugins: [AutoScroller, PreventSelection],
  sensors: [
    PointerSensor.configure({
      // A finger that moves at once scrolls; one that rests picks up.
      activationConstraints: ({ pointerType }) =>
        pointerType === 'touch'
          ? [new Delay({ value: 300, tolerance: 8 })]
          : [new Distance({ value: 5 })],
      preventActivation: ({ target: from }, { element }) => {
        const own = from instanceof Element ? from.closest(OWN) : null
        return own !== null && own !== element
      },
    }),
    {
      plugin: CarryKeys,
      options: {
        keyboardCodes: {
          ...{ up: ['ArrowUp'], down: ['ArrowDown'], left: ['ArrowLeft'], right: ['ArrowRight'] },
          ...{ start: ['Enter'], end: ['Enter', 'NumpadEnter'], cancel: ['Escape', 'Tab'] },
        },
        preventActivation: (event: KeyboardEvent) => !event.altKey,
      },
    },
  ],
})
manager.monitor.addEventListener('dragstart', ({ operation: { source, position } }) => {
  if (source?.element) pickUp(source.element, position.current)
})
manager.monitor.addEventListener('dragmove', ({ to }) => to && carryTo(to))
manager.monitor.addEventListener('dragend', ({ canceled, nativeEvent }) => {
  // The last move may not have been told yet.
  if (nativeEvent instanceof PointerEvent)
    carryTo({ x: nativeEvent.clientX, y: nativeEvent.clientY })
  letGo({ canceled })
})
// What is let go of out of sight stays where it was.
function leave(event: Event): void {
  if (!carrying.value) return
  event.stopPropagation()
  manager.actions.stop({ event, canceled: true })
}
window.addEventListener('blur', leave)
window.addEventListener('keydown', (event) => event.key === 'Escape' && leave(event), true)

/** What is ready to be picked up: one thing under the pointer, one in focus. */
const ready = new Map<string, Draggable>()
let count = 0

/** Makes an element ready to be picked up, by the event that came to it. */
export function makeReady(element: Element, by: string): void {
  const before = ready.get(by)
  if (before?.element === element || carrying.value) return
  before?.destroy()
  ready.set(by, new Draggable({ id: ++count, element }, manager))
}
