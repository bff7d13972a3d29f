import type Joi from 'joi'
import { labelAt } from '#contract/labels.ts'

type Context = Readonly<Record<string, unknown>>
type Say = (label: string, context: Context) => string

const list = (of: unknown): string =>
  Array.isArray(of)
    ? of
        .filter((each) => each !== null && each !== '')
        .map((each) => String(each))
        .join(', ')
    : ''
const bound = ({ limit }: Context): string =>
  typeof limit === 'number' ? limit.toLocaleString('en-GB') : String(limit)
const empty: Say = (label) => `${label} is empty; write something there.`
const number: Say = (label) => `${label} must be a number.`

/** What is wrong with a part of what was sent, and what would be right, by Joi's kinds of fault. */
const SAY: Readonly<Record<string, Say>> = {
  'any.required': (label) => `${label} is missing.`,
  'string.empty': empty,
  'string.base': (label) => `${label} must be text.`,
  'string.min': (label, c) => `${label} is too short; it needs at least ${bound(c)} characters.`,
  'string.max': (label, c) => `${label} is too long; it may have at most ${bound(c)} characters.`,
  'string.email': (label) => `${label} must be an address such as name@example.org.`,
  'string.uri': (label) => `${label} must be an address such as https://example.org.`,
  'string.uriCustomScheme': (label) => `${label} must be an address such as https://example.org.`,
  'string.trim': (label, c) =>
    String(c['value']).trim() === ''
      ? empty(label, c)
      : `${label} begins or ends with blanks; take them off.`,
  'number.base': number,
  'number.infinity': number,
  'number.unsafe': (label) => `${label} is too large a number.`,
  'number.integer': (label) => `${label} must be a whole number.`,
  'number.positive': (label) => `${label} must be more than 0.`,
  'number.min': (label, c) => `${label} must be at least ${bound(c)}.`,
  'number.max': (label, c) => `${label} must be at most ${bound(c)}.`,
  'boolean.base': (label) => `${label} must be yes or no (true or false).`,
  'array.base': (label) => `${label} must be a list.`,
  'array.min': (label, c) => `${label}: at least ${bound(c)} must be there.`,
  'array.max': (label, c) => `${label}: there may be ${bound(c)} at most.`,
  'array.unique': (label) => `${label}: the same stands there twice.`,
  'object.base': (label) => `${label} must be an object with named parts.`,
  'object.min': () => 'Nothing is sent that would change anything.',
  'object.unknown': (_, c) => `There is no field “${String(c['key'])}” here.`,
  'any.only': (label, c) => `${label} must be one of: ${list(c['valids'])}.`,
  'any.invalid': (label, c) => `${label} may be anything but ${list(c['invalids'])}.`,
  'any.unknown': (label) => `${label} cannot be set here.`,
}

/** A fault that Joi found, as a sentence that names the field as the screen does. */
export function sayFault({ type, path, message, context }: Joi.ValidationErrorItem): string {
  const label = labelAt(path)
  const say = SAY[type]
  if (say) return say(label, context ?? {})
  // Our own schemas word what they alone know; Joi has put the bare name of the field first.
  const own = context?.label
  const said = own === undefined ? message : message.replace(`"${own}"`, label)
  return `${said.replaceAll('"', '')}.`
}
