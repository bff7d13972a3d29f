import { asc, count, eq, getTableColumns } from 'drizzle-orm'
import type { TemplateId } from '#core/brands.ts'
import { ready, within } from '../../database/query.ts'
import { projects, templates } from '../../database/tables/index.ts'

export const templateById = ready((orm, a: { id: TemplateId }) =>
  orm.select(getTableColumns(templates)).from(templates).where(eq(templates.id, a.id)),
)
export const allTemplates = ready((orm) =>
  orm.select(getTableColumns(templates)).from(templates).orderBy(asc(templates.name)),
)
/** How many projects were ever started from each template. */
export const startedFrom = within((orm) =>
  orm
    .select({ id: projects.templateId, projects: count() })
    .from(projects)
    .groupBy(projects.templateId),
)
export const startedFromOne = within((orm, a: { id: TemplateId }) =>
  orm.select({ projects: count() }).from(projects).where(eq(projects.templateId, a.id)),
)
