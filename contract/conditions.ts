import Joi from 'joi'
import type { Group } from '#core/conditions/condition.ts'
import { FIELD_TYPES } from '#core/fields/types.ts'
import { PERIODS } from '#core/query/when.ts'
import { isoDay } from './common.ts'

/** Conditions as they cross the wire: in queries, saved views and rules. */

const OPS = [...new Set(Object.values(FIELD_TYPES).flatMap(({ ops }) => ops.map(({ op }) => op)))]

const when = Joi.alternatives(
  isoDay,
  Joi.object({
    days: Joi.number().integer().min(-3660).max(3660).required(),
    working: Joi.boolean(),
  }),
  Joi.object({
    period: Joi.valid(...PERIODS).required(),
    shift: Joi.number().integer().min(-1000).max(1000).required(),
  }),
)
const test = Joi.object({
  field: Joi.string().max(120).required(),
  op: Joi.valid(...OPS).required(),
  value: Joi.alternatives(
    Joi.boolean(),
    Joi.number(),
    Joi.string().allow('').max(500),
    Joi.array().items(Joi.number(), Joi.string().max(200)).max(200),
    when,
  ),
})
export const group = Joi.object<Group>({
  match: Joi.valid('all', 'any', 'none').required(),
  of: Joi.array().items(test, Joi.link('#tests')).max(40).required(),
}).id('tests')
