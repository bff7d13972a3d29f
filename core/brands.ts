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

declare const kind: unique symbol
/**
 * The number of one kind of thing. A plain number may become one (numbers come from addresses and
 * files), but the number of one kind never passes for that of another.
 */
export type Id<Kind extends string> = number & { readonly [kind]?: Kind }
export type PersonId = Id<'person'>
export type TeamId = Id<'team'>
export type TokenId = Id<'token'>
export type ClientId = Id<'client'>
export type ProjectId = Id<'project'>
export type PhaseId = Id<'phase'>
export type TaskId = Id<'task'>
export type StateSetId = Id<'state set'>
export type StateId = Id<'state'>
export type TagId = Id<'tag'>
export type FieldId = Id<'field'>
export type ClientStateId = Id<'client state'>
export type ViewId = Id<'view'>
export type TemplateId = Id<'template'>
export type SeriesId = Id<'series'>
export type HolidayId = Id<'holiday'>
export type OccurrenceId = Id<'occurrence'>
export type RuleId = Id<'rule'>
export type RunId = Id<'run'>
/** What one transaction through the journal did is one change, under one number. */
export type ChangeId = Id<'change'>
