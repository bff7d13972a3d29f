import Joi from 'joi'
import { line, shape } from './common.ts'
import { SCOPES, type Scope } from './words.ts'

/** A token is good for so many days at most. */
export const LONGEST_TOKEN = 366
/** As many tokens as one person has in force. */
export const MOST_TOKENS = 50
/** Asks for a token: what its program is called, what it may, and for how many days. */
export interface NewToken {
  name: string
  scopes: Scope[]
  days: number
}
export const newToken = shape<NewToken>({
  name: line(80).required(),
  scopes: Joi.array()
    .items(Joi.valid(...SCOPES))
    .min(1)
    .unique()
    .required(),
  days: Joi.number().integer().min(1).max(LONGEST_TOKEN).required(),
})
/** A token; instants in epoch milliseconds. */
export interface TokenRow {
  readonly id: number
  readonly name: string
  readonly scopes: readonly Scope[]
  readonly createdAt: number
  /** When it runs out, or was ended before that. */
  readonly endsAt: number
  /** When it was last used, to the hour; null: never. */
  readonly usedAt: number | null
}
/** A token as it is made: its secret is said this once. */
export interface MadeToken extends TokenRow {
  readonly secret: string
}
