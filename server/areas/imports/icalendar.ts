import ICAL from 'ical.js'
import { refuse } from '#core/refusal.ts'

/** Reading iCalendar files (RFC 5545): their events and tasks, and what these say. */

/** The events and tasks of a file. @throws Refusal `bad-calendar` */
export function entriesIn(bytes: Buffer): ICAL.Component[] {
  const all = parsed(bytes.toString('utf8').replace(/^\uFEFF/, ''))
  return all.length === 0 ? refuse('bad-calendar', 'This file holds no event and no task.') : all
}
function parsed(text: string): ICAL.Component[] {
  try {
    const found: unknown[] = ICAL.parse(text)
    const roots = Array.isArray(found[0]) ? found : [found]
    return roots
      .filter((root) => Array.isArray(root))
      .map((root) => new ICAL.Component(root))
      .flatMap((root) => [
        ...root.getAllSubcomponents('vevent'),
        ...root.getAllSubcomponents('vtodo'),
      ])
  } catch (error) {
    const why = error instanceof Error ? error.message : 'it cannot be read'
    return refuse('bad-calendar', `This is no iCalendar file: ${why.slice(0, 200)}.`)
  }
}

/** Why an event cannot be read, where it cannot: its values are read one by one, as they are asked for. */
export function faultOf(event: ICAL.Component): string | null {
  try {
    for (const property of event.getAllProperties()) property.getValues()
    return null
  } catch (error) {
    return error instanceof Error
      ? `It cannot be read: ${error.message.slice(0, 200)}.`
      : 'It cannot be read.'
  }
}

export const textOf = (event: ICAL.Component, name: string): string =>
  String(event.getFirstPropertyValue(name) ?? '')

export const timesOf = (event: ICAL.Component, name: string): ICAL.Time[] =>
  event
    .getAllProperties(name)
    .flatMap((property) => property.getValues())
    .flatMap((value: unknown) =>
      value instanceof ICAL.Time ? [value] : value instanceof ICAL.Period ? [value.start] : [],
    )

/** When an event begins; of a task that does not say so, when it is due. */
export const startOf = (event: ICAL.Component): ICAL.Time | null => {
  const found: unknown =
    event.getFirstPropertyValue('dtstart') ?? event.getFirstPropertyValue('due')
  return found instanceof ICAL.Time ? found : null
}
export const isCancelled = (event: ICAL.Component): boolean =>
  textOf(event, 'status').toUpperCase() === 'CANCELLED'
