import { describe, expect, it } from 'vitest'
import type { ClientsRead, ClientToBring } from '#contract/clients.ts'
import type { FieldBody } from '#contract/setup.ts'
import { codeOf } from '../../test/code-of.ts'
import { lab, type Lab } from '../../test/lab.ts'
import { makeField, makeTag } from '../fields/service.ts'
import { undoChange } from '../journal/undo.ts'
import { cardsOf, readCards } from './cards.ts'
import { bringClients, exportClients, readClients } from './files.ts'
import { clientPage } from './page.ts'
import { editClient, makeClients } from './service.ts'

const read = (l: Lab, text: string) => readClients(l.engine, l.imogen, Buffer.from(text))
const bring = (l: Lab, { clients }: ClientsRead) =>
  bringClients(
    l.engine,
    l.imogen,
    clients.map(({ sameName: _, ...client }) => client),
  ).whole()
const crlf = (...lines: string[]) => lines.join('\r\n')

describe('vCards', () => {
  // Source: RFC 6350, section 8, the example of its author (trimmed to what we keep).
  it('of version 4 are read: the example of RFC 6350, section 8', () => {
    const [card] = readCards(
      crlf(
        ...['BEGIN:VCARD', 'VERSION:4.0', 'FN:Simon Perreault'],
        ...['N:Perreault;Simon;;;ing. jr,M.Sc.', 'BDAY:--0203', 'GENDER:M'],
        ...['LANG;PREF=1:fr', 'LANG;PREF=2:en', 'ORG;TYPE=work:Viagenie'],
        'ADR;TYPE=work:;Suite D2-630;2875 Laurier;Quebec;QC;G1V 2M2;Canada',
        'TEL;VALUE=uri;TYPE="work,voice";PREF=1:tel:+1-418-656-9254;ext=102',
        'EMAIL;TYPE=work:simon.perreault@viagenie.ca',
        ...['URL;TYPE=home:http://nomis80.org', 'END:VCARD', ''],
      ),
    )
    expect(card).toMatchObject({
      ...{ name: 'Simon Perreault', of: 'Viagenie', organisation: false },
      ...{ email: 'simon.perreault@viagenie.ca', phone: '+1-418-656-9254;ext=102' },
      website: 'http://nomis80.org',
      address: 'Suite D2-630\n2875 Laurier\nQuebec\nQC\nG1V 2M2\nCanada',
    })
  })
  // Source: RFC 2426, section 7, the first card of its author.
  it('of version 3 are read: the example of RFC 2426, section 7', () => {
    const [card] = readCards(
      crlf(
        ...['BEGIN:vCard', 'VERSION:3.0', 'FN:Frank Dawson', 'ORG:Lotus Development Corporation'],
        'ADR;TYPE=WORK,POSTAL,PARCEL:;;6544 Battleford Drive;Raleigh;NC;27613-3502;U.S.A.',
        ...['TEL;TYPE=VOICE,MSG,WORK:+1-919-676-9515', 'TEL;TYPE=FAX,WORK:+1-919-676-9564'],
        'EMAIL;TYPE=INTERNET,PREF:Frank_Dawson@Lotus.com',
        ...['EMAIL;TYPE=INTERNET:fdawson@earthlink.net', 'URL:http://home.earthlink.net/~fdawson'],
        ...['END:vCard', ''],
      ),
    )
    expect(card).toMatchObject({
      ...{ name: 'Frank Dawson', of: 'Lotus Development Corporation', phone: '+1-919-676-9515' },
      email: 'Frank_Dawson@Lotus.com',
    })
  })
  it('written come back as they went, commas, semicolons, lines and all', () => {
    const client = {
      ...{ name: 'Tarn, Teasel; Sons', kind: 'organisation' as const, tier: 'gold' },
      ...{ email: 'post@tarn.example', phone: '+44 1539 555010', website: 'https://tarn.example' },
      ...{ address: '1 Mill Lane; rear\nKendal', notes: `Long ${'words, and more; '.repeat(12)}` },
      contacts: [{ name: 'Magnus Oldroyd', title: 'Partner', email: 'magnus@tarn.example' }],
    }
    const text = cardsOf(client)
    // Lines are folded at 75 octets (RFC 6350, 3.2).
    expect(Math.max(...text.split('\r\n').map((line) => Buffer.byteLength(line)))).toBeLessThan(77)
    const [own, contact] = readCards(text)
    const { contacts: _, tier: __, kind: ___, ...said } = client
    expect(own).toMatchObject({ ...said, notes: said.notes.trim(), organisation: true, of: '' })
    expect(contact).toMatchObject({ ...client.contacts[0], of: 'Tarn, Teasel; Sons' })
  })
  it.each(['BEGIN:VCARD\r\nVERSION:4.0\r\nFN', 'nothing'])('%j is no vCard', (text) =>
    expect(() => readCards(text)).toThrow(/no vCard/),
  )
})

describe('clients from a file', () => {
  const CSV = [
    'Client,E-mail,Tier,Contact,Contact role,Contact email',
    'The Mossgate Veterinary Clinic Ltd,post@mossgate.example,Bronze,Hester Lune,Manager,hester@mossgate.example',
    'Beckside Dental,,gold,Ines Corbet,,ines@beckside.example',
    'Beckside Dental,,,Tom Barrow,Owner,',
    ',,,,,',
  ].join('\n')
  it('are looked at first: those that are there are told, what cannot be kept is said', async () => {
    const l = lab()
    const found = await read(l, CSV)
    expect(found.clients.map(({ name, same, contacts }) => [name, same, contacts.length])).toEqual([
      ['The Mossgate Veterinary Clinic Ltd', l.client, 1],
      ['Beckside Dental', null, 1],
    ])
    expect(found.notes).toEqual([
      'Tom Barrow of Beckside Dental has no e-mail address, and is left out.',
    ])
  })
  it('are brought in as one change, which fills in and writes nothing over', async () => {
    const l = lab()
    editClient(l.engine, l.imogen, l.client, { phone: '0123' })
    const { result, change } = bring(l, await read(l, CSV))
    expect(result).toEqual({ made: 1, filled: 1, contacts: 2 })
    const page = () => clientPage(l.engine, l.imogen, l.client)
    expect(page()).toMatchObject({
      ...{ name: 'Mossgate Veterinary Clinic', tier: 'gold', phone: '0123' },
      email: 'post@mossgate.example',
      contacts: [{ name: 'Hester Lune', title: 'Manager', joined: false }],
    })
    // Once more, nothing comes twice.
    expect(bring(l, await read(l, CSV)).result).toEqual({ made: 0, filled: 2, contacts: 0 })
    undoChange(l.engine, l.imogen, change!).whole()
    expect(page().contacts).toEqual([])
    expect(page().email).toBe('')
  })
  it.each(['csv', 'vcf'] as const)(
    'taken out as %s are brought into another firm whole',
    async (format) => {
      const l = lab()
      bring(l, await read(l, CSV))
      editClient(l.engine, l.imogen, l.client, {
        address: '1 Mill Lane\nKendal',
        notes: '=1+1; "x"',
        phone: '+44 1539 555010',
      })
      const file = exportClients(l.engine, l.imogen, format)
      const other = lab()
      const found = await readClients(other.engine, other.imogen, file.bytes)
      expect(found.notes).toEqual([])
      bring(other, found)
      const whole = (of: Lab) => {
        const page = clientPage(of.engine, of.imogen, of.client)
        const { address, email, phone, notes, contacts } = page
        const said = { address, email, phone, notes }
        return { ...said, contacts: contacts.map(({ name, email: at }) => [name, at]) }
      }
      expect(whole(other)).toEqual(whole(l))
      expect(file.bytes.toString().includes('Beckside Dental')).toBe(true)
    },
  )
  it('keep their state, tags and fields through a file; what is not known is noted', async () => {
    /** A firm with a tag and three fields of clients. */
    const firm = () => {
      const l = lab()
      const tag = makeTag(l.engine, l.imogen, { name: 'Retainer', colour: 'moss' }).result.id
      const make = (name: string, kind: FieldBody['kind'], options: FieldBody['options'] = {}) =>
        makeField(l.engine, l.imogen, {
          ...{
            of: 'client',
            name,
            kind,
            options,
            projectId: null,
            templateId: null,
            hidden: false,
          },
        }).result.at(-1)!.id
      const choices = [{ key: 'a-1', name: 'Animals', colour: 'fern' }]
      const fields = [
        make('Fee', 'money'),
        make('Sector', 'choice', { choices }),
        make('Who', 'person'),
      ]
      return { l, tag, fields }
    }
    const { l, tag, fields } = firm()
    const [fee, sector, who] = fields
    editClient(l.engine, l.imogen, l.client, {
      ...{ stateId: 3, tags: [tag] },
      fields: { [fee!]: 125_050, [sector!]: 'a-1', [who!]: l.tobias.id },
    })
    const [made] = makeClients(l.engine, l.imogen, [{ name: 'Beckside' }]).result
    editClient(l.engine, l.imogen, made!.id, { stateId: 1, tags: [tag], fields: { [fee!]: 99 } })
    const file = exportClients(l.engine, l.imogen, 'csv').bytes
    expect(file.toString()).toMatch(/,Paused,Retainer,1250.5,Animals,Tobias/)
    const other = firm().l
    const found = await readClients(other.engine, other.imogen, file)
    expect(found.notes).toEqual([])
    bring(other, found)
    const said = (of: Lab, id: number) => {
      const { state, tags, fields: values } = clientPage(of.engine, of.imogen, id)
      return { state: state?.name, tags: tags.map(({ name }) => name), values }
    }
    expect(said(other, made!.id)).toEqual(said(l, made!.id))
    // One that is there stays where it stands.
    expect(said(other, other.client)).toEqual({ ...said(l, l.client), state: undefined })
    const odd = await read(l, 'Client,State,Tags,Fee,Who\nNew,Gone,Nope,much,Nobody')
    expect(odd.notes).toEqual([
      'There is no state of clients “Gone”; New goes without it.',
      'There is no tag “Nope”; New goes without it.',
      'New, Fee: “much” is not a number.',
      expect.stringMatching(/^New, Who: “Nobody” is not one of: /),
    ])
    const wrong = { ...odd.clients[0]!, tags: [99] }
    expect(codeOf(() => bring(l, { clients: [wrong], notes: [] }))).toBe('tag-gone')
  })
  it('that are no clients are refused with why', async () => {
    const l = lab()
    await expect(read(l, 'Colour\nred')).rejects.toThrow(/head one “Client”/)
    await expect(read(l, 'Client\n\n')).rejects.toThrow(/nothing below it/)
    await expect(read(l, '')).rejects.toThrow(/heading line|holds no text/)
    await expect(readClients(l.engine, l.tobias, Buffer.from(CSV))).rejects.toThrow(
      /Only a manager/,
    )
    const twice: ClientToBring = { name: 'Same', contacts: [], same: null }
    expect(() => bringClients(l.engine, l.imogen, [twice, twice])).toThrow(/twice/)
    expect(() => bringClients(l.engine, l.imogen, [{ ...twice, same: 99 }])).toThrow(/no client 99/)
  })
})
