/** Headers of requests and answers that both sides know; free of schemas. */

/** Says of every answer which mark it was given at (`LiveChange.at`). */
export const AT_HEADER = 'Fernwick-At'
/** By this a manager says yes to what was refused as `other-client`. */
export const CONFIRM_HEADER = 'Fernwick-Confirm'
/**
 * By this a change says whose it is: one that waited in a browser is taken from nobody else who
 * signed in there since.
 */
export const PERSON_HEADER = 'Fernwick-Person'
/** As many questions are answered in one at most. */
export const MOST_TOGETHER = 20
