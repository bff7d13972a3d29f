import { localTime, quote } from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'
import type { Offset, Template, TemplatePhase, TemplateTask } from '../templates/template.ts'
import { list, oneOf, record, roll, text, whole, type Line } from './input.ts'

function offset(value: unknown, place: string): Offset {
  if (typeof value === 'number')
    return { days: whole(value, place, -10_000, 10_000), unit: 'working' }
  const o = record(value, place)
  return {
    days: whole(o['days'] ?? 0, `${place}.days`, -10_000, 10_000),
    unit: oneOf(o['unit'] ?? 'working', ['working', 'calendar'] as const, `${place}.unit`),
    ...(o['from'] !== undefined && { from: text(o['from'], `${place}.from`) }),
    ...(o['time'] !== undefined &&
      o['time'] !== null && { time: localTime(o['time'], `${place}.time`) }),
  }
}

function task(value: unknown, place: string, roles: ReadonlySet<string>): TemplateTask {
  const t = record(value, place)
  const title = text(t['title'], `${place}.title`).trim()
  if (!title) refuse('bad-template', `${place}.title: a task needs a title.`, `${place}.title`)
  const role =
    t['role'] === undefined || t['role'] === null ? undefined : text(t['role'], `${place}.role`)
  if (role !== undefined && !roles.has(role))
    refuse(
      'bad-template',
      `${place}.role: ${quote(role)} is not a role of this template.`,
      `${place}.role`,
    )
  const condition = t['onlyIf'] === undefined ? undefined : record(t['onlyIf'], `${place}.onlyIf`)
  return {
    key: t['key'] === undefined ? title : text(t['key'], `${place}.key`),
    title,
    ...(t['description'] !== undefined && {
      description: text(t['description'], `${place}.description`),
    }),
    ...(role !== undefined && { role }),
    ...(t['effort'] !== undefined &&
      t['effort'] !== null && { effort: whole(t['effort'], `${place}.effort`, 0, 60_000) }),
    due: offset(t['due'] ?? 0, `${place}.due`),
    ...(t['start'] !== undefined &&
      t['start'] !== null && { start: offset(t['start'], `${place}.start`) }),
    ...(t['checklist'] !== undefined && {
      checklist: list(t['checklist'], `${place}.checklist`).map((item, i) =>
        text(item, `${place}.checklist[${i}]`),
      ),
    }),
    ...(condition && {
      onlyIf: {
        question: text(condition['question'], `${place}.onlyIf.question`),
        is: condition['is'] as string,
      },
    }),
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
