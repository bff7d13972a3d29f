/** Words that say what kind of thing a name is of, or tie it together: nobody is called by them. */
const COMMON =
  /^(the|and|of|for|&|ltd\.?|llp|llc|inc\.?|plc|gmbh|ag|s\.?a\.?|b\.?v\.?|co\.?|company)$/i
const MOST = 24

/**
 * What something with a long name may be called for short: its first telling word, or two where the
 * first is hardly one; “The Mill Lane Practice Ltd” is “Mill Lane”, “Mossgate Clinic” is “Mossgate”.
 */
export function shortName(name: string): string {
  const words = name.trim().split(/\s+/)
  const telling = words.filter((word) => !COMMON.test(word))
  const [first = words[0] ?? '', second] = telling
  const short = first.length < 5 && second !== undefined ? `${first} ${second}` : first
  return short.replace(/[,;:]+$/, '').slice(0, MOST)
}
