import nodemailer from 'nodemailer'
import type { MailSecurity } from '#contract/words.ts'
import type { Mail } from '../engine/outbox.ts'

/** How long each step of a delivery may take, and one as a whole, in milliseconds. */
const LIMITS = { connectionTimeout: 10_000, greetingTimeout: 10_000, socketTimeout: 20_000 }
const LONGEST = 45_000

/** A mail server, and who mails are from. */
export interface MailServer {
  readonly host: string
  readonly port: number
  readonly from: string
  readonly security?: MailSecurity
  /** What opens it; nothing where it asks for nothing. */
  readonly user?: string
  readonly password?: string
  /** How long one mail may take as a whole; for tests. */
  readonly longest?: number
}

/**
 * Sends by SMTP. The Message-ID is made of the mail's key, so that a repeated delivery can be told.
 * A server that says nothing, or says it without end, is given up.
 */
export function smtpSender(server: MailServer): {
  send: (mail: Mail) => Promise<void>
  close: () => void
} {
  const { host, port, from, security, user, password, longest = LONGEST } = server
  const connect = () =>
    nodemailer.createTransport({
      ...{ pool: true, maxConnections: 1, host, port, secure: security === 'tls', ...LIMITS },
      // Where nothing is said, the line is made secret if the other side can.
      ignoreTLS: security === 'none' || host === '127.0.0.1',
      requireTLS: security === 'starttls',
      ...(user && { auth: { user, pass: password ?? '' } }),
    })
  let transport = connect()
  const send = async (mail: Mail) => {
    let timer: NodeJS.Timeout | undefined
    const late = new Promise<never>((_, reject) => {
      timer = setTimeout(() => {
        transport.close()
        transport = connect()
        reject(new Error(`The mail server took over ${Math.round(longest / 1000)} seconds.`))
      }, longest)
    })
    const sent = transport.sendMail({
      from,
      to: mail.to,
      subject: mail.subject,
      text: mail.body,
      messageId: `<${Buffer.from(mail.key).toString('base64url')}@fernwick.invalid>`,
      headers: { 'Auto-Submitted': 'auto-generated' },
    })
    // What was given up may still fail later; nobody waits for that.
    sent.catch(() => {})
    try {
      await Promise.race([sent, late])
    } finally {
      clearTimeout(timer)
    }
  }
  return { send, close: () => transport.close() }
}
