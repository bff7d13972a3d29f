import sanitize from 'sanitize-html'
import { mentioned } from '#core/text/rich.ts'
import type { PersonId, ProjectId, TaskId } from '#core/brands.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { isGuestAccess } from '../../engine/viewer.ts'
import { mayHear, notify } from '../notices/notify.ts'
import { concernedWith } from '../notices/queries.ts'
import { personById, personName } from '../people/queries.ts'
import { isFollowing } from '../tasks/queries.ts'
import { titleOf } from './queries.ts'

/** What rich text may hold; everything else is taken out, its words kept. */
const ALLOWED: sanitize.IOptions = {
  allowedTags: [
    'p',
    'br',
    'strong',
    'em',
    'u',
    's',
    'code',
    'pre',
    'blockquote',
    'ul',
    'ol',
    'li',
    'h2',
    'h3',
    'h4',
    'hr',
    'a',
    'span',
  ],
  allowedAttributes: {
    a: ['href', 'rel', 'target'],
    span: ['data-person', 'class'],
    ol: ['start'],
  },
  allowedClasses: { span: ['mention'] },
  allowedSchemes: ['http', 'https', 'mailto'],
  allowProtocolRelative: false,
  disallowedTagsMode: 'discard',
  transformTags: {
    a: (tagName, attribs) => ({
      tagName,
      attribs: {
        ...(attribs['href'] && { href: attribs['href'] }),
        rel: 'noopener noreferrer nofollow',
        target: '_blank',
      },
    }),
  },
}

/**
 * Rich text made safe to show: no scripts, styles, events or addresses but http, https and mailto.
 * Nothing but empty blocks becomes nothing.
 */
export function cleanRich(html: string): string {
  if (html === '') return ''
  const clean = sanitize(html, ALLOWED).trim()
  return /[^\s]/.test(clean.replace(/<(?!hr)[^>]*>|&nbsp;/g, '')) ? clean : ''
}

const nameOf = (engine: Engine, { actor }: Writer): string =>
  (actor.kind === 'person' && actor.id !== null ? personName(engine.reader, actor.id) : null) ??
  'Someone'

/** People newly mentioned who are here, but for whoever writes; each once. */
function fresh(engine: Engine, write: Writer, html: string, before: string) {
  const old = new Set(mentioned(before))
  return mentioned(html).flatMap((id) => {
    const person =
      old.has(id) || id === write.actor.id ? null : personById.get(engine.reader, { id })
    return person?.active ? [person] : []
  })
}

/** Tells members who are newly mentioned in what is said about a project, once each. */
export function tellMentionedOn(
  engine: Engine,
  write: Writer,
  project: { id: ProjectId; name: string },
  html: string,
  before = '',
): void {
  notify(
    engine,
    write,
    fresh(engine, write, html, before).map(({ id }) => ({
      ...{ to: id, kind: 'mention', about: { kind: 'project', id: project.id } },
      text: `${nameOf(engine, write)} mentioned you on the project “${project.name}”`,
    })),
  )
}

const isByGuest = ({ reader }: Engine, { actor }: Writer): boolean => {
  const by =
    actor.kind === 'person' && actor.id !== null && personById.get(reader, { id: actor.id })
  return by !== false && by !== undefined && isGuestAccess(by.access)
}
/** Of some people those who have to do with a task: guests reach nobody else. */
function concernedOf<P extends { id: PersonId }>(
  { reader }: Engine,
  task: TaskId,
  people: P[],
): P[] {
  const concerned = new Set(concernedWith.all(reader, { task }).map(({ id }) => Number(id)))
  return people.filter(({ id }) => concerned.has(id))
}

/** Tells people who are newly mentioned, once each, and makes them followers of the task. */
export function tellMentioned(
  engine: Engine,
  write: Writer,
  taskId: TaskId,
  html: string,
  before = '',
): void {
  const named = fresh(engine, write, html, before)
  if (named.length === 0) return
  const told = isByGuest(engine, write) ? concernedOf(engine, taskId, named) : named
  const title = titleOf.get(engine.reader, { id: taskId })?.title ?? ''
  for (const { id: person } of told) {
    // Whoever does not see the task neither hears of it nor follows it.
    if (!mayHear(engine, { to: person, about: { kind: 'task', id: taskId } })) continue
    notify(engine, write, [
      {
        ...{ to: person, kind: 'mention', about: { kind: 'task', id: taskId } },
        text: `${nameOf(engine, write)} mentioned you on “${title}”`,
      },
    ])
    if (!isFollowing.get(engine.reader, { id: taskId, person }))
      write.insert('taskFollowers', { taskId, personId: person })
  }
}
