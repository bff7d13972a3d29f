import { Secret, TOTP } from 'otpauth'

/**
 * Codes from a second device, as RFC 6238 has them: HMAC-SHA-1, six digits, thirty seconds, which is
 * what every such program takes without being told.
 */
const STEP = 30_000
/** A clock may be off by one step either way (RFC 6238, 5.2). */
const DRIFT = 1

const maker = (secret: string, issuer: string, label: string): TOTP =>
  new TOTP({ issuer, label, secret: Secret.fromBase32(secret), digits: 6, period: STEP / 1000 })

/** A new secret of 160 bits, in base 32 (RFC 4226, 4: at least 128, better 160). */
export const newSecret = (): string => new Secret({ size: 20 }).base32
/** What a device reads: the secret with whose it is. */
export const addressOf = (secret: string, issuer: string, label: string): string =>
  maker(secret, issuer, label).toString()

/**
 * The step that a code is of, in thirty seconds since 1970; null where it is of none that is near, or
 * of one that was taken before: a code is good once.
 */
export function stepOf(
  { secret, after }: { secret: string; after: number },
  code: string,
  now: number,
): number | null {
  if (!/^\d{6}$/.test(code)) return null
  const delta = maker(secret, '', '').validate({ token: code, timestamp: now, window: DRIFT })
  if (delta === null) return null
  const step = Math.floor(now / STEP) + delta
  return step > after ? step : null
}
