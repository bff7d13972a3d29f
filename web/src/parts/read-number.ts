/** What a number field lets through. */
export interface Bounds {
  readonly min: number
  readonly max: number
  /** Whole numbers alone. */
  readonly whole: boolean
  /** Nothing is an answer too. */
  readonly empty: boolean
}

/** A number as it was typed; or why it is none that is taken here, which is kept as it stands. */
export function readNumber(
  typed: string,
  { min, max, whole, empty }: Bounds,
): { readonly number: number | null } | { readonly wrong: string } {
  // A minus is typed in several ways.
  const text = typed.trim().replace(/^[−–]/, '-').replace(',', '.')
  if (text === '') return empty ? { number: null } : { wrong: 'Say a number.' }
  if (!/^-?\d+(\.\d+)?$/.test(text)) return { wrong: `“${typed.trim()}” is not a number.` }
  const number = Number(text)
  if (whole && !Number.isInteger(number)) return { wrong: 'Say a whole number.' }
  if (number < min) return { wrong: `${min} is the least.` }
  return number > max ? { wrong: `${max} is the most.` } : { number }
}
