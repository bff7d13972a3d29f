import Joi from 'joi'
import { id, shape } from './common.ts'
import { FEED_KINDS, type FeedKind } from './words.ts'

/** A calendar that somebody’s calendar program subscribes to: their work, a project, a client. */
export interface FeedBody {
  readonly of: FeedKind
  /** The project or the client. */
  readonly item?: number
}
export const feedBody = shape<FeedBody>({
  of: Joi.valid(...FEED_KINDS).required(),
  item: id.when('of', { is: 'person', then: Joi.forbidden(), otherwise: Joi.required() }),
})
export interface FeedRow {
  readonly id: number
  readonly of: FeedKind
  readonly item: number | null
  /** What it is of, as far as one still sees it. */
  readonly name: string
  readonly createdAt: number
  readonly usedAt: number | null
}
/** A feed with its address, which is shown this once. */
export interface MadeFeed extends FeedRow {
  readonly path: string
}
