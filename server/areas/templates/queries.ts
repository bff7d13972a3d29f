import { and, asc, eq, getTableColumns, isNull, sql } from 'drizzle-orm'
import type { TemplateId } from '#core/brands.ts'
import { ready } from '../../database/query.ts'
import { series, templateCounts, templates } from '../../database/tables/index.ts'

export const templateById = ready((orm, a: { id: TemplateId }) =>
  orm.select(getTableColumns(templates)).from(templates).where(eq(templates.id, a.id)),
)
export const allTemplates = ready((orm) =>
  orm.select(getTableColumns(templates)).from(templates).orderBy(asc(templates.name)),
)
/** How many projects were ever started from each template. */
export const startedFrom = ready((orm) => orm.select().from(templateCounts))
export const startedFromOne = ready((orm, a: { id: TemplateId }) =>
  orm.select().from(templateCounts).where(eq(templateCounts.id, a.id)),
)
/** Running series that start projects from a template. */
export const seriesFrom = ready((orm, a: { template: TemplateId }) =>
  orm
    .select({ id: series.id, name: series.name })
    .from(series)
    .where(
      and(
        eq(series.on, true),
        isNull(series.endedAt),
        sql`json_extract(${series.makes}, '$.templateId') = ${a.template}`,
      ),
    ),
)
