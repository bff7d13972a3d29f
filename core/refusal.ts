/**
 * The one error of the project's own code: input that cannot be worked with. It carries a stable
 * code for programs, a sentence for people that says what would be right, and the place it is
 * about. The calc command, the HTTP edge and the interface all show it as it is.
 */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly place?: string,
  ) {
    super(message)
    this.name = 'Refusal'
  }
}

/** Throws a Refusal; an expression, so that it can stand where a value is missing. */
export function refuse(code: string, message: string, place?: string): never {
  throw new Refusal(code, message, place)
}
