import { randomBytes } from 'node:crypto'
import { and, count, eq } from 'drizzle-orm'
import type { PersonId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { SecondFactor, SecondSecret } from '#contract/people.ts'
import { ready } from '../../database/query.ts'
import { people, recoveryCodes, secondFactors } from '../../database/tables/index.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import { digestOf } from '../../engine/secrets.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, isGuest, needStructure, type Viewer } from '../../engine/viewer.ts'
import { personById } from './queries.ts'
import { addressOf, newSecret, stepOf } from './totp.ts'

/** A second device beside the password: codes by RFC 6238, and codes on paper for who has lost it. */

/** As many codes on paper as are given at once, each good once. */
const ON_PAPER = 10
/** A code on paper, however it is typed: letters in any case, with or without its dashes. */
const plain = (code: string): string => code.toLowerCase().replace(/[^a-z0-9]/g, '')

const factorOf = ready((orm, a: { person: PersonId }) =>
  orm.select().from(secondFactors).where(eq(secondFactors.id, a.person)),
)
const paperOf = ready((orm, a: { person: PersonId }) =>
  orm
    .select({ id: recoveryCodes.id })
    .from(recoveryCodes)
    .where(eq(recoveryCodes.personId, a.person)),
)
const onPaper = ready((orm, a: { person: PersonId; id: string }) =>
  orm
    .select({ id: recoveryCodes.id })
    .from(recoveryCodes)
    .where(and(eq(recoveryCodes.personId, a.person), eq(recoveryCodes.id, a.id))),
)
const left = ready((orm, a: { person: PersonId }) =>
  orm.select({ codes: count() }).from(recoveryCodes).where(eq(recoveryCodes.personId, a.person)),
)
const emailOf = ready((orm, a: { person: PersonId }) =>
  orm.select({ email: people.email }).from(people).where(eq(people.id, a.person)),
)

/** Whether somebody signs in with a code as well. */
export const hasFactor = ({ reader }: Engine, person: PersonId): boolean =>
  typeof factorOf.get(reader, { person })?.since === 'number'
/** Whether the firm asks one of somebody who has none yet: nothing else is theirs until then. */
export const lacksFactor = (engine: Engine, viewer: Viewer): boolean =>
  engine.firm.demandsCodes() && !isGuest(viewer) && !hasFactor(engine, viewer.id)
/** @throws Refusal `codes-demanded` */
export function needFactor(engine: Engine, viewer: Viewer): void {
  if (lacksFactor(engine, viewer))
    refuse(
      'codes-demanded',
      'This firm asks for a code from a second device: set one up under My account first.',
    )
}

export const factorSheet = (engine: Engine, viewer: Viewer): SecondFactor => ({
  since: factorOf.get(engine.reader, { person: viewer.id })?.since ?? null,
  codesLeft: left.get(engine.reader, { person: viewer.id })?.codes ?? 0,
  demanded: engine.firm.demandsCodes() && !isGuest(viewer),
})

const by = (person: PersonId) => ({ kind: 'person' as const, id: person })
function drop({ reader }: Engine, write: Writer, person: PersonId): void {
  if (factorOf.get(reader, { person })) write.remove('secondFactors', person)
  for (const { id } of paperOf.all(reader, { person })) write.remove('recoveryCodes', id)
}

/** A secret for a device to read; in force once a code of it was right. @throws Refusal `in-force` */
export function beginFactor(engine: Engine, person: PersonId): SecondSecret {
  if (hasFactor(engine, person))
    refuse('in-force', 'You have a second device already; take it off before you use another.')
  const secret = newSecret()
  engine.journal.change(by(person), (write) => {
    drop(engine, write, person)
    write.insert('secondFactors', { id: person, secret })
  })
  const { email = '' } = emailOf.get(engine.reader, { person }) ?? {}
  return { secret, address: addressOf(secret, engine.firm.name(), email) }
}

/** Puts the device in force by a first code; answers codes on paper, shown this once. @throws Refusal */
export function confirmFactor(engine: Engine, person: PersonId, code: string): string[] {
  return engine.journal.change(by(person), (write) => {
    const factor = factorOf.get(engine.reader, { person })
    if (!factor || factor.since !== null)
      return refuse('nothing-begun', 'Begin again: there is no new device to confirm.')
    const step = stepOf({ secret: factor.secret, after: 0 }, code, engine.clock.now())
    if (step === null)
      return refuse('not-the-code', 'That is not the code it shows now; type the next one.', 'code')
    write.update('secondFactors', person, { since: write.at, lastStep: step })
    return newPaper(engine, write, person)
  }).result
}
/** Codes on paper in place of those there were. */
function newPaper({ reader }: Engine, write: Writer, personId: PersonId): string[] {
  for (const { id } of paperOf.all(reader, { person: personId })) write.remove('recoveryCodes', id)
  return Array.from({ length: ON_PAPER }, () => {
    const code = randomBytes(10)
      .toString('hex')
      .replace(/(.{5})(?=.)/g, '$1-')
    write.insert('recoveryCodes', { id: digestOf(plain(code)), personId })
    return code
  })
}

/**
 * Takes a code as somebody signs in: of the device or on paper, each once.
 * @throws Refusal `code-needed` where there is none, `wrong-code`
 */
export function takeCode(engine: Engine, person: PersonId, code: string | undefined): void {
  if (!hasFactor(engine, person)) return
  if (!code) refuse('code-needed', 'Give the code that your second device shows.', 'code')
  const { reader, clock } = engine
  engine.journal.change(by(person), (write) => {
    const factor = factorOf.get(reader, { person })
    if (!factor) return
    const after = factor.lastStep
    const step = stepOf({ secret: factor.secret, after }, code, clock.now())
    if (step !== null) return void write.update('secondFactors', factor.id, { lastStep: step })
    const paper = onPaper.get(reader, { person, id: digestOf(plain(code)) })
    if (paper) return write.remove('recoveryCodes', paper.id)
    refuse('wrong-code', 'That code is not right, or was used already; wait for the next.', 'code')
  })
}

/** Takes off one's own second device. */
export const dropFactor = (engine: Engine, person: PersonId): void =>
  void engine.journal.change(by(person), (write) => drop(engine, write, person))
/**
 * Takes off the device of somebody who has lost it, and their codes on paper with it.
 * @throws Refusal `not-found`, `owners-only`
 */
export function dropFactorOf(engine: Engine, viewer: Viewer, id: PersonId): Changed<void> {
  needStructure(viewer, 'take off a second device')
  const person =
    personById.get(engine.reader, { id }) ??
    refuse('not-found', `There is nobody with the number ${id}.`)
  if (person.access === 'owner' && viewer.access !== 'owner')
    refuse('owners-only', 'Only an owner may take off the device of an owner.')
  return engine.journal.change(actorOf(viewer), (write) => drop(engine, write, id))
}
