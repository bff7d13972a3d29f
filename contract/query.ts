import Joi from 'joi'
import type { Fault, Group } from '#core/conditions/condition.ts'
import { line, measured, shape } from './common.ts'
import { group as filter } from './conditions.ts'

/** Whose work is meant. */
export type Scope =
  { readonly of: 'firm' } | { readonly of: 'client' | 'project' | 'person'; readonly id: number }

/** A question about tasks. */
export interface TaskQuery {
  readonly scope: Scope
  readonly filter: Group
  readonly sort: readonly { readonly field: string; readonly down: boolean }[]
  readonly group: string | null
  /** Subtasks stand under their parents where both are shown. */
  readonly tree: boolean
  /** Fields to sum up for each group. */
  readonly sums: readonly string[]
  /** Groups that hold nothing yet are told too: columns to drop into. */
  readonly every: boolean
}

export interface OutlineGroup {
  /** What a task must have to stand here: an id, a word, a date; null for none. */
  readonly key: string | number | null
  readonly name: string
  readonly colour: string | null
  readonly ids: readonly number[]
  /** How deep each stands under its parents; left out where all stand at the top. */
  readonly depths?: readonly number[]
  /** Minutes of estimate. */
  readonly minutes: number
  readonly sums: Readonly<Record<string, number>>
}
/** The order and grouping of what a query finds, without the rows themselves. */
export interface Outline {
  readonly groups: readonly OutlineGroup[]
  readonly total: number
  /** More was found than is told. */
  readonly cut: boolean
  /** The first and the last day that any of it lies on; null where nothing has a date. */
  readonly span: { readonly first: string; readonly last: string } | null
  readonly faults: readonly Fault[]
}

export const VIEW_KINDS = ['list', 'board', 'calendar', 'timeline', 'table'] as const
export type ViewKind = (typeof VIEW_KINDS)[number]

/** How a piece of work is looked at; what a saved view keeps. */
export interface ViewDefinition {
  readonly kind: ViewKind
  readonly scope: Scope
  readonly filter: Group
  readonly sort: TaskQuery['sort']
  readonly group: string | null
  /** Columns of the list and the table, with their widths in pixels. */
  readonly columns: readonly { readonly field: string; readonly width: number }[]
  readonly colour: string | null
  readonly tree: boolean
  /** How much of the calendar or timeline is seen at once; `fit`: all that a timeline shows. */
  readonly step: 'fit' | 'day' | 'week' | 'month' | 'quarter'
}
export interface SavedView {
  readonly id: number
  readonly name: string
  readonly owner: { id: number; name: string }
  readonly shared: boolean
  readonly pinned: boolean
  readonly mine: boolean
  readonly definition: ViewDefinition
  readonly version: number
}

const scope = Joi.alternatives(
  Joi.object({ of: Joi.valid('firm').required() }),
  Joi.object({
    of: Joi.valid('client', 'project', 'person').required(),
    id: Joi.number().integer().positive().required(),
  }),
)
const sort = Joi.array()
  .items(Joi.object({ field: Joi.string().max(40).required(), down: Joi.boolean().required() }))
  .max(5)
const group = Joi.string().max(40).allow(null)

const queryShape = shape<TaskQuery>({
  scope: scope.default({ of: 'firm' }),
  filter: filter.default({ match: 'all', of: [] }),
  sort: sort.default([]),
  group: group.default(null),
  tree: Joi.boolean().default(false),
  sums: Joi.array().items(Joi.string().max(40)).max(20).default([]),
  every: Joi.boolean().default(false),
})
/** A query as it travels in an address: JSON in the parameter `q`. */
export const queryText = Joi.string()
  .max(20_000)
  .meta({ json: queryShape })
  .custom((text: string, helpers) => {
    if (measured(text)) return helpers.error('any.deep')
    let value: unknown
    try {
      value = JSON.parse(text)
    } catch {
      return helpers.error('any.json')
    }
    const checked = queryShape.validate(value, { convert: false })
    return checked.error
      ? helpers.error('any.query', { why: checked.error.message.replaceAll('"', '') })
      : checked.value
  })
  .messages({
    'any.deep': '{{#label}} is nested too deep; take groups out of groups',
    'any.json': '{{#label}} must be JSON',
    'any.query': '{{#label}}: {{#why}}',
  })

/** How work is looked at, said whole. */
export const viewDefinition = shape<ViewDefinition>({
  kind: Joi.valid(...VIEW_KINDS).required(),
  scope: scope.required(),
  filter: filter.required(),
  sort: sort.required(),
  group: group.required(),
  columns: Joi.array()
    .items(
      Joi.object({
        field: Joi.string().max(40).required(),
        width: Joi.number().integer().min(40).max(900).required(),
      }),
    )
    .max(40)
    .required(),
  colour: Joi.string().max(40).allow(null).required(),
  tree: Joi.boolean().required(),
  step: Joi.valid('fit', 'day', 'week', 'month', 'quarter').required(),
})
export const viewBody = shape<ViewBody>({
  name: line(80).required(),
  shared: Joi.boolean().required(),
  definition: viewDefinition.required(),
})
export interface ViewBody {
  name: string
  shared: boolean
  definition: ViewDefinition
}
