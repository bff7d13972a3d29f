import { Temporal } from 'temporal-polyfill'
import { kept } from '../kept.ts'

/**
 * What clocks in a zone show. Local times here are seconds since the start of 1970 as if there were no
 * zones; instants are seconds since the start of 1970 in UTC. The zone's changes are looked up once
 * for some years and kept, so that a time is placed by a subtraction.
 */
export interface Zone {
  /**
   * The instant of a local time. One that a clock change skips is read with the offset before the
   * gap; one that occurs twice is its first occurrence (RFC 5545, 3.3.5; `compatible` in Temporal).
   */
  instant(local: number): number
  /** The local time of an instant. */
  local(at: number): number
  /** The first instant of a local day, given by its midnight. */
  dayStart(midnight: number): number
}

/** A time during which clocks are so far ahead of UTC: from one change to the next. */
interface Stretch {
  readonly from: number
  readonly to: number
  readonly offset: number
  /** Local times that are read with its offset. */
  readonly localFrom: number
  readonly localTo: number
}

const DAY = 86_400
/** Some years, in seconds: what is looked up at once. */
const SPAN = 5 * 366 * DAY
/** More than a zone is ever ahead of UTC, or behind. */
const MARGIN = 2 * DAY
const NEVER = Number.MAX_SAFE_INTEGER

const secondsOf = (at: Temporal.ZonedDateTime): number => at.epochMilliseconds / 1_000
const offsetOf = (at: Temporal.ZonedDateTime): number => at.offsetNanoseconds / 1e9

interface Change {
  readonly at: number
  readonly offset: number
}
/** What clocks change at about a span of instants: from before it begins to after it ends. */
function changesAbout(zone: string, first: number): { changes: Change[]; goesOn: boolean } {
  const begin = Temporal.Instant.fromEpochMilliseconds(first * 1_000).toZonedDateTimeISO(zone)
  const last = begin.getTimeZoneTransition('previous')
  const changes: Change[] = [
    last
      ? { at: secondsOf(last) - MARGIN, offset: offsetOf(last.subtract({ nanoseconds: 1 })) }
      : { at: -NEVER, offset: offsetOf(begin) },
  ]
  for (
    let at = last ?? begin.getTimeZoneTransition('next');
    at;
    at = at.getTimeZoneTransition('next')
  ) {
    changes.push({ at: secondsOf(at), offset: offsetOf(at) })
    if (secondsOf(at) > first + SPAN + MARGIN) return { changes, goesOn: true }
  }
  return { changes, goesOn: false }
}
/** The stretches that a span of instants, or of local times, touches, in order. */
function stretchesOf(zone: string, first: number): Stretch[] {
  const { changes, goesOn } = changesAbout(zone, first)
  const stretches: Stretch[] = []
  for (const [i, { at: from, offset }] of changes.entries()) {
    const next = changes[i + 1]
    // Times that are skipped, and those shown twice, are read with the offset before the change.
    const localTo = next ? next.at + Math.max(offset, next.offset) : NEVER
    const localFrom = stretches[i - 1]?.localTo ?? (from === -NEVER ? from : from + offset)
    stretches.push({ from, to: next?.at ?? NEVER, offset, localFrom, localTo })
  }
  // What comes after the last change that was looked up is another span's.
  return goesOn ? stretches.slice(0, -1) : stretches
}

function makeZone(name: string): Zone {
  const span = kept(1_000, (nth: number) => stretchesOf(name, nth * SPAN))
  const around = (seconds: number) => span(Math.floor(seconds / SPAN))
  // The same stretch is asked again and again.
  let last: Stretch | undefined
  let shown: Stretch | undefined
  const ofLocal = (local: number): Stretch => {
    if (!last || local < last.localFrom || local >= last.localTo)
      last = around(local).find(({ localTo }) => local < localTo)!
    return last
  }
  const ofInstant = (at: number): Stretch => {
    if (!shown || at < shown.from || at >= shown.to) shown = around(at).find(({ to }) => at < to)!
    return shown
  }
  return {
    instant: (local) => local - ofLocal(local).offset,
    local: (at) => at + ofInstant(at).offset,
    dayStart(midnight) {
      const { to, offset } = ofLocal(midnight)
      return Math.min(midnight - offset, to)
    },
  }
}

/**
 * A zone by its IANA name. There are some six hundred; more are the same ones, written otherwise.
 * @throws RangeError for one that there is not
 */
export const zoneOf = kept(1_000, (name: string): Zone => {
  const zone = makeZone(name)
  // Looked at now: what is no zone is not kept.
  zone.local(0)
  return zone
})
