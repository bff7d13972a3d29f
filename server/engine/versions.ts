import { refuse } from '#core/refusal.ts'

/**
 * @throws Refusal `changed-since` when an edit was begun on an older version than now stands. Null
 * means the editor did not say.
 */
export function needNewest(seen: number | null, version: number): void {
  if (seen !== null && seen !== version)
    refuse(
      'changed-since',
      `Version ${version} was saved while you were editing version ${seen}. ` +
        'Your edit is still here: open the newer one beside it and bring over what you need.',
    )
}
