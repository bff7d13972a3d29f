import { ENGINE } from './journal.ts'
import { patiently } from '../database/faults.ts'
import type { Row } from '../database/query.ts'
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

/** Sends what waits, beside whatever else happens. */
export interface Delivery {
  /** Something may wait to be sent. */
  wake(): void
  /** Resolves when what is being sent is sent, or has failed. */
  idle(): Promise<void>
  stop(): void
}

/** Tries one mail and writes down what came of it. */
async function sendOne(
  { journal, log }: Engine,
  send: (mail: Mail) => Promise<void>,
  mail: Row<typeof waitingMail>,
): Promise<void> {
  const attempts = mail.attempts + 1
  try {
    await send({ key: mail.key, to: mail.recipient, subject: mail.subject, body: mail.body })
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error)
    log.warn({ mail: mail.id, attempts, reason }, 'mail not sent')
    const wait = BACKOFF[attempts - 1]
    await patiently(() =>
      journal.change(ENGINE, (write) =>
        write.update('outbox', mail, {
          attempts,
          lastError: reason,
          ...(wait === undefined ? { state: 'failed' } : { nextAt: write.at + wait }),
        }),
      ),
    )
    return
  }
  const sent = { state: 'sent', attempts, lastError: null } as const
  await patiently(() =>
    journal.change(ENGINE, (write) => write.update('outbox', mail, { ...sent, sentAt: write.at })),
  )
}

/**
 * Sends what waits in the outbox and is due, oldest first; a failure is tried again after one
 * minute, then ever later, and given up after the seventh.
 */
export function createDelivery(engine: Engine, send: (mail: Mail) => Promise<void>): Delivery {
  let stopping = false
  let sending: Promise<void> = Promise.resolve()
  async function sendWaiting(): Promise<void> {
    try {
      for (;;) {
        const waiting = waitingMail.all(engine.reader, { now: engine.clock.now() })
        if (waiting.length === 0) return
        for (const mail of waiting) {
          if (stopping) return
          await sendOne(engine, send, mail)
        }
      }
    } catch (error) {
      if (!stopping) engine.log.error({ err: error }, 'mail was not delivered; trying again')
    }
  }
  return {
    wake() {
      sending = sending.then(sendWaiting)
    },
    idle: () => sending,
    stop() {
      stopping = true
    },
  }
}
