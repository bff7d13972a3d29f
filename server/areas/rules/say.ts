import type { Reason, Verdict } from '#core/conditions/compile.ts'
import type { Test } from '#core/conditions/condition.ts'
import { sayTest } from '#core/conditions/say.ts'
import type { Field } from '#core/fields/field.ts'
import { sayValue, type Saying } from '#core/fields/say.ts'
import { isRef, type Value } from '#core/fields/types.ts'
import type { Said } from '../../database/tables/clockwork.ts'
import type { Engine } from '../../engine/services.ts'
import { mayStructure, type Viewer } from '../../engine/viewer.ts'

/** Why a rule ran, or did not, in words. */

const sayingOf = ({ firm }: Engine): Saying => ({
  today: firm.today(),
  zone: firm.zone(),
  clock: firm.dates().clock,
})

const seenAs = (reason: Reason, at: Saying): string => {
  const { field, seen } = reason
  return sayValue(field, seen, at) || 'none'
}

/** A test in words, with names as far as the values seen tell them. */
const asked = (reason: Reason, at: Saying): string =>
  sayTest(reason.field, named(reason).test, (value) => sayValue(reason.field, value, at))
const sayReason = (reason: Reason, at: Saying): string =>
  `${asked(reason, at)}: it was ${seenAs(reason, at)}`
/** Says something about a field: guarded, where only managers read it. */
const guardedAs = ({ readers }: Pick<Field<'task'>, 'readers'>, said: string): Said =>
  readers === 'managers' ? { guarded: said } : said

/** Tells lines as somebody may read them. */
export const tellTo =
  (viewer: Viewer) =>
  (said: Said): string => {
    if (typeof said === 'string') return said
    return mayStructure(viewer) ? said.guarded : 'It asks what only managers read'
  }
/** What was asked, with its outcome, as far as somebody reads the fields that it was asked of. */
export const testsTo = (viewer: Viewer, tests: ReturnType<typeof sayTests>) =>
  tests
    .filter(({ said }) => typeof said === 'string' || mayStructure(viewer))
    .map(({ said, held }) => ({ said: tellTo(viewer)(said), held }))
/** A line with more words before it. */
export const saidAfter = (words: string, said: Said): Said =>
  typeof said === 'string' ? words + said : { guarded: words + said.guarded }
/** A test in words, as long as nothing was seen of it. */
export const sayAlone = (engine: Engine, field: Field<'task'> | undefined, test: Test): string =>
  field ? asked({ field, test, seen: null, held: false }, sayingOf(engine)) : test.field

/** Every test of a verdict, in words, and whether it held. */
export const sayTests = (engine: Engine, { reasons }: Verdict): { said: Said; held: boolean }[] =>
  reasons.map((reason) => ({
    said: guardedAs(reason.field, sayReason(reason, sayingOf(engine))),
    held: reason.held,
  }))

const isList = (value: unknown): value is readonly (string | number)[] => Array.isArray(value)

/** A reason whose numbers of things are read as their names, where the values seen have them. */
function named(reason: Reason): Reason {
  const { value } = reason.test
  if (!isList(value)) return reason
  const names = new Map(refsIn(reason.seen).map(({ id, name }) => [id, name]))
  const said = value.map((each) =>
    typeof each === 'number' ? (names.get(each) ?? `#${each}`) : each,
  )
  return { ...reason, test: { ...reason.test, value: said } }
}
const refsIn = (seen: Value) => (Array.isArray(seen) ? seen : [seen]).filter(isRef)

/** Every test with the value it saw; first the one that decided, where they did not hold. */
export function sayVerdict(engine: Engine, { reasons, failing }: Verdict): Said[] {
  const at = sayingOf(engine)
  return [
    ...(failing ? [guardedAs(failing.field, `First to fail: ${sayReason(failing, at)}`)] : []),
    ...reasons.map((r) =>
      guardedAs(r.field, `${r.held ? 'Held' : 'Did not hold'}: ${sayReason(r, at)}`),
    ),
  ]
}
