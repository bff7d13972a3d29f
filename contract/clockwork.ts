import Joi from 'joi'
import { ROLLS } from '#core/calendar/calendar.ts'
import type { ImportMapping } from '#core/formats/template-rows.ts'
import type { Finding, PlannedTask, Template } from '#core/templates/template.ts'
import { id, isoDay, isoTime, line, shape } from './common.ts'
import { plannedReminders } from './reminders.ts'

export interface TemplateSummary {
  readonly id: number
  readonly name: string
  readonly version: number
  readonly tasks: number
  readonly phases: number
  readonly roles: number
  /** Minutes over all tasks. */
  readonly effort: number
  /** Working days by which its first task begins before the anchor. */
  readonly reach: number
  readonly projects: number
  readonly updatedAt: number
  readonly archived: boolean
}
export interface TemplateSheet extends TemplateSummary {
  readonly definition: Template
}

const key = Joi.string().min(1).max(80)
const offset = Joi.object({
  days: Joi.number().integer().min(-10_000).max(10_000).required(),
  unit: Joi.valid('working', 'calendar'),
  from: Joi.string().max(120),
  time: isoTime,
})
const templateTask = Joi.object({
  key: key.required(),
  title: line(200).required(),
  description: Joi.string().allow('').max(20_000),
  role: key,
  effort: Joi.number().integer().min(0).max(60_000),
  due: offset.required(),
  start: offset,
  checklist: Joi.array().items(line(200)).max(100),
  reminders: plannedReminders,
  onlyIf: Joi.object({
    question: line(80).required(),
    is: Joi.alternatives(Joi.string(), Joi.number(), Joi.boolean()).required(),
  }),
})
export const templateDefinition = shape<Template>({
  name: line(120).required(),
  anchor: Joi.valid('start', 'deadline').required(),
  roll: Joi.valid(...ROLLS),
  roles: Joi.array()
    .items(Joi.object({ key: key.required(), name: line(80).required() }))
    .max(100)
    .unique('key')
    .required(),
  phases: Joi.array()
    .items(
      Joi.object({
        key: key.required(),
        name: line(80).required(),
        tasks: Joi.array().items(templateTask).max(2_000).required(),
      }),
    )
    .min(1)
    .max(200)
    .unique('key')
    .required(),
})
export const templateBody = shape<{ definition: Template }>({
  definition: templateDefinition.required(),
})

/** A file read into a table, with what its columns seem to mean. */
export interface ReadTable {
  readonly headings: readonly string[]
  readonly rows: readonly (readonly string[])[]
  readonly mapping: ImportMapping
  /** The line of the file that the first row stands on, from 1. */
  readonly firstLine: number
  readonly encoding: string
  readonly notes: readonly string[]
}
/** A table that is brought in as a template. */
export interface TemplateTable {
  readonly name: string
  readonly anchor: Template['anchor']
  readonly rows: string[][]
  readonly mapping: ImportMapping
}
export const importBody = shape<TemplateTable>({
  name: line(120).required(),
  anchor: Joi.valid('start', 'deadline').required(),
  rows: Joi.array()
    .items(Joi.array().items(Joi.string().allow('').max(20_000)).max(100))
    .min(1)
    .max(2_500)
    .required(),
  mapping: Joi.object({ title: Joi.number().required() })
    .pattern(
      Joi.valid('phase', 'role', 'effort', 'days', 'description'),
      Joi.number().integer().min(0).max(99),
    )
    .required(),
})

/** Who fills a role: a person, or a team's least loaded. */
export type Filling = { readonly person: number } | { readonly team: number }
const filling = Joi.alternatives(
  Joi.object({ person: id.required() }),
  Joi.object({ team: id.required() }),
)
export const fillings = Joi.object().pattern(Joi.string().max(80), filling)

export interface StartBody {
  name?: string
  clientId: number | null
  leadId?: number | null
  anchor: string
  roles: Record<string, Filling>
}
const startFields = {
  clientId: id.allow(null).required(),
  leadId: id.allow(null),
  anchor: isoDay.required(),
  roles: fillings.required(),
}
export const tryBody = shape<Omit<StartBody, 'name'>>(startFields)
export const startBody = shape<StartBody & { name: string }>({
  ...startFields,
  name: line(160).required(),
})

export interface TryResult {
  readonly tasks: readonly (PlannedTask & { people: string[] })[]
  readonly findings: readonly (Finding & {
    sentence: string
    label: string
    tone: 'alarm' | 'ochre' | 'plain'
  })[]
  readonly first: string | null
  readonly last: string | null
}
