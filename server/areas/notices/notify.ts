import type { PersonId, RunId } from '#core/brands.ts'
import { plural } from '#core/text/speak.ts'
import type { NoticeKind } from '#contract/words.ts'
import type { Item, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { seesThatProject, seesThatTask, viewerOf } from '../access/levels.ts'
import { personById } from '../people/queries.ts'

/** A mail that goes with a notice; `key` keeps it single, whatever restarts. */
export interface Letter {
  readonly key: string
  readonly recipient: string
  readonly subject: string
  readonly body: string
}
/** What somebody is to be told. */
export interface News {
  readonly to: PersonId
  readonly kind: NoticeKind
  readonly about: Item | null
  readonly text: string
  readonly mail?: Letter
  readonly run?: RunId
}

/** So many are told one by one; more are counted. */
const FEW = 3
/** Several of a kind, counted; what is not named here is always told whole. */
const MANY: Readonly<Partial<Record<NoticeKind, (count: number) => string>>> = {
  assigned: (count) => `You were put on ${plural(count, 'task')}`,
  comment: (count) => `There are ${plural(count, 'new comment')} on your work`,
  follow: (count) => `${plural(count, 'task')} you follow changed at once`,
}

const sameItem = (a: Item | null, b: Item | null): boolean => a?.kind === b?.kind && a?.id === b?.id

/** What is told of several things of one kind: one by one where they are few. */
function together(all: readonly News[]): Pick<News, 'text' | 'about'> {
  const [first] = all
  const texts = [...new Set(all.map((news) => news.text))]
  const about = first && all.every((news) => sameItem(news.about, first.about)) ? first.about : null
  const many = MANY[first!.kind]
  return { text: many && texts.length > FEW ? many(all.length) : texts.join('; '), about }
}

/** Whether somebody sees what they would be told of: nobody hears of anything else. */
export function mayHear(engine: Engine, { to, about }: Pick<News, 'to' | 'about'>): boolean {
  if (about?.kind !== 'task' && about?.kind !== 'project') return true
  const person = personById.get(engine.reader, { id: to })
  if (!person?.active) return false
  const sees = about.kind === 'task' ? seesThatTask : seesThatProject
  return sees(engine, viewerOf(person), about.id)
}

/**
 * Tells people in the application and, where there is a letter, by mail: nothing else writes
 * notices. What a change has to tell somebody is handed over together and told in one notice of each
 * kind.
 */
export function notify(engine: Engine, write: Writer, all: readonly News[]): void {
  const byPerson = new Map<string, News[]>()
  for (const news of all) {
    if (!mayHear(engine, news)) continue
    const key = `${news.to} ${news.kind}`
    const mine = byPerson.get(key)
    if (mine) mine.push(news)
    else byPerson.set(key, [news])
  }
  for (const mine of byPerson.values()) {
    const { to: personId, kind, run: runId } = mine[0]!
    const { text: body, about } = together(mine)
    write.insert('notices', {
      ...{ personId, kind, body, at: write.at },
      ...(about && { itemKind: about.kind, itemId: about.id }),
      ...(runId !== undefined && { runId }),
    })
    for (const { mail } of mine)
      if (mail)
        write.insert('outbox', {
          ...mail,
          ...{ nextAt: write.at, createdAt: write.at, change: write.change },
        })
  }
}
