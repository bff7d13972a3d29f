import { Secret, TOTP } from 'otpauth'
import { describe, expect, it } from 'vitest'
import { addressOf, newSecret, stepOf } from './totp.ts'

/** RFC 6238, appendix B: the secret is the ASCII of 12345678901234567890, the codes have 8 digits. */
const SECRET = Secret.fromUTF8('12345678901234567890').base32
const PUBLISHED: readonly (readonly [seconds: number, code: string])[] = [
  [59, '94287082'],
  [1111111109, '07081804'],
  [1111111111, '14050471'],
  [1234567890, '89005924'],
  [2000000000, '69279037'],
  [20000000000, '65353130'],
]
const codeAt = (ms: number, secret = SECRET) =>
  new TOTP({ secret: Secret.fromBase32(secret), digits: 6 }).generate({ timestamp: ms })

describe('codes from a second device', () => {
  it.each(PUBLISHED)('are those that RFC 6238 publishes, at %i s', (seconds, code) => {
    // Six digits are the last six of the eight published.
    const step = stepOf({ secret: SECRET, after: 0 }, code.slice(2), seconds * 1000)
    expect(step).toBe(Math.floor(seconds / 30))
  })
  it('are good for a step either way, once, and never again', () => {
    const now = 1111111109_000
    const asked = (code: string, after = 0) => stepOf({ secret: SECRET, after }, code, now)
    const step = Math.floor(now / 30_000)
    expect(asked(codeAt(now - 30_000))).toBe(step - 1)
    expect(asked(codeAt(now + 30_000))).toBe(step + 1)
    expect(asked(codeAt(now - 60_000))).toBeNull()
    expect(asked(codeAt(now + 60_000))).toBeNull()
    expect(asked(codeAt(now), step)).toBeNull()
    expect(asked(codeAt(now - 30_000), step)).toBeNull()
  })
  it.each(['', '1', 'abcdef', '１２３４５６', '0000000000000000'])('“%s” is none', (code) => {
    expect(stepOf({ secret: SECRET, after: 0 }, code, 59_000)).toBeNull()
  })
  it('a secret has 160 bits and no other like it; a device reads whose it is', () => {
    const secret = newSecret()
    expect(Secret.fromBase32(secret).bytes).toHaveLength(20)
    expect(newSecret()).not.toBe(secret)
    const address = addressOf(secret, 'Quillhaven', 'ines@quillhaven.example')
    expect(address).toMatch(/^otpauth:\/\/totp\/Quillhaven:ines%40quillhaven\.example\?/)
    expect(new URL(address).searchParams.get('secret')).toBe(secret)
  })
})
