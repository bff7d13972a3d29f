import { existsSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { addDays } from '#core/calendar/dates.ts'
import { isoDay } from '#contract/common.ts'
import type { Kept } from './database/backup.ts'
import type { Engine } from './engine/services.ts'

/** Where nightly copies of the firm go, and for how many days each stays. */
export interface Nightly {
  readonly folder: string
  readonly days: number
}

/** The firm's local time from which on the copy of a day is made. */
const FROM = '02:00'
/** How long is waited after one failed, in milliseconds. */
const AGAIN = 3_600_000

const isDay = (name: string): boolean => isoDay.validate(name).error === undefined

/**
 * Copies the firm once a night into a folder named by the day, checked like every copy, and lets go
 * of copies that are older than they are kept for. Anything else in the folder stays. `look` is
 * called whenever something may be due; it answers the copy where it made one.
 */
export function createNightly(
  { firm, clock, log }: Engine,
  copy: (to: string) => Promise<Kept>,
  { folder, days }: Nightly,
): { look(): Promise<Kept | null> } {
  let busy = false
  let doneOn = ''
  let notBefore = 0

  function letGo(today: string): void {
    const oldest = addDays(today as never, -days)
    for (const name of existsSync(folder) ? readdirSync(folder) : [])
      if (isDay(name) && name < oldest) rmSync(join(folder, name), { recursive: true })
  }
  async function make(day: string): Promise<Kept | null> {
    const to = join(folder, day)
    const kept = existsSync(to) ? null : await copy(to)
    letGo(day)
    doneOn = day
    return kept
  }
  return {
    async look() {
      const { date, time } = firm.nowLocal()
      if (busy || date === doneOn || time < FROM || clock.now() < notBefore) return null
      busy = true
      try {
        return await make(date)
      } catch (error) {
        notBefore = clock.now() + AGAIN
        log.error({ err: error, folder }, 'the nightly copy could not be made; trying again')
        return null
      } finally {
        busy = false
      }
    },
  }
}
