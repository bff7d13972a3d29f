import type { Plain } from '#core/fields/parse.ts'
import type { Choice } from '#core/fields/types.ts'
import type { RuleChange } from '#core/rules/checks.ts'

/** What kinds of action and trigger are made of; free of schemas, so that the interface carries them. */

/** Whom an action can be about without naming them, as it is said. */
export const UNNAMED = {
  assignees: 'whoever is on it',
  creator: 'whoever made it',
  followers: 'whoever follows it',
  manager: 'the manager of whoever is on it',
  'managers-manager': 'the manager above that manager',
  lead: 'the project’s lead',
  'client-lead': 'the client’s lead',
  contacts: 'the client’s contacts',
  owner: 'the rule’s owner',
} as const
export type Unnamed = keyof typeof UNNAMED
/** What of them a task alone has; projects and clients have the others. */
export const OF_TASKS: ReadonlySet<string> = new Set<Unnamed>([
  ...(['assignees', 'creator', 'followers', 'manager', 'managers-manager'] as const),
])
/** How somebody of a team is found, as it is said before the team's name. */
export const OF_TEAM = {
  team: 'the least loaded in',
  'team-turn': 'the next in turn in',
  'team-all': 'everybody in',
} as const
export type OfTeam = keyof typeof OF_TEAM
/** How somebody is found by what they do for a client, as it is said before that. */
export const BY_ROLE = {
  role: 'whoever usually is',
  contact: 'the client’s contact',
} as const
export type ByRole = keyof typeof BY_ROLE
/**
 * Whom an action is about: somebody by what they are to it, a person, of a team its least loaded,
 * the next in turn or all, whoever usually fills a role for the client, or its contacts whose title
 * says so. While they are away, it is whoever stands in for them.
 */
export type Who =
  | { readonly is: Unnamed }
  | { readonly is: 'person'; readonly id: number }
  | { readonly is: OfTeam; readonly id: number }
  | { readonly is: ByRole; readonly role: string }
export const isWho = (value: unknown): value is Who =>
  typeof value === 'object' && value !== null && 'is' in value
export const isOfTeam = (who: Who): who is Who & { readonly is: OfTeam } =>
  Object.hasOwn(OF_TEAM, who.is)

/** Which fields an argument chooses from: those that are told of, that can be set, that are dates. */
export type FieldsOf = 'told' | 'project' | 'client' | 'settable' | 'dates' | 'dated'
/** What a person fills in of a step; how it is shown, checked and said belongs to its type. */
export type Arg =
  | { readonly type: 'who'; readonly label: string }
  /** A line of at most so many letters; merge fields in braces are filled when it runs. */
  | {
      readonly type: 'text'
      readonly label: string
      readonly most: number
      /** It may be left empty, which means what is said here. */
      readonly empty?: string
    }
  /** One of two: what is said of no and of yes. */
  | { readonly type: 'either'; readonly label: string; readonly no: string; readonly yes: string }
  | { readonly type: 'choice'; readonly label: string; readonly choices: readonly Choice[] }
  /** A field by its path: one whose changes are told, or one that can be set. */
  | { readonly type: 'field'; readonly label: string; readonly of: FieldsOf }
  /** What a field is set to that another argument names; nothing empties it. */
  | { readonly type: 'value'; readonly label: string; readonly of: string }
  | {
      readonly type: 'number'
      readonly label: string
      readonly least: number
      readonly most: number
    }
  /** A time of day. */
  | { readonly type: 'time'; readonly label: string }
  /** Conditions, of what a rule is about. */
  | { readonly type: 'conditions'; readonly label: string }
  /** One of what a field chooses from, by the field's path. */
  | { readonly type: 'one'; readonly label: string; readonly path: string }
  /** A series that goes by events. */
  | { readonly type: 'series'; readonly label: string }
  /** Some of what a field chooses from, by the field's path; one at least. */
  | { readonly type: 'chosen'; readonly label: string; readonly path: string }
  /** Values of the field that another argument names; none for whichever. */
  | { readonly type: 'values'; readonly label: string; readonly of: string }

/** Names of people and things, as sentences mention them. */
export interface Say {
  who(who: Who): string
  field(path: string): string
  values(path: string, values: readonly (string | number)[]): string
  /** What a field is set to, in words. */
  value(path: string, value: Plain): string
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

/** What a rule can be about. */
export type About = 'task' | 'project' | 'client'

/** An action, and what it is done with: a task, a project or one's own, or whatever a rule is about. */
export interface ActionKind<K extends string = string, A extends object = object> extends Step<
  K,
  A
> {
  readonly needs: 'task' | 'project' | 'any'
  /** What it changes, as rules wait for it; left out, nothing that any does. */
  changes?(step: A): readonly RuleChange[]
}
export const action = <K extends string, A extends object>(
  of: Omit<ActionKind<K, A>, 'needs'> & Partial<Pick<ActionKind, 'needs'>>,
): ActionKind<K, A> => ({ needs: 'task', ...of })
