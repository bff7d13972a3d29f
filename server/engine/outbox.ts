import { ENGINE } from './journal.ts'
import { waitingMail } from './queries.ts'
import type { Engine } from './services.ts'

export interface Mail {
  /** Stable over retries, so that a receiver can tell a repeated delivery. */
  readonly key: string
  readonly to: string
  readonly subject: string
  readonly body: string
}

const BACKOFF = [60_000, 300_000, 1_800_000, 7_200_000, 21_600_000, 86_400_000]

/**
 * Sends what waits in the outbox and is due, oldest first; a failure is tried again after one
 * minute, then ever later, and given up after the seventh.
 */
export async function sendWaiting(
  engine: Engine,
  send: (mail: Mail) => Promise<void>,
): Promise<number> {
  const { reader, journal, clock, log } = engine
  const waiting = waitingMail.all(reader, { now: clock.now() })
  for (const mail of waiting) {
    const attempts = mail.attempts + 1
    try {
      await send({ key: mail.key, to: mail.recipient, subject: mail.subject, body: mail.body })
      journal.change(ENGINE, (write) =>
        write.update('outbox', mail, {
          state: 'sent',
          attempts,
          sentAt: write.at,
          lastError: null,
        }),
      )
    } catch (error) {
      const reason = error instanceof Error ? error.message : String(error)
      log.warn({ mail: mail.id, attempts, reason }, 'mail not sent')
      const wait = BACKOFF[attempts - 1]
      journal.change(ENGINE, (write) =>
        write.update('outbox', mail, {
          attempts,
          lastError: reason,
          ...(wait === undefined ? { state: 'failed' } : { nextAt: write.at + wait }),
        }),
      )
    }
  }
  return waiting.length
}
