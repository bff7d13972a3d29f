import Joi from 'joi'
import { line, shape } from './common.ts'
import { TIERS, type Tier } from './words.ts'

/** A client to be made; `short` is what lists and bars call it. */
export interface NewClient {
  name: string
  short?: string
  tier?: Tier
}
/** As many as are made at once. */
export const MOST_CLIENTS = 1_000
export const newClients = shape<{ clients: NewClient[] }>({
  clients: Joi.array()
    .items(
      shape<NewClient>({
        name: line(120).required(),
        short: line(40),
        tier: Joi.valid(...TIERS),
      }),
    )
    .min(1)
    .max(MOST_CLIENTS)
    .required(),
})
export interface ClientSheet {
  readonly id: number
  readonly name: string
  readonly short: string
  readonly tier: Tier
}
export const clientPatch = shape<Partial<NewClient>>({
  name: line(120),
  short: line(40),
  tier: Joi.valid(...TIERS),
}).min(1)
