import type { Event } from '#core/events/events.ts'
import type { AlarmRow } from './queries.ts'
import type { Large, Steps } from './portions.ts'
import type { Engine } from './services.ts'

/** What the runner is handed: who hears of what happened, and what alarms do. */

/** Somebody that hears of every change once, in order, whatever restarts. */
export type Listener = {
  /** What its position in the journal is kept under. */
  readonly name: string
} & (ByEvent | ByChange)
/** It hears each event by itself: a change of very many is heard in portions. */
interface ByEvent {
  /**
   * Acts on an event, in the transaction that moves its position on. Where that is taken back it is
   * asked again: what it does stands in the database and nowhere else.
   */
  hear(engine: Engine, event: Event): void
}
/** It hears each change whole. */
interface ByChange {
  /**
   * Works out what is to be done about a change, in steps; what it answers is done in the
   * transaction that moves its position on, and again where that is taken back.
   */
  weigh(engine: Engine, events: readonly Event[]): Steps<() => void>
}

/** A kind of alarm: what is done when one is due. */
export interface AlarmKind {
  readonly kind: AlarmRow['kind']
  /**
   * Acts on it, and again where that is taken back; what may be too much to be done at once it
   * answers, ready to be made.
   */
  run(engine: Engine, alarm: AlarmRow): Large<void> | void
  /** Says that it failed, and puts the alarm off: one that stays due would be tried for ever. */
  failed(engine: Engine, alarm: AlarmRow, reason: string): void
}

/** What is done once a day, in steps. */
export type Daily = readonly ((engine: Engine) => Steps<void>)[]

export interface Handlers {
  readonly listeners: readonly Listener[]
  readonly alarms: readonly AlarmKind[]
}
