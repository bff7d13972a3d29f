/** Raised when someone else saved first: carries both versions, so that the person can choose. */
export class Clash extends Error {
  constructor(
    readonly mine: unknown,
    readonly theirs: unknown,
  ) {
    super('Someone else saved this task while you were editing it.')
  }
}
