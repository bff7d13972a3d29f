/** When a rule of RFC 5545 ends (section 3.3.10): after a date, after so many times, or never. */
export type RuleEnd =
  | { readonly on: 'never' }
  | { readonly on: 'date'; readonly date: string }
  | { readonly on: 'count'; readonly times: number }

const partsOf = (rule: string) => rule.split(';').filter(Boolean)

/** The end that a rule has. */
export function endOf(rule: string): RuleEnd {
  for (const part of partsOf(rule)) {
    const [name, value = ''] = part.split('=')
    const day = /^(\d{4})(\d{2})(\d{2})/.exec(value)
    if (name === 'COUNT') return { on: 'count', times: Number(value) }
    if (name === 'UNTIL' && day) return { on: 'date', date: `${day[1]}-${day[2]}-${day[3]}` }
  }
  return { on: 'never' }
}

/** A rule with another end; `timed`: its dates have times of day, so its last day is whole. */
export function withEnd(rule: string, end: RuleEnd, timed: boolean): string {
  const parts = partsOf(rule).filter((part) => !/^(UNTIL|COUNT)=/.test(part))
  if (end.on === 'count') parts.push(`COUNT=${end.times}`)
  if (end.on === 'date')
    parts.push(`UNTIL=${end.date.replaceAll('-', '')}${timed ? 'T235959' : ''}`)
  return parts.join(';')
}
