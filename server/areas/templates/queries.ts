import { asc, desc, eq, getTableColumns, isNotNull, sql } from 'drizzle-orm'
import type { TemplateId } from '#core/brands.ts'
import { ready, type Reader } from '../../database/query.ts'
import { fields, series, templateCounts, templates } from '../../database/tables/index.ts'

export const templateById = ready((orm, a: { id: TemplateId }) =>
  orm.select(getTableColumns(templates)).from(templates).where(eq(templates.id, a.id)),
)
/** The roles of a template's newest version. */
export const rolesIn = (reader: Reader, id: TemplateId): readonly { key: string; name: string }[] =>
  templateById.get(reader, { id })?.definition.roles ?? []
export const allTemplates = ready((orm) =>
  orm.select(getTableColumns(templates)).from(templates).orderBy(asc(templates.name)),
)
/** How many projects were ever started from each template. */
export const startedFrom = ready((orm) => orm.select().from(templateCounts))
export const startedFromOne = ready((orm, a: { id: TemplateId }) =>
  orm.select().from(templateCounts).where(eq(templateCounts.id, a.id)),
)
/** Series that start projects from a template, those that run first. */
export const seriesFrom = ready((orm, a: { template: TemplateId }) =>
  orm
    .select({ name: series.name, on: series.on, endedAt: series.endedAt })
    .from(series)
    .where(sql`json_extract(${series.makes}, '$.templateId') = ${a.template}`)
    .orderBy(desc(series.on), isNotNull(series.endedAt)),
)
/** Fields that only projects of a template have. */
export const fieldsOfTemplate = ready((orm, a: { template: TemplateId }) =>
  orm.select({ name: fields.name }).from(fields).where(eq(fields.templateId, a.template)),
)

/** What templates are called. */
export const templateNames = ready((orm) =>
  orm.select({ id: templates.id, name: templates.name }).from(templates),
)
