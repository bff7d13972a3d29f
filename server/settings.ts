import { resolve } from 'node:path'
import type { Nightly } from './nightly.ts'

/** What a server is told by its environment; docs name the same variables. */
export interface Settings {
  readonly data: string
  readonly web: string
  readonly port: number
  readonly host: string
  /** The address people open, as proxies in front may show it; null where nobody said. */
  readonly address: URL | null
  /** How many proxies stand in front, each of which tells who came to it; 0 believes nobody. */
  readonly proxies: number
  readonly smtp: { readonly host: string; readonly port: number; readonly from: string } | null
  /** Where nightly copies go, and for how many days each is kept; null: none are made. */
  readonly nightly: Nightly | null
  /** Stands still at this moment, for tests. */
  readonly testNow: number | null
}

type Env = Readonly<Record<string, string | undefined>>

function whole(env: Env, name: string, fallback: number, most: number): number {
  const text = env[name]
  if (text === undefined || text === '') return fallback
  const number = Number(text)
  if (!/^\d+$/.test(text) || number > most)
    throw new Error(`${name}=${text} is not a whole number from 0 to ${most}.`)
  return number
}

function address(env: Env, name: string, protocols: readonly string[]): URL | null {
  const text = env[name]
  if (!text) return null
  if (URL.canParse(text) && protocols.includes(new URL(text).protocol)) return new URL(text)
  const likely = protocols.map((protocol) => `${protocol}//host`).join(' or ')
  throw new Error(`${name}=${text} is not an address such as ${likely}.`)
}

/** Reads the settings. @throws Error that names the variable and says what would be right */
export function settingsOf(env: Env): Settings {
  const smtp = address(env, 'FERNWICK_SMTP', ['smtp:'])
  const now = env['FERNWICK_TEST_NOW']
  if (now && Number.isNaN(Date.parse(now)))
    throw new Error(`FERNWICK_TEST_NOW=${now} is not a moment such as 2026-11-23T12:00:00Z.`)
  return {
    data: resolve(env['FERNWICK_DATA'] ?? 'data'),
    web: resolve(env['FERNWICK_WEB'] ?? 'dist/web'),
    port: whole(env, 'PORT', 4380, 65_535),
    host: env['HOST'] ?? '127.0.0.1',
    address: address(env, 'FERNWICK_URL', ['http:', 'https:']),
    proxies: whole(env, 'FERNWICK_PROXIES', 0, 9),
    smtp: smtp && {
      host: smtp.hostname,
      port: Number(smtp.port || 25),
      from: env['FERNWICK_MAIL_FROM'] ?? 'fernwick@localhost',
    },
    nightly: env['FERNWICK_BACKUPS']
      ? {
          folder: resolve(env['FERNWICK_BACKUPS']),
          days: whole(env, 'FERNWICK_BACKUP_DAYS', 14, 3650),
        }
      : null,
    testNow: now ? Date.parse(now) : null,
  }
}
