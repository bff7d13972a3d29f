import { createHash, randomBytes } from 'node:crypto'

/** Secrets that open something once they are shown: only what they are known by is kept. */

/** A secret for a link, 192 bits, as it stands in an address. */
export const newLinkSecret = (): string => randomBytes(24).toString('base64url')
/** What a secret is known by: it cannot be told from it. */
export const digestOf = (secret: string): string =>
  createHash('sha256').update(secret).digest('base64url')
