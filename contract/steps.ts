import Joi from 'joi'
import { BY_ROLE, OF_TEAM, UNNAMED, type Arg, type Step } from './actions/action.ts'
import { fieldValue, id, isoTime, line } from './common.ts'
import { group } from './conditions.ts'

/** Schemas of steps, made of their arguments: what comes in is checked by what is asked for. */

const who = Joi.alternatives(
  Joi.object({ is: Joi.valid(...Object.keys(UNNAMED)).required() }),
  Joi.object({ is: Joi.valid('person', ...Object.keys(OF_TEAM)).required(), id: id.required() }),
  Joi.object({ is: Joi.valid(...Object.keys(BY_ROLE)).required(), role: line(80).required() }),
)

type Shapes = { readonly [K in Arg['type']]: (arg: Extract<Arg, { type: K }>) => Joi.Schema }
const SHAPES: Shapes = {
  who: () => who.required(),
  text: ({ most, empty }) =>
    empty === undefined
      ? line(most).required()
      : Joi.string().trim().allow('').max(most).required(),
  either: () => Joi.boolean().required(),
  choice: ({ choices }) => Joi.valid(...choices.map((choice) => choice.value)).required(),
  field: () => Joi.string().max(120).required(),
  value: () => fieldValue.required(),
  time: () => isoTime.required(),
  conditions: () => group.required(),
  one: () => id.required(),
  series: () => id.required(),
  number: ({ least, most }) => Joi.number().integer().min(least).max(most).required(),
  chosen: () =>
    Joi.array().items(Joi.number(), Joi.string().max(200)).min(1).max(50).unique().required(),
  values: () => Joi.array().items(Joi.number(), Joi.string().max(200)).max(50).default([]),
}
const argShape = (arg: Arg): Joi.Schema => (SHAPES[arg.type] as (arg: Arg) => Joi.Schema)(arg)
const stepShape = ({ kind, args }: Step): Joi.ObjectSchema =>
  Joi.object({
    kind: Joi.valid(kind).required(),
    ...Object.fromEntries(
      Object.entries<Arg>(args as Record<string, Arg>).map(([name, arg]) => [name, argShape(arg)]),
    ),
  })

/** A step of a kind that is known, with its arguments. */
export const stepOf = (find: (kind: string) => Step | undefined, kinds: () => readonly Step[]) =>
  Joi.object({ kind: Joi.string().max(60).required() })
    .unknown()
    .custom((value: { kind: string }, helpers) => {
      const step = find(value.kind)
      if (!step)
        return helpers.error('any.kind', {
          kinds: kinds()
            .map((k) => k.kind)
            .join(', '),
        })
      const { error, value: checked } = stepShape(step).validate(value, { convert: false })
      if (!error) return checked as unknown
      return helpers.error('any.step', { why: error.message.replaceAll('"', '') })
    })
    .messages({
      'any.kind': '{{#label}} must be of a kind that is known: {{#kinds}}',
      'any.step': '{{#label}}: {{#why}}',
    })
