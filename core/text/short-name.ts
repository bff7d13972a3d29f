/** Words that say what kind of thing a name is of, or tie it together: nobody is called by them. */
const COMMON =
  /^(the|and|of|for|&|ltd\.?|llp|llc|inc\.?|plc|gmbh|ag|s\.?a\.?|b\.?v\.?|co\.?|company)$/i
const MOST = 24

/** The words of a name that tell it from others, in small plain letters. */
const telling = (name: string): string[] =>
  name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}&.]+/u)
    .filter((word) => word && !COMMON.test(word))
    .map((word) => word.replace(/[&.]/g, ''))
    .filter(Boolean)
/**
 * What two names have in common that are most likely the same: “Mossgate Vets Ltd.” and “The MOSSGATE
 * Vets”. Empty where nothing tells.
 */
export const sameName = (name: string): string => telling(name).join(' ')

/**
 * What something with a long name may be called for short: its first telling word, or two where the
 * first is hardly one; “The Mill Lane Practice Ltd” is “Mill Lane”, “Mossgate Clinic” is “Mossgate”.
 */
export function shortName(name: string): string {
  const words = name.trim().split(/\s+/)
  const [first = words[0] ?? '', second] = words.filter((word) => !COMMON.test(word))
  const short = first.length < 5 && second !== undefined ? `${first} ${second}` : first
  return short.replace(/[,;:]+$/, '').slice(0, MOST)
}
