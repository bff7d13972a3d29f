import ICAL from 'ical.js'
import { refuse } from '#core/refusal.ts'
import type { NewContact } from '#contract/clients.ts'

/**
 * vCards: written as RFC 6350 (version 4), read as that or as version 3 (RFC 2426). An organisation
 * is a card of its own kind; whoever works there is one with the organisation's name.
 */

/** What a card says of a client, or of somebody at one. */
export interface Card {
  readonly name: string
  readonly organisation: boolean
  /** The organisation that somebody belongs to; empty where there is none. */
  readonly of: string
  readonly title: string
  readonly email: string
  readonly phone: string
  readonly website: string
  readonly address: string
  readonly notes: string
}

/** The seven parts of an address (RFC 6350, 6.3.1), as lines. */
const addressOf = (value: unknown): string =>
  (Array.isArray(value) ? value.flat() : [value])
    .map((part) => String(part ?? '').trim())
    .filter(Boolean)
    .join('\n')

function cardOf(card: InstanceType<typeof ICAL.Component>): Card {
  const first = (name: string): unknown => card.getFirstPropertyValue(name)
  const text = (name: string): string => String(first(name) ?? '').trim()
  const org = first('org')
  const of = String((Array.isArray(org) ? org[0] : org) ?? '').trim()
  const name = text('fn') || of
  const kind = text('kind').toLowerCase()
  return {
    name,
    // Version 3 knows no kinds: a card that is called as its organisation is of one.
    organisation: kind ? kind === 'org' : of !== '' && of === name,
    of: of === name ? '' : of,
    title: text('title') || text('role'),
    email: text('email').replace(/^mailto:/i, ''),
    phone: text('tel').replace(/^tel:/i, ''),
    website: text('url'),
    address: addressOf(first('adr')),
    notes: text('note'),
  }
}

/** @throws Refusal `bad-card` where it is no vCard */
export function readCards(text: string): Card[] {
  try {
    const parsed: unknown = ICAL.parse(text.replace(/^\ufeff/, '').trim())
    const all = Array.isArray(parsed) && Array.isArray(parsed[0]) ? parsed : [parsed]
    return all
      .map((jcard) => new ICAL.Component(jcard))
      .filter((card) => card.name === 'vcard')
      .map(cardOf)
  } catch (error) {
    return refuse(
      'bad-card',
      `This is no vCard that can be read: ${error instanceof Error ? error.message : 'unknown'}.`,
      'file',
    )
  }
}

type Property = readonly [name: string, value: string | readonly string[]]
/** A card of these properties; several parts are a structured value (RFC 6350, 3.3). */
function written(properties: readonly Property[]): string {
  const card = new ICAL.Component(['vcard', [], []])
  card.addPropertyWithValue('version', '4.0')
  for (const [name, value] of properties) {
    if (typeof value === 'string' ? !value : value.every((part) => !part)) continue
    const property = new ICAL.Property(name, card)
    property.setValue(value)
    card.addProperty(property)
  }
  return card.toString()
}
interface Written {
  readonly name: string
  readonly kind: 'organisation' | 'person'
  readonly tier: string
  readonly email: string
  readonly phone: string
  readonly website: string
  readonly address: string
  readonly notes: string
  readonly contacts: readonly NewContact[]
}
/** A client and its contacts as vCards. */
export function cardsOf({ name, kind, contacts, ...client }: Written): string {
  const organisation = kind === 'organisation'
  const own: Property[] = [
    ['kind', organisation ? 'org' : 'individual'],
    ['fn', name],
    ['org', organisation ? [name] : ''],
    ['email', client.email],
    ['tel', client.phone],
    ['url', client.website],
    ['adr', ['', '', client.address, '', '', '', '']],
    ['note', client.notes],
    ['categories', client.tier],
  ]
  const others = contacts.map((contact): Property[] => [
    ['kind', 'individual'],
    ['fn', contact.name],
    ['org', [name]],
    ['title', contact.title],
    ['email', contact.email],
  ])
  return [own, ...others].map(written).join('\r\n')
}
