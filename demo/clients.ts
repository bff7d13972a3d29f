import type { Writer } from '#server/engine/journal.ts'
import { listTags } from '#server/areas/fields/queries.ts'
import { everyState } from '#server/areas/clients/queries.ts'
import { saveTags } from '#server/areas/clients/service.ts'
import { CLIENTS } from './people.ts'
import { by, type Scene } from './scene.ts'

/** Where clients stand in the firm's own words, and what it says of each beside the usual. */

const STATES = [
  ['In talks', 'ochre'],
  ['Joining', 'teal'],
  ['Active', 'fern'],
  ['Leaving', 'slate'],
  ['Former', 'dusk'],
] as const
const STANDS: Readonly<Record<string, (typeof STATES)[number][0]>> = {
  'Hollin Street': 'Joining',
  Dunmarrow: 'Leaving',
}
const TAGS: Readonly<Record<string, readonly string[]>> = {
  'several sites': ['Copperbeck', 'Saltreed'],
  'large animals': ['Larkmoor', 'Greywether', 'Dunmarrow'],
}
const ENGAGEMENTS = [
  { key: 'retainer', name: 'Retainer', colour: 'fern' },
  { key: 'fixed', name: 'Fixed fee', colour: 'teal' },
  { key: 'hourly', name: 'Hourly', colour: 'ochre' },
] as const
const SITES: Readonly<Record<string, number>> = { Copperbeck: 3, Saltreed: 2 }

function nameStates(scene: Scene, write: Writer): Map<string, number> {
  const now = everyState.all(scene.engine.reader)
  const ids = new Map<string, number>()
  for (const [position, [name, colour]] of STATES.entries()) {
    const first = name === 'Active'
    const there = now.find((state) => state.name === name)
    if (there) write.update('clientStates', there.id, { colour, position, first })
    ids.set(name, there?.id ?? write.insert('clientStates', { name, colour, position, first }))
  }
  for (const { id, name } of now) if (!ids.has(name)) write.remove('clientStates', id)
  return ids
}

export function describeClients(scene: Scene): void {
  const { engine, who } = scene
  engine.journal.change(by(scene, 'Imogen'), (write) => {
    const states = nameStates(scene, write)
    write.insert('tags', { name: 'several sites', colour: 'heather' })
    write.insert('tags', { name: 'large animals', colour: 'clay' })
    const tags = new Map(listTags(engine.reader).map(({ id, name }) => [name, id]))
    const engagement = write.insert('fields', {
      ...{ of: 'client', name: 'Engagement', kind: 'choice', position: 4 },
      options: { choices: ENGAGEMENTS },
    })
    const sites = write.insert('fields', {
      ...{ of: 'client', name: 'Sites', kind: 'number', position: 5 },
    })
    for (const [i, { short, tier }] of CLIENTS.entries()) {
      const clientId = who(short)
      write.update('clients', clientId, { stateId: states.get(STANDS[short] ?? 'Active')! })
      const own = Object.entries(TAGS).filter(([, shorts]) => shorts.includes(short))
      saveTags(
        engine,
        write,
        clientId,
        own.map(([name]) => tags.get(name)!),
      )
      const text = tier === 'gold' ? 'retainer' : i % 2 ? 'fixed' : 'hourly'
      write.insert('clientValues', { clientId, fieldId: engagement, text })
      write.insert('clientValues', { clientId, fieldId: sites, number: SITES[short] ?? 1 })
    }
  })
}
