import { computed, ref, type Ref } from 'vue'
import { focusWhenThere } from '#web/parts/focus-when-there.ts'
import type { Days, Lying } from './calendar-days.ts'
import { spotAfter, type Laid, type Spot } from './calendar-keys.ts'
import { daysBetween, plusDays, type Moved } from './span.ts'

interface Sheet {
  readonly sheet: Readonly<Ref<HTMLElement | null>>
  readonly today: () => string
  readonly days: () => Days
  readonly laid: () => Laid<Lying>
  /** Shows the sheet that a day lies on. */
  readonly leafTo: (day: string) => void
  /** Begins a task that is due on a day. */
  readonly add: (day: string) => void
  /** Moves a task by Alt and an arrow; answers where it came to lie. */
  readonly move: (event: KeyboardEvent, id: number) => Promise<Moved | null>
  /** Does what a key does to a task; answers whether it does anything. */
  readonly act: (event: KeyboardEvent, id: number) => boolean
}

/** The name of what lies on a spot, by which it is found on the sheet; null where nothing does. */
function nameOf({ weeks, width }: Laid<Lying>, { day, on }: Spot): string | null {
  const week = weeks.find(({ first }) => day >= first && day < plusDays(first, width))
  if (!week || on === null) return week ? day : null
  if (on === 'more') return week.more[daysBetween(week.first, day)] ? `${day}/more` : null
  const bar = week.bars.find(({ item }) => item.id === on)
  return bar ? `${plusDays(week.first, bar.from)}/${on}` : null
}

/**
 * One stop of Tab for a calendar sheet: arrows lead from day to day and down to what lies on each;
 * keys there do what they do to a task anywhere.
 */
export function useCalendarKeys({ sheet, today, days, laid, ...does }: Sheet) {
  const cursor = ref<Spot>({ day: today(), on: null })
  const isHere = (day: string) => day >= days().first && day <= days().last
  /** Where Tab comes to: where the keys were, else today, else the first day in sight. */
  const stop = computed((): Spot => {
    const { day, on } = cursor.value
    if (isHere(day)) return { day, on: nameOf(laid(), cursor.value) === null ? null : on }
    return { day: isHere(today()) ? today() : days().first, on: null }
  })
  /** Puts the focus on a spot, onto another sheet where it lies there, once it has come. */
  async function go(spot: Spot): Promise<void> {
    cursor.value = spot
    if (!isHere(spot.day)) does.leafTo(spot.day)
    await focusWhenThere(
      () => {
        const name = nameOf(laid(), spot)
        return name ? sheet.value?.querySelector<HTMLElement>(`[data-spot="${name}"]`) : null
      },
      () => cursor.value.day === spot.day,
    )
  }
  /** Notes what the focus came to. */
  function came({ target }: FocusEvent): void {
    const [day, on] = (target as HTMLElement).dataset['spot']?.split('/') ?? []
    if (day === undefined) return
    if (on === undefined || on === 'more') return void (cursor.value = { day, on: on ?? null })
    // One may have come to it on a later one of its days: the keys stay on that.
    const at = { day: cursor.value.day, on: Number(on) }
    cursor.value = nameOf(laid(), at) === `${day}/${on}` ? at : { day, on: Number(on) }
  }
  async function move(event: KeyboardEvent, id: number): Promise<void> {
    const moved = await does.move(event, id)
    if (moved) await go({ day: moved.due, on: id })
  }
  /** Does what a key does on a spot; answers whether it does anything. */
  function spotKey(event: KeyboardEvent, spot: Spot): boolean {
    const task = typeof spot.on === 'number' ? spot.on : null
    if (event.altKey) {
      if (task !== null) void move(event, task)
      return false
    }
    if (task !== null && does.act(event, task)) return true
    if (spot.on === null && event.key === 'Enter') {
      does.add(spot.day)
      return true
    }
    const next = spotAfter(laid(), spot, event.key)
    // The first days of the next month stand below this one: its own sheet is meant.
    if (next && event.key.startsWith('Page')) does.leafTo(next.day)
    if (next) void go(next)
    return next !== null
  }
  function keydown(event: KeyboardEvent): void {
    const isSpot = (event.target as HTMLElement).dataset['spot'] !== undefined
    if (!isSpot || event.ctrlKey || event.metaKey) return
    if (spotKey(event, cursor.value)) event.preventDefault()
  }
  return { stop, go, came, keydown }
}
