import { localTime, quote } from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'
import type { Offset, Template, TemplatePhase, TemplateTask } from '../templates/template.ts'
import { list, oneOf, record, roll, text, whole, type Line } from './input.ts'

/** One entry of a record as read, or nothing where it is not given. */
const given = <K extends string, T>(
  of: Line,
  key: K,
  place: string,
  read: (value: unknown, place: string) => T,
): { [P in K]?: T } =>
  of[key] === undefined || of[key] === null
    ? {}
    : ({ [key]: read(of[key], `${place}.${key}`) } as { [P in K]?: T })

function offset(value: unknown, place: string): Offset {
  if (typeof value === 'number')
    return { days: whole(value, place, -10_000, 10_000), unit: 'working' }
  const o = record(value, place)
  return {
    days: whole(o['days'] ?? 0, `${place}.days`, -10_000, 10_000),
    unit: oneOf(o['unit'] ?? 'working', ['working', 'calendar'] as const, `${place}.unit`),
    ...given(o, 'from', place, text),
    ...given(o, 'time', place, localTime),
  }
}

const texts = (value: unknown, place: string): string[] =>
  list(value, place).map((item, i) => text(item, `${place}[${i}]`))

function condition(value: unknown, place: string): NonNullable<TemplateTask['onlyIf']> {
  const { question, is } = record(value, place)
  return { question: text(question, `${place}.question`), is: is as string }
}

function task(value: unknown, place: string, roles: ReadonlySet<string>): TemplateTask {
  const t = record(value, place)
  const title = text(t['title'], `${place}.title`).trim()
  if (!title) refuse('bad-template', `${place}.title: a task needs a title.`, `${place}.title`)
  const { role } = given(t, 'role', place, text)
  if (role !== undefined && !roles.has(role))
    refuse(
      'bad-template',
      `${place}.role: ${quote(role)} is not a role of this template.`,
      `${place}.role`,
    )
  return {
    key: title,
    ...given(t, 'key', place, text),
    title,
    ...given(t, 'description', place, text),
    ...(role !== undefined && { role }),
    ...given(t, 'effort', place, (effort, at) => whole(effort, at, 0, 60_000)),
    due: offset(t['due'] ?? 0, `${place}.due`),
    ...given(t, 'start', place, offset),
    ...given(t, 'checklist', place, texts),
    ...given(t, 'onlyIf', place, condition),
  }
}

function phase(value: unknown, place: string, roles: ReadonlySet<string>): TemplatePhase {
  const p: Line = record(value, place)
  const name = text(p['name'] ?? p['key'], `${place}.name`)
  return {
    key: p['key'] === undefined ? name : text(p['key'], `${place}.key`),
    name,
    tasks: list(p['tasks'], `${place}.tasks`).map((t, i) => task(t, `${place}.tasks[${i}]`, roles)),
  }
}

/**
 * Reads a template from untrusted JSON. An offset may be a bare number (working days from the
 * anchor); keys may be left out where titles and names are unique.
 * @throws Refusal `bad-template`, `bad-input`, `bad-number`, `bad-time`, naming the place.
 */
export function templateOf(value: unknown): Template {
  const t = record(value, 'template')
  const roles = list(t['roles'], 'template.roles').map((each, i) => {
    if (typeof each === 'string') return { key: each, name: each }
    const r = record(each, `template.roles[${i}]`)
    const key = text(r['key'] ?? r['name'], `template.roles[${i}].key`)
    return { key, name: text(r['name'] ?? key, `template.roles[${i}].name`) }
  })
  const keys = new Set(roles.map((r) => r.key))
  const rolled = roll(t['roll'])
  const phases = list(t['phases'], 'template.phases').map((p, i) =>
    phase(p, `template.phases[${i}]`, keys),
  )
  // A short template may name its tasks without phases.
  if (t['tasks'] !== undefined)
    phases.push(phase({ key: 'tasks', name: 'Tasks', tasks: t['tasks'] }, 'template', keys))
  if (phases.length === 0)
    refuse(
      'bad-template',
      'template.phases: a template needs at least one phase with tasks.',
      'template.phases',
    )
  return {
    name: text(t['name'] ?? '', 'template.name'),
    anchor: oneOf(t['anchor'] ?? 'deadline', ['start', 'deadline'] as const, 'template.anchor'),
    ...(rolled && { roll: rolled }),
    roles,
    phases,
  }
}
