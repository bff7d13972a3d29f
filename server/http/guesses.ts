import { RateLimiterMemory } from 'rate-limiter-flexible'
import { refuse } from '#core/refusal.ts'

/** How often passwords may be tried, counted before they are looked at: many at once count too. */
export interface Guesses {
  /** @throws Refusal `too-many` */
  begin(account: string, address: string): Promise<void>
  /** A right password: nothing of it counts. */
  right(account: string, address: string): Promise<void>
}

/** Within so many seconds, by the system's clock: what guesses at passwords does not wait for ours. */
const WINDOW = 300
/** Wrong passwords for one account from one address, for it from everywhere, from one address. */
const MOST = { pair: 10, account: 30, address: 100 }

/**
 * Counts by account and by address. Who guesses at somebody else's password, or from the same
 * address, keeps nobody out who knows theirs: the first try of an account from an address is always
 * looked at.
 */
export function countGuesses(most = MOST): Guesses {
  const counter = (points: number) => new RateLimiterMemory({ points, duration: WINDOW })
  const pairs = counter(most.pair)
  const accounts = counter(most.account)
  const addresses = counter(most.address)
  const keys = (account: string, address: string) => ({
    pair: `${account} ${address}`,
    of: [
      [accounts, account],
      [addresses, address],
    ] as const,
  })
  return {
    async begin(account, address) {
      const { pair, of } = keys(account, address)
      const counts = await Promise.all(of.map(([counter, key]) => counter.penalty(key)))
      const over = counts.some(({ consumedPoints }, i) => consumedPoints > of[i]![0].points)
      const { consumedPoints } = await pairs.penalty(pair)
      if (consumedPoints > (over ? 1 : most.pair))
        refuse('too-many', 'Too many wrong passwords; wait five minutes and try again.')
    },
    async right(account, address) {
      const { pair, of } = keys(account, address)
      await Promise.all([pairs.delete(pair), ...of.map(([counter, key]) => counter.reward(key))])
    },
  }
}
