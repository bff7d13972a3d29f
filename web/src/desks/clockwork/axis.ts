import type { Offset, TemplateTask } from '#core/templates/template.ts'
import { plural } from '#web/parts/say.ts'

/**
 * The lead-time axis of a template: which days it spans, its ticks, and where a task lies on it (in
 * per cent).
 */
export function axisOf(tasks: readonly TemplateTask[]) {
  const ends = tasks.flatMap((t) => [t.due.days, t.start?.days ?? t.due.days])
  const low = Math.min(-2, ...ends) - 1
  const high = Math.max(2, ...ends) + 2
  const days = high - low
  const at = (day: number) => ((day - low) / days) * 100
  const step = days <= 20 ? 2 : days <= 50 ? 5 : days <= 120 ? 10 : 30
  const ticks = []
  for (let day = Math.ceil(low / step) * step; day < high; day += step)
    ticks.push({
      days: day,
      at: at(day) + 50 / days,
      name: day > 0 ? `+${day}` : day === 0 ? '0' : `−${-day}`,
    })
  return {
    days,
    zero: at(0),
    ticks,
    place(task: TemplateTask) {
      const first = Math.min(task.start?.days ?? task.due.days, task.due.days)
      return { left: `${at(first)}%`, width: `${((task.due.days - first + 1) / days) * 100}%` }
    },
  }
}

/** An offset as it is said: "3 working days before the deadline". */
export function sayOffset(offset: Offset, anchor: 'start' | 'deadline'): string {
  const base =
    !offset.from || offset.from === 'anchor' ? `the ${anchor}` : offset.from.replace(/:/g, ' ')
  if (offset.days === 0) return `on ${base}`
  const days = plural(Math.abs(offset.days), `${offset.unit ?? 'working'} day`)
  return `${days} ${offset.days < 0 ? 'before' : 'after'} ${base}`
}
