import {
  BY_ROLE,
  OF_TASKS,
  OF_TEAM,
  UNNAMED,
  type About,
  type OfTeam,
  type Who,
} from '#contract/actions/action.ts'
import type { Known } from '#web/fields/known.ts'

/** Whom a step can be about, as one word to choose. */

/** How somebody is told apart among the choices. */
export const whoCode = (who: Who): string => ('id' in who ? `${who.is}:${who.id}` : who.is)
/** Somebody by that; a role is filled in beside. */
export function whoOf(code: string, before: Who): Who {
  const [is = '', id] = code.split(':')
  if (id) return { is, id: Number(id) } as Who
  if (!Object.hasOwn(BY_ROLE, is)) return { is } as Who
  return { is, role: 'role' in before ? before.role : '' } as Who
}
/** Somebody who left stays while they are chosen. */
export function whoChoices({ directory }: Known, about: About, chosen: Who) {
  const kept = whoCode(chosen)
  const teams = (Object.keys(OF_TEAM) as OfTeam[]).flatMap((is) =>
    directory.teams.map((t) => ({ value: `${is}:${t.id}`, name: `${OF_TEAM[is]} ${t.name}` })),
  )
  return [
    ...Object.entries(UNNAMED)
      .filter(([value]) => about === 'task' || !OF_TASKS.has(value) || value === kept)
      .map(([value, name]) => ({ value, name })),
    ...Object.entries(BY_ROLE).map(([value, name]) => ({ value, name: `${name} …` })),
    ...directory.people
      .filter((p) => p.active || kept === `person:${p.id}`)
      .map((p) => ({ value: `person:${p.id}`, name: p.active ? p.name : `${p.name} (left)` })),
    ...teams,
  ]
}
