import { scryptSync } from 'node:crypto'
import type { HashOf } from './jobs.ts'

/** A key derived from a password by scrypt (RFC 7914), with 32 MiB of memory at n = 32,768. */
export const derive = (password: string, { salt, n, length }: HashOf): Uint8Array =>
  Uint8Array.from(
    scryptSync(password, salt, length, { N: n, r: 8, p: 1, maxmem: 64 * 1024 * 1024 }),
  )
