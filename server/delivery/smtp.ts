import nodemailer from 'nodemailer'
import type { Mail } from '../engine/outbox.ts'

/**
 * Sends by SMTP. The Message-ID is made of the mail's key, so that a repeated delivery can be told.
 */
export function smtpSender(options: { host: string; port: number; from: string }): {
  send: (mail: Mail) => Promise<void>
  close: () => void
} {
  const transport = nodemailer.createTransport({
    pool: true,
    maxConnections: 1,
    host: options.host,
    port: options.port,
    secure: false,
    ignoreTLS: options.host === '127.0.0.1',
    connectionTimeout: 10_000,
  })
  const send = async (mail: Mail) => {
    await transport.sendMail({
      from: options.from,
      to: mail.to,
      subject: mail.subject,
      text: mail.body,
      messageId: `<${Buffer.from(mail.key).toString('base64url')}@fernwick.invalid>`,
      headers: { 'Auto-Submitted': 'auto-generated' },
    })
  }
  return { send, close: () => transport.close() }
}
