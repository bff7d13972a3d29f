import type { Filling } from '#contract/clockwork.ts'
import type { IsoDate } from '#core/brands.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import type { Engine } from '#server/engine/services.ts'

/** What the chapters of the demo share: the engine, the day, and who and what is called what. */
export interface Scene {
  readonly engine: Engine
  readonly today: IsoDate
  /** The number of a person or client by name, or by how it begins. */
  who(name: string): number
  team(name: string): number
  template(name: string): number
  /** A working day counted from today. */
  on(days: number): IsoDate
}

export const setScene = (
  engine: Engine,
  today: IsoDate,
  { ids, teams, templates }: Readonly<Record<'ids' | 'teams' | 'templates', Map<string, number>>>,
): Scene => ({
  engine,
  today,
  who: (name) => ids.get(name) ?? [...ids].find(([n]) => n.startsWith(name))![1],
  team: (name) => teams.get(name)!,
  template: (name) => templates.get(name)!,
  on: (days) => addWorkingDays(engine.firm.calendar(), today, days, 'following'),
})

export const by = ({ who }: Scene, name: string) => ({ kind: 'person' as const, id: who(name) })
export const person = ({ who }: Scene, name: string): Filling => ({ person: who(name) })
