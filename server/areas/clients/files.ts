import Papa from 'papaparse'
import type { ClientId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { sameName } from '#core/text/short-name.ts'
import {
  MOST_CLIENTS,
  type CLIENT_FORMATS,
  type ClientsRead,
  type ClientToBring,
  type NewContact,
} from '#contract/clients.ts'
import { TIERS } from '#contract/words.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { valuesOf } from '../fields/queries.ts'
import { setDetails } from '../fields/values.ts'
import { decode } from '../imports/csv.ts'
import { readRows } from '../imports/rows.ts'
import { insertContact } from '../people/invite.ts'
import { allClients } from '../people/queries.ts'
import { cardsOf, readCards, type Card } from './cards.ts'
import { ownColumns, ownReader } from './own.ts'
import { everyClient, everyContact, tagsOf, wholeClient } from './queries.ts'
import { checkGiven, checkNames, insertClient, saveTags } from './service.ts'

/** Clients and their contacts as files: CSV and vCards, out and in. */

/** The columns of a CSV, and what else they may be called. */
const COLUMNS = {
  name: ['client', 'name', 'company', 'organisation', 'organization'],
  short: ['for short', 'short'],
  tier: ['tier'],
  kind: ['kind'],
  email: ['e-mail', 'email', 'e-mail address'],
  phone: ['telephone', 'phone'],
  website: ['website', 'web', 'url'],
  address: ['address'],
  notes: ['notes', 'note'],
  contact: ['contact', 'contact name'],
  title: ['contact is', 'contact role', 'role', 'title'],
  contactEmail: ['contact’s e-mail', "contact's e-mail", 'contact e-mail', 'contact email'],
} as const
type Column = keyof typeof COLUMNS
/** As a column is headed when it is taken out: its first name. */
const HEADS = Object.values(COLUMNS).map(([name]) => name[0]!.toUpperCase() + name.slice(1))

type Found = Map<string, ClientToBring>
const blank = (name: string): ClientToBring => ({ name, contacts: [], same: null })
function clientIn(found: Found, name: string): ClientToBring {
  const key = name.toLowerCase()
  const known = found.get(key) ?? blank(name)
  found.set(key, known)
  return known
}
const clipped = (text: string, most: number): string => text.trim().slice(0, most)
/** What would be a formula was made text as it was taken out: “'+44 …” is a telephone number. */
const plain = (cell: string): string => cell.replace(/^'(?=[=+\-@])/, '')
/** Puts somebody with a client; whoever has no address cannot be told apart, and is left out. */
function addContact(client: ClientToBring, { name, title, email }: NewContact, notes: string[]) {
  if (!name) return
  if (!/^[^\s@]+@[^\s@]+$/.test(email)) {
    notes.push(`${name} of ${client.name} has no e-mail address, and is left out.`)
    return
  }
  if (client.contacts.some((one) => one.email.toLowerCase() === email.toLowerCase())) return
  client.contacts.push({ name: clipped(name, 120), title: clipped(title, 120), email })
}

function ofCards(cards: readonly Card[], notes: string[]): Found {
  const found: Found = new Map()
  for (const card of cards) {
    if (!card.name) continue
    // Somebody of no organisation is a client of their own.
    const client = clientIn(found, clipped(card.of || card.name, 120))
    if (card.of) {
      addContact(client, card, notes)
      continue
    }
    Object.assign(client, {
      kind: card.organisation ? 'organisation' : 'person',
      ...{ email: clipped(card.email, 200), phone: clipped(card.phone, 60) },
      ...{ website: clipped(card.website, 300), address: clipped(card.address, 500) },
      notes: clipped(card.notes, 5_000),
    })
  }
  return found
}

/** A CSV as it was read: its heads, its rows, what the firm's own columns in it say. */
interface Sheet {
  readonly headings: readonly string[]
  readonly rows: readonly string[][]
  readonly own: ReturnType<typeof ownReader>
}
function ofRows({ headings, rows, own }: Sheet, notes: string[]): Found {
  const at = (column: Column): number => {
    const names: readonly string[] = COLUMNS[column]
    return headings.findIndex((heading) => names.includes(heading.trim().toLowerCase()))
  }
  if (at('name') < 0)
    refuse('no-column', 'No column says what the clients are called; head one “Client”.', 'file')
  const found: Found = new Map()
  for (const row of rows) {
    const cell = (column: Column, most: number) => clipped(plain(row[at(column)] ?? ''), most)
    const name = cell('name', 120)
    if (!name) continue
    const client = clientIn(found, name)
    const tier = TIERS.find((each) => each === cell('tier', 40).toLowerCase())
    const short = cell('short', 40)
    const details = {
      ...{ email: cell('email', 200), phone: cell('phone', 60), website: cell('website', 300) },
      ...{ address: cell('address', 500), notes: cell('notes', 5_000) },
    }
    const under = (head: string) => {
      const place = headings.findLastIndex(
        (each) => each.trim().toLowerCase() === head.toLowerCase(),
      )
      return clipped(plain(row[place] ?? ''), 2_000)
    }
    Object.assign(
      client,
      own(name, under),
      Object.fromEntries(Object.entries(details).filter(([, text]) => text)),
      short && { short },
      tier && { tier },
      /^person/i.test(cell('kind', 40)) && { kind: 'person' },
    )
    const who = { name: cell('contact', 120), title: cell('title', 120) }
    addContact(client, { ...who, email: cell('contactEmail', 200) }, notes)
  }
  return found
}

/**
 * Reads a file of clients, CSV, workbook or vCards, to be looked at before it is brought in.
 * @throws Refusal `bad-card`, `no-column`, `empty-file`, `too-many-rows`
 */
export async function readClients(
  engine: Engine,
  viewer: Viewer,
  bytes: Buffer,
): Promise<ClientsRead> {
  needStructure(viewer, 'bring in clients')
  const notes: string[] = []
  let found: Found
  if (/^\s*(\ufeff|\xef\xbb\xbf)?BEGIN:VCARD/i.test(bytes.toString('latin1', 0, 40)))
    found = ofCards(readCards(decode(bytes).text), notes)
  else {
    const wanted = { most: 5_000, what: 'one file brings in', row: 'client' }
    const { headings, rows } = await readRows(bytes, wanted)
    found = ofRows({ headings, rows, own: ownReader(engine, viewer, notes) }, notes)
  }
  if (found.size === 0) refuse('empty-file', 'No client is named in this file.', 'file')
  if (found.size > MOST_CLIENTS)
    refuse('too-many-rows', `${MOST_CLIENTS} clients at most are brought in at once.`, 'file')
  const known = new Map(allClients.all(engine.reader).map((one) => [sameName(one.name), one]))
  const clients = [...found.values()].map((client) => {
    const same = known.get(sameName(client.name))
    return { ...client, same: same ? Number(same.id) : null, sameName: same?.name ?? null }
  })
  return { clients, notes: [...new Set(notes)].slice(0, 100) }
}

interface Bringing {
  readonly engine: Engine
  readonly viewer: Viewer
  readonly write: Writer
}
/**
 * Fills in what a client does not say yet, and puts tags with those it has; nothing that it says is
 * written over.
 */
function fillIn(
  { engine, viewer, write }: Bringing,
  now: Readonly<Record<string, unknown>> & { id: ClientId },
  { contacts: _, same: __, name: ___, tags = [], fields = {}, ...said }: ClientToBring,
): void {
  const { reader } = engine
  const empty = Object.fromEntries(
    Object.entries(said).filter(([column, value]) => value && now[column] === ''),
  )
  if (Object.keys(empty).length) write.update('clients', now.id, empty)
  const tagged = tagsOf.all(reader, { client: now.id }).map(({ id }) => id)
  saveTags(engine, write, now.id, [...tagged, ...tags])
  const filled = new Set(valuesOf.client.all(reader, { id: now.id }).map((row) => row.fieldId))
  const open = Object.entries(fields).filter(([field]) => !filled.has(Number(field)))
  setDetails(engine, viewer, 'client', Object.fromEntries(open))(write, now.id)
}
function makeNew({ engine, viewer, write }: Bringing, client: ClientToBring): ClientId {
  const { contacts: _, same: __, tags = [], fields = {}, ...said } = client
  const { id } = insertClient(engine, write, said)
  saveTags(engine, write, id, tags)
  setDetails(engine, viewer, 'client', fields)(write, id)
  return id
}

/**
 * Brings clients in as one change: new ones are made, those that are there are filled in, contacts
 * are put with them, not invited yet. Contacts whose address somebody has already are left as they
 * are. Answers how many were made and how many filled in.
 * @throws Refusal `there-already`, `twice`, `not-found`, `state-gone`, `tag-gone`, `field-gone`,
 *   `bad-value`
 */
export function bringClients(
  engine: Engine,
  viewer: Viewer,
  wanted: readonly ClientToBring[],
): Large<{ made: number; filled: number; contacts: number }> {
  needStructure(viewer, 'bring in clients')
  checkNames(
    engine,
    wanted.filter(({ same }) => same === null),
  )
  const { reader } = engine
  const thereAt = (same: number | null, i: number) =>
    same === null
      ? null
      : (wholeClient.get(reader, { id: same })?.client ??
        refuse('not-found', `There is no client ${same}.`, `clients.${i}.same`))
  for (const [i, client] of wanted.entries()) {
    thereAt(client.same, i)
    checkGiven(engine, client)
    setDetails(engine, viewer, 'client', client.fields ?? {})
  }
  return engine.journal.large({
    actor: actorOf(viewer),
    size: wanted.reduce((sum, { contacts }) => sum + 1 + contacts.length, 0),
    *work(write) {
      const done = { made: 0, filled: 0, contacts: 0 }
      for (const [i, client] of wanted.entries()) {
        const { contacts, same } = client
        // In between somebody may have removed what it names.
        checkGiven(engine, client)
        const there = thereAt(same, i)
        if (there) fillIn({ engine, viewer, write }, there, client)
        const clientId = there ? there.id : makeNew({ engine, viewer, write }, client)
        done[there ? 'filled' : 'made']++
        yield
        for (const contact of contacts) {
          if (insertContact(engine, write, { ...contact, clientId })) done.contacts++
          yield
        }
      }
      return done
    },
  })
}

/** Clients with their contacts, as a file. */
export function exportClients(
  engine: Engine,
  viewer: Viewer,
  format: (typeof CLIENT_FORMATS)[number],
): { name: string; type: string; bytes: Buffer } {
  needMember(viewer, 'take out clients')
  const { reader } = engine
  const contacts = new Map<ClientId, NewContact[]>()
  for (const { clientId, active, ...contact } of everyContact.all(reader)) {
    if (clientId === null || !active) continue
    const own = contacts.get(clientId)
    if (own) own.push(contact)
    else contacts.set(clientId, [contact])
  }
  const all = everyClient
    .all(reader)
    .map((client) => ({ ...client, contacts: contacts.get(client.id) ?? [] }))
  if (format === 'vcf') {
    const cards = all.map(cardsOf).join('\r\n')
    return { name: 'clients.vcf', type: 'text/vcard', bytes: Buffer.from(`${cards}\r\n`) }
  }
  const { heads, cells } = ownColumns(engine, viewer)
  const rows = all.flatMap(({ contacts: people, ...client }) => {
    const { id, stateId, name, short, tier, kind, email, phone, website, address, notes } = client
    const own = [name, short, tier, kind, email, phone, website, address, notes]
    const ours = cells(id, stateId)
    return people.length
      ? people.map((one) => [...own, one.name, one.title, one.email, ...ours])
      : [[...own, '', '', '', ...ours]]
  })
  const options = { newline: '\r\n', escapeFormulae: true }
  const text = Papa.unparse([[...HEADS, ...heads], ...rows], options)
  return { name: 'clients.csv', type: 'text/csv', bytes: Buffer.from(`\ufeff${text}\r\n`) }
}
