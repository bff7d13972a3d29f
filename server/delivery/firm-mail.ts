import type { Reader } from '../database/query.ts'
import { mailRow } from '../engine/queries.ts'
import { smtpSender, type MailServer } from './smtp.ts'

/**
 * Sends by the firm's own mail server once there is one, and by `usual` until then. A server that is
 * changed is used from the next mail on.
 */
export function firmSender(reader: Reader, usual: MailServer): ReturnType<typeof smtpSender> {
  let by = usual
  let sender = smtpSender(usual)
  function now(): typeof sender {
    const row = mailRow.get(reader)
    const wanted: MailServer = row ?? usual
    if (JSON.stringify(wanted) === JSON.stringify(by)) return sender
    sender.close()
    by = wanted
    sender = smtpSender(wanted)
    return sender
  }
  return { send: (mail) => now().send(mail), close: () => sender.close() }
}
