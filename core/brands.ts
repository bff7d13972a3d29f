declare const brand: unique symbol
type Brand<T, Name extends string> = T & { readonly [brand]: Name }

/** A calendar date, `YYYY-MM-DD`. */
export type IsoDate = Brand<string, 'IsoDate'>
/** A local time of day, `HH:MM` (or `HH:MM:SS`), 24 hours. */
export type LocalTime = Brand<string, 'LocalTime'>
/**
 * A local date-time without a zone, `YYYY-MM-DDTHH:MM[:SS]`, or a date alone where no time is
 * meant.
 */
export type LocalStamp = Brand<string, 'LocalStamp'>
/** Epoch milliseconds, UTC. */
export type Instant = Brand<number, 'Instant'>
/** Days since 1970-01-01; what calendar arithmetic runs on inside the core. */
export type EpochDay = Brand<number, 'EpochDay'>
/** A whole number of minutes. */
export type Minutes = Brand<number, 'Minutes'>
