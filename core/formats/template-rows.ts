import type { Template, TemplateTask } from '../templates/template.ts'

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

/** Words that headings are made of. */
const HEADING_WORDS: ReadonlySet<string> = new Set(
  [
    'title titles task tasks name names step steps item items what to do todo activity activities',
    'phase phases stage stages section group part list role roles who owner assignee responsible',
    'person by whom effort efforts estimate estimates time duration hour hours minute minutes mins',
    'day days offset lead lag when due date dates description note notes detail details how comment',
    'comments of the a in from for before after working deadline anchor start is done it number no',
  ].flatMap((line) => line.split(' ')),
)
const wordsOf = (cell: string) =>
  cell
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .filter(Boolean)

/**
 * Whether a first line is headings: every word in it is one that headings are made of, and some of it
 * says what a column means. “Ask the owner for records” is a task.
 */
export function isHeading(first: readonly string[]): boolean {
  const said = first.map((cell) => cell.trim()).filter(Boolean)
  const means = said.some((cell) => Object.values(KNOWN).some((known) => known.test(cell)))
  return means && said.flatMap(wordsOf).every((word) => HEADING_WORDS.has(word))
}

const isNumber = (cell = ''): boolean => /^[-+−]?\d+([.,]\d+)?$/.test(cell.trim())
/** Of columns without headings: the first with words is what is to be done, whole numbers are days. */
function guessColumns(rows: readonly (readonly string[])[]): ImportMapping {
  const filled = (i: number) => rows.map((row) => row[i] ?? '').filter((cell) => cell.trim())
  const columns = Array.from({ length: Math.max(0, ...rows.map((row) => row.length)) }, (_, i) =>
    filled(i),
  )
  const title = columns.findIndex((cells) => cells.length > 0 && !cells.every(isNumber))
  const days = columns.findIndex((cells) => cells.length > 0 && cells.every(isNumber))
  return { title: Math.max(0, title), ...(days >= 0 && { days }) }
}

/**
 * Guesses what the columns mean from their headings; each column is taken once. Where no heading
 * says anything, from what stands in them.
 */
export function guessMapping(
  headings: readonly string[],
  rows: readonly (readonly string[])[] = [],
): ImportMapping {
  const mapping: ImportMapping = {}
  const taken = new Set<number>()
  for (const field of IMPORT_FIELDS) {
    const index = headings.findIndex((h, i) => !taken.has(i) && KNOWN[field].test(h.trim()))
    if (index >= 0) {
      mapping[field] = index
      taken.add(index)
    }
  }
  return taken.size || !rows.length ? mapping : guessColumns(rows)
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

type Cell = (field: ImportField) => string
/** What a row says, before its phase and role are known by their keys. */
interface ReadRow {
  readonly title: string
  readonly effort: number | undefined
  readonly days: number
}

/** Reads one row, or says which cell cannot be read and why. */
function readRow(cell: Cell, kept: number): ReadRow | Omit<RowProblem, 'line'> {
  const title = cell('title')
  if (!title) return { field: 'title', reason: 'has no title' }
  if (title.length > 200)
    return { field: 'title', reason: `the title has ${title.length} characters; 200 is the most` }
  const said = (field: ImportField) => `“${cell(field).slice(0, 40)}”`
  const effort = cell('effort') ? readEffort(cell('effort')) : undefined
  if (effort === null || (effort ?? 0) > 60_000)
    return {
      field: 'effort',
      reason: `${said('effort')} is not an effort; write 90, 90m or 1h 30m`,
    }
  const days = cell('days') ? readDays(cell('days')) : 0
  if (days === null)
    return {
      field: 'days',
      reason:
        `${said('days')} is not a number of days; ` +
        'write -3 for three days before, 2 for two after',
    }
  if (kept >= MOST_TEMPLATE_TASKS)
    return {
      field: 'title',
      reason: `a template holds ${MOST_TEMPLATE_TASKS.toLocaleString('en-GB')} tasks at most`,
    }
  return { title, effort, days }
}

/** Things known by their names, whatever the case, each made once with a key of its own. */
function named<T>(make: (key: string, name: string) => T) {
  const keys = new Set<string>()
  const byName = new Map<string, T>()
  return {
    all: () => [...byName.values()],
    of(name: string): T {
      const known = byName.get(name.toLowerCase()) ?? make(key(name, keys), name)
      byName.set(name.toLowerCase(), known)
      return known
    },
  }
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
  const phases = named((key, name) => ({ key, name, tasks: [] as TemplateTask[] }))
  const roles = named((key, name) => ({ key, name }))
  const taskKeys = new Set<string>()
  for (const [i, row] of rows.entries()) {
    if (row.every((c) => !c.trim())) continue
    const cell: Cell = (field) =>
      mapping[field] === undefined ? '' : (row[mapping[field]] ?? '').trim()
    const read = readRow(cell, taskKeys.size)
    if ('reason' in read) {
      problems.push({ line: firstLine + i, ...read })
      continue
    }
    const { title, effort, days } = read
    const role = cell('role').slice(0, 80)
    phases.of(cell('phase').slice(0, 80) || 'Tasks').tasks.push({
      key: key(title, taskKeys),
      title,
      ...(cell('description') && { description: cell('description').slice(0, 20_000) }),
      ...(role && { role: roles.of(role).key }),
      ...(effort !== undefined && { effort }),
      due: { days, unit: 'working' },
    })
  }
  return {
    template: { name, anchor, roles: roles.all(), phases: phases.all() },
    kept: taskKeys.size,
    problems,
  }
}
