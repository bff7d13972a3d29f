import type { Hours } from '#server/database/tables/people.ts'

/** Quillhaven's people, teams and clients; all invented. */
export const FULL = { MO: 450, TU: 450, WE: 450, TH: 450, FR: 450 }
export const PASSWORD = 'lichen-almanac'

export const MEMBERS: readonly {
  name: string
  title: string
  access: 'owner' | 'manager' | 'member'
  team?: string
  hours?: Hours
}[] = [
  { name: 'Imogen Achterberg', title: 'Operations manager', access: 'manager' },
  { name: 'Casper Vell', title: 'Owner', access: 'owner' },
  { name: 'Tobias Okonjo', title: 'Bookkeeper', access: 'member', team: 'Accounts' },
  { name: 'Marisol Quane', title: 'Accounts lead', access: 'member', team: 'Accounts' },
  {
    name: 'Wendel Ashgrove',
    title: 'Bookkeeper, part-time',
    access: 'member',
    team: 'Accounts',
    hours: { TU: 360, WE: 360, TH: 360 },
  },
  { name: 'Devika Rao', title: 'Payroll lead', access: 'member', team: 'Payroll' },
  { name: 'Piers Lindqvist', title: 'Payroll', access: 'member', team: 'Payroll' },
  { name: 'Nadia Ferrante', title: 'Compliance lead', access: 'member', team: 'Compliance' },
  { name: 'Osei Brandt', title: 'Compliance', access: 'member', team: 'Compliance' },
  { name: 'Runa Halvorsen', title: 'Clinic desk lead', access: 'member', team: 'Clinic desk' },
  { name: 'Joss Petherick', title: 'Clinic desk', access: 'member', team: 'Clinic desk' },
  { name: 'Beatriz Amaro', title: 'Clinic desk', access: 'member', team: 'Clinic desk' },
  { name: 'Teo Marchetti', title: 'Clinic desk', access: 'member', team: 'Clinic desk' },
]

/** Whom they answer to, and who stands in for them. */
export const LINES: readonly (readonly [name: string, manager: string, standIn?: string])[] = [
  ['Imogen Achterberg', 'Casper Vell', 'Marisol Quane'],
  ['Marisol Quane', 'Imogen Achterberg', 'Tobias Okonjo'],
  ['Tobias Okonjo', 'Marisol Quane', 'Wendel Ashgrove'],
  ['Wendel Ashgrove', 'Marisol Quane'],
  ['Devika Rao', 'Imogen Achterberg', 'Marisol Quane'],
  ['Piers Lindqvist', 'Devika Rao', 'Devika Rao'],
  ['Nadia Ferrante', 'Imogen Achterberg', 'Imogen Achterberg'],
  ['Osei Brandt', 'Nadia Ferrante', 'Nadia Ferrante'],
  ['Runa Halvorsen', 'Imogen Achterberg', 'Joss Petherick'],
  ['Joss Petherick', 'Runa Halvorsen', 'Beatriz Amaro'],
  ['Beatriz Amaro', 'Runa Halvorsen'],
  ['Teo Marchetti', 'Runa Halvorsen', 'Beatriz Amaro'],
]

export const CONTRACTORS = [
  { name: 'Corrie Engineering', title: 'Calibration' },
  { name: 'Pell & Dray', title: 'Outside bookkeepers' },
] as const

export const CLIENTS: readonly {
  name: string
  short: string
  tier: 'gold' | 'silver' | 'bronze'
  contact: string
  /** Who looks after it, and how it is reached. */
  lead?: string
  phone?: string
  notes?: string
  usual?: Readonly<Record<string, string>>
}[] = [
  {
    name: 'Mossgate Veterinary Clinic',
    short: 'Mossgate',
    tier: 'gold',
    contact: 'Hester Lune',
    lead: 'Marisol Quane',
    phone: '+44 1539 496 0101',
    notes: 'Prefers the telephone, mornings. Sends receipts on paper.',
    usual: { Bookkeeper: 'Tobias Okonjo', 'Account lead': 'Marisol Quane' },
  },
  {
    name: 'Larkmoor Animal Hospital',
    short: 'Larkmoor',
    tier: 'gold',
    contact: 'Abel Finch-Moran',
    lead: 'Tobias Okonjo',
  },
  { name: 'Penhollow Pet Practice', short: 'Penhollow', tier: 'silver', contact: 'Yara Trewin' },
  {
    name: 'Tarn and Teasel Vets',
    short: 'Tarn & Teasel',
    tier: 'silver',
    contact: 'Magnus Oldroyd',
    lead: 'Wendel Ashgrove',
  },
  { name: 'Greywether Equine', short: 'Greywether', tier: 'gold', contact: 'Constance Vane' },
  { name: 'Hollin Street Vets', short: 'Hollin Street', tier: 'silver', contact: 'Ravi Sundaram' },
  { name: 'Saltreed Small Animals', short: 'Saltreed', tier: 'bronze', contact: 'Elowen Pask' },
  {
    name: 'Copperbeck Veterinary Group',
    short: 'Copperbeck',
    tier: 'gold',
    contact: 'Duncan Aske',
    lead: 'Runa Halvorsen',
  },
  { name: 'Wrenfield Exotics', short: 'Wrenfield', tier: 'bronze', contact: 'Ottoline Marsh' },
  { name: 'Dunmarrow Farm Vets', short: 'Dunmarrow', tier: 'silver', contact: 'Gwen Tolland' },
]

export const address = (name: string, host = 'quillhaven.example'): string =>
  `${name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z ]/g, '')
    .trim()
    .replace(/ +/g, '.')}@${host}`
