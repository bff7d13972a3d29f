import { integer, text } from 'drizzle-orm/sqlite-core'
import type { Id } from '#core/brands.ts'

/** Columns that many tables have. Instants are epoch milliseconds UTC; dates are `YYYY-MM-DD`. */

/** The number of a row of this kind. */
export const id = <Kind extends string = string>() => integer().primaryKey().$type<Id<Kind>>()
export const instant = () => integer()
export const flag = () => integer({ mode: 'boolean' })
/** A value kept as JSON. */
export const json = <T>() => text({ mode: 'json' }).$type<T>()
/** What is counted up at every edit, so that two people never overwrite each other. */
export const version = () => integer().notNull().default(1)
