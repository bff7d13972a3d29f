import { expect, it } from 'vitest'
import { timeAfterMidnight, toInstant, toLocal } from './dates.ts'
import type { IsoDate, LocalTime } from '../brands.ts'

it('the time of day after a midnight is what the zone says, on days without a clock change', () => {
  const midnight = toInstant('2026-11-23' as IsoDate, '00:00' as LocalTime, 'Europe/London')
  for (const ms of [0, 1, 999, 1_000, 59_999, 60_000, 32_400_000, 45_296_789, 86_399_999])
    expect(timeAfterMidnight(ms)).toBe(toLocal(midnight + ms, 'Europe/London').time)
})
