import Joi from 'joi'
import { UNNAMED, type Arg, type Step } from './actions/action.ts'
import { id, line } from './common.ts'

/** Schemas of steps, made of their arguments: what comes in is checked by what is asked for. */

const who = Joi.alternatives(
  Joi.object({ is: Joi.valid(...Object.keys(UNNAMED)).required() }),
  Joi.object({ is: Joi.valid('person', 'team').required(), id: id.required() }),
)

function argShape(arg: Arg): Joi.Schema {
  switch (arg.type) {
    case 'who':
      return who.required()
    case 'text':
      return line(arg.most).required()
    case 'either':
      return Joi.boolean().required()
    case 'choice':
      return Joi.valid(...arg.choices.map((choice) => choice.value)).required()
    case 'field':
      return Joi.string().max(120).required()
    case 'number':
      return Joi.number().integer().min(arg.least).max(arg.most).required()
    case 'chosen':
      return Joi.array()
        .items(Joi.number(), Joi.string().max(200))
        .min(1)
        .max(50)
        .unique()
        .required()
    case 'values':
      return Joi.array().items(Joi.number(), Joi.string().max(200)).max(50).required()
  }
}
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
