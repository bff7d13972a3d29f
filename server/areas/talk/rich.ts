import sanitize from 'sanitize-html'
import { mentioned } from '#core/text/rich.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'

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
  const clean = sanitize(html, ALLOWED).trim()
  return /[^\s]/.test(clean.replace(/<(?!hr)[^>]*>|&nbsp;/g, '')) ? clean : ''
}

const nameOf = (engine: Engine, write: Writer): string =>
  (write.actor.kind === 'person'
    ? (
        engine.db.prepare('select name from people where id = ?').get(write.actor.id) as
          { name: string } | undefined
      )?.name
    : undefined) ?? 'Someone'

/** Tells members who are newly mentioned in what is said about a project, once each. */
export function tellMentionedOn(
  engine: Engine,
  write: Writer,
  project: string,
  html: string,
  before = '',
): void {
  const old = new Set(mentioned(before))
  for (const personId of mentioned(html)) {
    if (old.has(personId)) continue
    const member = engine.db
      .prepare(
        "select 1 from people where id = ? and active = 1 and access not in ('contractor', 'client')",
      )
      .get(personId)
    if (member && personId !== write.actor.id)
      write.insert('notices', {
        personId,
        kind: 'mention',
        body: `${nameOf(engine, write)} mentioned you on the project “${project}”`,
        taskId: null,
        at: write.at,
      })
  }
}

/** Tells people who are newly mentioned, once each, and makes them followers of the task. */
export function tellMentioned(
  engine: Engine,
  write: Writer,
  taskId: number,
  html: string,
  before = '',
): void {
  const old = new Set(mentioned(before))
  const task = engine.db.prepare('select title from tasks where id = ?').get(taskId) as {
    title: string
  }
  for (const personId of mentioned(html)) {
    if (old.has(personId) || personId === write.actor.id) continue
    const person = engine.db
      .prepare('select access from people where id = ? and active = 1')
      .get(personId) as { access: string } | undefined
    if (!person) continue
    // Guests hear only of what was handed to them.
    const guest = person.access === 'contractor' || person.access === 'client'
    if (
      guest &&
      !engine.db
        .prepare('select 1 from taskAssignees where taskId = ? and personId = ?')
        .get(taskId, personId)
    )
      continue
    write.insert('notices', {
      personId,
      kind: 'mention',
      body: `${nameOf(engine, write)} mentioned you on “${task.title}”`,
      taskId,
      at: write.at,
    })
    if (
      !engine.db
        .prepare('select 1 from taskFollowers where taskId = ? and personId = ?')
        .get(taskId, personId)
    )
      write.insert('taskFollowers', { taskId, personId })
  }
}
