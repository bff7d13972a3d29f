import type { Template, TemplatePhase, TemplateTask } from '../templates/template.ts'

/** What a column of an imported checklist may mean. */
export const IMPORT_FIELDS = ['title', 'phase', 'role', 'effort', 'days', 'description'] as const
export type ImportField = (typeof IMPORT_FIELDS)[number]
/** Field to column index; a field without a column is left out. */
export type ImportMapping = Partial<Record<ImportField, number>>

export interface RowProblem {
  /** Line in the file, counted from 1 with the heading as line 1. */
  readonly line: number
  readonly field: ImportField
  readonly reason: string
}

export interface ReadRows {
  readonly template: Template
  /** Rows that became tasks. */
  readonly kept: number
  /** Rows left out, each with the first reason. */
  readonly problems: readonly RowProblem[]
}

export const MOST_TEMPLATE_TASKS = 2_000

const KNOWN: Record<ImportField, RegExp> = {
  title: /^(title|task|name|step|item|what|to ?do|activity)/i,
  phase: /^(phase|stage|section|group|part|list)/i,
  role: /^(role|who|owner|assignee|responsible|person|by whom)/i,
  effort: /^(effort|estimate|time|duration|hours|minutes|mins?)/i,
  days: /(days|offset|lead|lag|when|due)/i,
  description: /^(description|notes?|details?|how|comment)/i,
}

/** Guesses what the columns mean from their headings; each column is taken once. */
export function guessMapping(headings: readonly string[]): ImportMapping {
  const mapping: ImportMapping = {}
  const taken = new Set<number>()
  for (const field of IMPORT_FIELDS) {
    const index = headings.findIndex((h, i) => !taken.has(i) && KNOWN[field].test(h.trim()))
    if (index >= 0) {
      mapping[field] = index
      taken.add(index)
    }
  }
  return mapping
}

/**
 * Minutes from "90", "90m", "1h 30m", "1.5h", "1:30"; null when it is none of these. A bare number
 * is minutes.
 */
export function readEffort(text: string): number | null {
  const t = text.trim().toLowerCase().replace(/\s+/g, ' ')
  let m: RegExpExecArray | null
  if ((m = /^(\d{1,5})( ?(m|min|mins|minutes))?$/.exec(t))) return +m[1]!
  if (
    (m = /^(\d{1,3})([.,]\d{1,2})? ?(h|hr|hrs|hours?)(?: ?(\d{1,2}) ?(m|min|mins|minutes)?)?$/.exec(
      t,
    ))
  )
    return Math.round(parseFloat(m[1]! + (m[2] ?? '').replace(',', '.')) * 60) + +(m[4] ?? 0)
  if ((m = /^(\d{1,3}):([0-5]\d)$/.exec(t))) return +m[1]! * 60 + +m[2]!
  return null
}

/**
 * Days from the anchor: "-3", "3 before", "+2", "2 days after", "0"; null when it is none of these.
 */
export function readDays(text: string): number | null {
  const t = text.trim().toLowerCase().replace(/[−–]/g, '-')
  let m: RegExpExecArray | null
  if ((m = /^([+-]?)\s?(\d{1,4})$/.exec(t))) return m[1] === '-' ? -+m[2]! || 0 : +m[2]!
  if ((m = /^(\d{1,4})( working)?( days?| d)? (before|after)$/.exec(t)))
    return m[4] === 'before' ? -+m[1]! || 0 : +m[1]!
  return null
}

const key = (name: string, taken: Set<string>): string => {
  const base =
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 40) || 'item'
  let candidate = base
  for (let n = 2; taken.has(candidate); n++) candidate = `${base}-${n}`
  taken.add(candidate)
  return candidate
}

/**
 * Makes a template of rows: one task a row, phases and roles in the order they first appear. A row
 * that cannot be read is left out and named with its reason; the rest is kept. `firstLine` is the
 * file's line of the first row. Days count in working days from the anchor, negative before it.
 */
export function readTemplateRows(
  rows: readonly (readonly string[])[],
  mapping: ImportMapping,
  name: string,
  anchor: Template['anchor'],
  firstLine = 2,
): ReadRows {
  const problems: RowProblem[] = []
  const phases = new Map<string, { key: string; name: string; tasks: TemplateTask[] }>()
  const roles = new Map<string, { key: string; name: string }>()
  const taskKeys = new Set<string>()
  const phaseKeys = new Set<string>()
  const roleKeys = new Set<string>()
  let kept = 0
  rows.forEach((row, i) => {
    const cell = (field: ImportField): string =>
      mapping[field] === undefined ? '' : (row[mapping[field]] ?? '').trim()
    if (row.every((c) => !c.trim())) return
    const fail = (field: ImportField, reason: string) =>
      problems.push({ line: firstLine + i, field, reason })
    const title = cell('title')
    if (!title) return fail('title', 'has no title')
    if (title.length > 200)
      return fail('title', `the title has ${title.length} characters; 200 is the most`)
    const effort = cell('effort') ? readEffort(cell('effort')) : undefined
    if (effort === null || (effort ?? 0) > 60_000)
      return fail(
        'effort',
        `“${cell('effort').slice(0, 40)}” is not an effort; write 90, 90m or 1h 30m`,
      )
    const days = cell('days') ? readDays(cell('days')) : 0
    if (days === null)
      return fail(
        'days',
        `“${cell('days').slice(0, 40)}” is not a number of days; write -3 for three days before, 2 for two after`,
      )
    if (kept >= MOST_TEMPLATE_TASKS)
      return fail(
        'title',
        `a template holds ${MOST_TEMPLATE_TASKS.toLocaleString('en-GB')} tasks at most`,
      )
    kept++
    const phaseName = cell('phase').slice(0, 80) || 'Tasks'
    const phase = phases.get(phaseName.toLowerCase()) ?? {
      key: key(phaseName, phaseKeys),
      name: phaseName,
      tasks: [],
    }
    phases.set(phaseName.toLowerCase(), phase)
    const roleName = cell('role').slice(0, 80)
    let role: { key: string; name: string } | undefined
    if (roleName) {
      role = roles.get(roleName.toLowerCase()) ?? { key: key(roleName, roleKeys), name: roleName }
      roles.set(roleName.toLowerCase(), role)
    }
    phase.tasks.push({
      key: key(title, taskKeys),
      title,
      ...(cell('description') && { description: cell('description').slice(0, 20_000) }),
      ...(role && { role: role.key }),
      ...(effort !== undefined && { effort }),
      due: { days, unit: 'working' },
    })
  })
  return {
    template: {
      name,
      anchor,
      roles: [...roles.values()],
      phases: [...phases.values()] as TemplatePhase[],
    },
    kept,
    problems,
  }
}
