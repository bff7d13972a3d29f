import type { Choice } from '#core/fields/types.ts'

/** What kinds of action and trigger are made of; free of schemas, so that the interface carries them. */

/** Whom an action can be about without naming them, as it is said. */
export const UNNAMED = {
  assignees: 'whoever is on it',
  manager: 'the manager of whoever is on it',
  lead: 'the project’s lead',
  owner: 'the rule’s owner',
} as const
export type Unnamed = keyof typeof UNNAMED
/**
 * Whom an action is about: somebody by what they are to the task, a person, or a team's least loaded.
 * While they are away, it is whoever stands in for them.
 */
export type Who =
  | { readonly is: Unnamed }
  | { readonly is: 'person'; readonly id: number }
  | { readonly is: 'team'; readonly id: number }

/** What a person fills in of a step; how it is shown, checked and said belongs to its type. */
export type Arg =
  | { readonly type: 'who'; readonly label: string }
  /** A line of at most so many letters; merge fields in braces are filled when it runs. */
  | { readonly type: 'text'; readonly label: string; readonly most: number }
  /** One of two: what is said of no and of yes. */
  | { readonly type: 'either'; readonly label: string; readonly no: string; readonly yes: string }
  | { readonly type: 'choice'; readonly label: string; readonly choices: readonly Choice[] }
  /** A field of a task, by its path. */
  | { readonly type: 'field'; readonly label: string }
  | {
      readonly type: 'number'
      readonly label: string
      readonly least: number
      readonly most: number
    }
  /** Some of what a field chooses from, by the field's path; one at least. */
  | { readonly type: 'chosen'; readonly label: string; readonly path: string }
  /** Values of the field that another argument names; none for whichever. */
  | { readonly type: 'values'; readonly label: string; readonly of: string }

/** Names of people and things, as sentences mention them. */
export interface Say {
  who(who: Who): string
  field(path: string): string
  values(path: string, values: readonly (string | number)[]): string
}

/** A kind of step: found by its name, filled in by its arguments, said in a sentence. */
export interface Step<K extends string = string, A extends object = object> {
  readonly kind: K
  /** As it is chosen. */
  readonly name: string
  readonly args: { readonly [N in keyof A]: Arg }
  readonly blank: A
  /** What it does, after “then”: “remind whoever is on it”. */
  words(step: A, say: Say): string
}
/** A step with its arguments, as it is kept. */
export type StepOf<T> = T extends Step<infer K, infer A> ? { readonly kind: K } & A : never

/** An action, and what it can be done with: only triggers about that can have it. */
export interface ActionKind<K extends string = string, A extends object = object> extends Step<
  K,
  A
> {
  readonly needs: 'task'
}
export const action = <K extends string, A extends object>(
  of: Omit<ActionKind<K, A>, 'needs'>,
): ActionKind<K, A> => ({ needs: 'task', ...of })
