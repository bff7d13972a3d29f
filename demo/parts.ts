import { setFollowers } from '#server/areas/tasks/links.ts'
import { insertTask } from '#server/areas/tasks/write.ts'
import type { Writer } from '#server/engine/journal.ts'
import type { KeptFiles } from './files.ts'
import type { Own } from './furnish.ts'
import type { Scene } from './scene.ts'

/** One piece of work with parts, whose dates and state follow them. */

const DESCRIPTION =
  '<p>Three sites order from the same wholesaler under three accounts, and nobody sees ' +
  'the total.</p><ul><li>One account, three delivery addresses</li><li>Statements to ' +
  'us, not to the sites</li></ul><p>Done when <strong>one December statement</strong> ' +
  'covers all three.</p>'

interface Parts {
  readonly top: number
  readonly ask: number
}

function makeTasks({ engine, who, on }: Scene, { tags }: Own, write: Writer): Parts {
  const common = { clientId: who('Copperbeck'), creatorId: who('Imogen') }
  const top = insertTask(engine, write, {
    ...common,
    title: 'Move Copperbeck to one supplier account',
    assignees: [who('Imogen')],
    datesFollow: true,
    stateFollows: true,
    tags: [tags['client asked']!],
    followers: [who('Casper')],
    description: DESCRIPTION,
  })
  const part = (
    title: string,
    people: string[],
    due: number,
    estimate: number,
    more: object = {},
  ) =>
    insertTask(engine, write, {
      ...{ ...common, title, estimate, parentId: top, assignees: people.map(who) },
      ...{ start: on(due - 2), due: on(due), ...more },
    })
  part('List what each site owes', ['Wendel'], 1, 60, { state: 'done' })
  const ask = part('Ask the wholesaler for one account', ['Imogen'], 3, 30, {
    state: 'under-way',
  })
  const count = part('Count what is on the shelves', ['Joss', 'Teo'], 6, 240, {
    doneBy: 'all',
    estimates: { [who('Joss')]: 120, [who('Teo')]: 120 },
  })
  insertTask(engine, write, {
    ...{ ...common, title: 'Book the out-of-hours fridge', parentId: count },
    ...{ assignees: [who('Teo')], due: on(4), estimate: 15 },
  })
  part('Close the old accounts', ['Wendel'], 10, 45)
  return { top, ask }
}

function addFiles({ who }: Scene, { top, ask }: Parts, files: KeptFiles, write: Writer): void {
  const personId = who('Imogen')
  const file = (taskId: number, name: string, more: object = {}) =>
    write.insert('attachments', {
      ...{ taskId, ...files(name), personId, at: write.at - 3_000_000 },
      ...more,
    })
  file(top, 'Orders by site, October.png', { onBoard: true })
  file(top, 'Terms of the wholesaler.pdf')
  file(ask, 'accounts.csv')
  write.insert('attachments', {
    taskId: top,
    name: 'Wholesaler, trade desk',
    url: 'https://wholesaler.example/trade',
    personId,
    at: write.at - 2_000_000,
  })
}

export function makeParts(
  scene: Scene,
  { own, files }: { own: Own; files: KeptFiles },
  write: Writer,
): void {
  const { engine, who } = scene
  const parts = makeTasks(scene, own, write)
  write.insert('comments', {
    taskId: parts.ask,
    authorId: who('Imogen'),
    at: write.at - 3_600_000,
    body:
      `<p><span class="mention" data-person="${who('Wendel')}">@Wendel Ashgrove</span> can ` +
      `you send me the three account numbers?</p>`,
  })
  addFiles(scene, parts, files, write)
  setFollowers(engine, write, parts.ask, [who('Wendel'), who('Marisol')])
}
