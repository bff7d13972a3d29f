/** What stands before an item of a list: a bullet, a number, a box. */
const MARK = /^(?:[-*•–·]\s+|\d{1,3}[.)]\s+)?(?:\[[ xX]?\]\s*)?/

/** The items of a list as it was written or copied: a line each, without bullets and numbers. */
export const readList = (text: string): string[] =>
  text
    .split(/\r?\n/)
    .map((line) => line.replaceAll('\t', ' ').trim().replace(MARK, '').trim())
    .filter(Boolean)
