import { createHash } from 'node:crypto'
import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { simpleParser, type ParsedMail } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import type { TrayMail } from '#contract/desks.ts'

export interface Tray {
  readonly port: number
  list(): Promise<TrayMail[]>
  close(): Promise<void>
}

/** Keeps the newest of the tray's mails parsed; files never change once written. */
const MOST = 500

const textOf = (to: ParsedMail['to']): string =>
  (Array.isArray(to) ? to : to ? [to] : []).map((a) => a.text).join(', ')

/** A mail as the tray shows it; its file's name holds the moment it came and what it is known by. */
async function read(folder: string, file: string): Promise<TrayMail> {
  const mail = await simpleParser(await readFile(join(folder, file)))
  return {
    id: file.slice(16, 40),
    at: Number(file.slice(0, 15)),
    to: textOf(mail.to),
    from: mail.from?.text ?? '',
    subject: mail.subject ?? '',
    body: mail.text ?? '',
  }
}

/** What a mail is known by: its Message-ID, or, without one, all of it. */
function nameOf(raw: Buffer): string {
  const messageId =
    /^message-id:\s*(\S+)/im.exec(raw.subarray(0, 8192).toString('latin1'))?.[1] ??
    raw.toString('latin1')
  return createHash('sha256').update(messageId).digest('hex').slice(0, 24)
}

/**
 * The stand-in mail server: real SMTP on a loopback port that keeps every mail it is given as a
 * file. A mail delivered twice (the same Message-ID) is kept once. `now` stamps arrivals, so that
 * the tray follows the application's clock.
 */
export async function startStandInMail(folder: string, now: () => number, port = 0): Promise<Tray> {
  await mkdir(folder, { recursive: true })
  const parsed = new Map<string, TrayMail>()
  const kept = new Set(
    (await readdir(folder))
      .filter((file) => file.endsWith('.eml'))
      .map((file) => file.slice(16, -4)),
  )
  const server = new SMTPServer({
    authOptional: true,
    // Looking up the name behind 127.0.0.1 would wait for a network that need not be there.
    disableReverseLookup: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onData(stream, _session, done) {
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('end', () => {
        keep(Buffer.concat(parts)).then(() => done(), done)
      })
    },
  })
  async function keep(raw: Buffer): Promise<void> {
    const name = nameOf(raw)
    if (kept.has(name)) return
    kept.add(name)
    const file = `${String(now()).padStart(15, '0')}-${name}.eml`
    await writeFile(join(folder, `${file}.part`), raw)
    await rename(join(folder, `${file}.part`), join(folder, file))
  }
  await new Promise<void>((resolve, reject) => {
    server.on('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  return {
    port: (server.server.address() as AddressInfo).port,
    async list() {
      const files = (await readdir(folder))
        .filter((f) => f.endsWith('.eml'))
        .sort()
        .reverse()
        .slice(0, MOST)
      const out: TrayMail[] = []
      for (const file of files) {
        let mail = parsed.get(file)
        if (!mail) parsed.set(file, (mail = await read(folder, file)))
        out.push(mail)
      }
      return out
    },
    close: () => new Promise((resolve) => server.close(() => resolve())),
  }
}
