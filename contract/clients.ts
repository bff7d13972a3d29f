import Joi from 'joi'
import { alikeBy, fieldValues, id, line, shape, type PersonRef } from './common.ts'
import { PALETTE, type CustomField, type FieldValue, type TagRow } from './fields.ts'
import { mailAddress } from './firm.ts'
import type { SeriesSummary } from './series.ts'
import type { ProjectRow } from './desks.ts'
import type { Attachment } from './tasks.ts'
import { CLIENT_KINDS, TIERS, type ClientKind, type Tier } from './words.ts'

/** How a client is reached, and what is to know of it. */
export interface ClientDetails {
  kind: ClientKind
  email: string
  phone: string
  website: string
  address: string
  notes: string
}
/** A client to be made; `short` is what lists and bars call it. */
export interface NewClient extends Partial<ClientDetails> {
  name: string
  short?: string
  tier?: Tier
}
/** As many as are made at once. */
export const MOST_CLIENTS = 1_000
const text = (most: number) => Joi.string().trim().allow('').max(most)
const fields = {
  short: line(40),
  tier: Joi.valid(...TIERS),
  kind: Joi.valid(...CLIENT_KINDS),
  email: text(200),
  phone: text(60),
  website: text(300),
  address: text(500),
  notes: text(5_000),
}
/** Where a client stands, and what the firm says of it in tags and fields of its own. */
const given = {
  stateId: id,
  tags: Joi.array().items(id).max(50).unique(),
  fields: fieldValues,
}
export const newClients = shape<{ clients: NewClient[] }>({
  clients: Joi.array()
    .items(shape<NewClient>({ name: line(120).required(), ...fields }))
    .min(1)
    .max(MOST_CLIENTS)
    .required(),
})
export interface ClientSheet {
  readonly id: number
  readonly name: string
  readonly short: string
  readonly tier: Tier
}

/** Where clients can stand. */
export interface ClientState {
  readonly id: number
  readonly name: string
  readonly colour: string
  /** New clients begin here. */
  readonly first: boolean
}
/** A client as lists and boards show it. */
export interface ClientRow extends ClientSheet {
  readonly stateId: number | null
  /** Its tags, by number. */
  readonly tags: readonly number[]
  readonly lead: PersonRef | null
  readonly mayEdit: boolean
}
export interface ClientList {
  /** In the firm's order. */
  readonly states: readonly ClientState[]
  readonly clients: readonly ClientRow[]
}
/** The states of clients in their order; one without an id is new, the first is where they begin. */
export interface ClientStatesBody {
  states: { id?: number; name: string; colour: string; first: boolean }[]
  /** Those that are to go. One that is in neither list was made meanwhile, and stays. */
  removed: number[]
}
/** As many states as clients have. */
export const MOST_STATES = 20
export const clientStatesBody = shape<ClientStatesBody>({
  states: Joi.array()
    .items(
      Joi.object({
        id,
        name: line(40).required(),
        colour: Joi.valid(...PALETTE).required(),
        first: Joi.boolean().required(),
      }),
    )
    .min(1)
    .max(MOST_STATES)
    .unique(alikeBy('name'))
    .required(),
  removed: Joi.array().items(id).max(MOST_STATES).required(),
})

/** Who usually fills a role in what is done for a client. */
export interface UsualPerson {
  role: string
  personId: number
}
/** As many roles as a client has usual people for. */
export const MOST_ROLES = 30
/** What an edit of a client may say; `fields` holds values by field id, null empties one. */
export interface ClientPatch extends Partial<NewClient> {
  leadId?: number | null
  stateId?: number
  tags?: number[]
  fields?: Record<string, FieldValue>
  usual?: UsualPerson[]
}
export const clientPatch = shape<ClientPatch>({
  name: line(120),
  ...fields,
  leadId: id.allow(null),
  ...given,
  usual: Joi.array()
    .items(shape<UsualPerson>({ role: line(80).required(), personId: id.required() }))
    .unique(alikeBy('role'))
    .max(MOST_ROLES),
}).min(1)

/** Somebody at a client. */
export interface Contact extends PersonRef {
  readonly title: string
  readonly email: string
  readonly active: boolean
  /** Has been in. */
  readonly joined: boolean
}
/** A client's page. */
export interface ClientPage extends ClientSheet, Readonly<ClientDetails> {
  readonly lead: PersonRef | null
  readonly state: ClientState | null
  readonly tags: readonly TagRow[]
  /** The firm's own fields of clients, and the values of them, by field. */
  readonly customFields: readonly CustomField[]
  readonly fields: Readonly<Record<number, string | number>>
  readonly usual: readonly (UsualPerson & { readonly name: string })[]
  readonly contacts: readonly Contact[]
  /** Projects that run, the soonest due first. */
  readonly projects: readonly ProjectRow[]
  readonly series: readonly SeriesSummary[]
  /** What was filed last. */
  readonly files: readonly Attachment[]
  /** Other clients that may be the same. */
  readonly alike: readonly { readonly id: number; readonly name: string }[]
  /** Whether who asks may change it: managers, and whoever looks after it. */
  readonly mayEdit: boolean
}

/** Somebody at a client, as a file says. */
export interface NewContact {
  name: string
  title: string
  email: string
}
/** A client to bring in, with its contacts; one that is there already is filled in. */
export interface ClientToBring extends NewClient {
  contacts: NewContact[]
  /** Only of a new one: one that is there stays where it stands. */
  stateId?: number
  tags?: number[]
  fields?: Record<string, FieldValue>
  /** The client that this is; null: a new one. */
  same: number | null
}
/** What a file of clients says, to be looked at before it is brought in. */
export interface ClientsRead {
  readonly clients: readonly (ClientToBring & { readonly sameName: string | null })[]
  /** What was left out of it, and why. */
  readonly notes: readonly string[]
}
export const bringBody = shape<{ clients: ClientToBring[] }>({
  clients: Joi.array()
    .items(
      shape<ClientToBring>({
        name: line(120).required(),
        ...fields,
        ...given,
        contacts: Joi.array()
          .items(
            shape<NewContact>({
              name: line(120).required(),
              title: text(120).required(),
              email: mailAddress.required(),
            }),
          )
          .max(100)
          .required(),
        same: id.allow(null).required(),
      }),
    )
    .min(1)
    .max(MOST_CLIENTS)
    .required(),
})
/** As what clients are taken out. */
export const CLIENT_FORMATS = ['csv', 'vcf'] as const
export const clientsAs = Joi.object<{ format: (typeof CLIENT_FORMATS)[number] }>({
  format: Joi.valid(...CLIENT_FORMATS).required(),
})

/** The client that another, which is the same, is put into. */
export const mergeClientBody = shape<{ into: number }>({ into: id.required() })
