import { readNumber } from '../text/read.ts'

/** Money is whole minor units (pence, cents) of a currency named by its ISO 4217 code. */

const formats = new Map<string, Intl.NumberFormat>()
function format(currency: string): Intl.NumberFormat {
  const kept =
    formats.get(currency) ?? new Intl.NumberFormat('en-GB', { style: 'currency', currency })
  formats.set(currency, kept)
  return kept
}

/**
 * Digits after the point: 2 for pounds, 0 for yen, 3 for dinars. Source: ISO 4217 exponents, as ICU
 * carries them.
 */
export const minorDigits = (currency: string): number =>
  format(currency).resolvedOptions().maximumFractionDigits ?? 2

/**
 * An amount in whole units: 12.5 for 1250 pence. For spreadsheets and input fields, never to reckon
 * with.
 */
export const inUnits = (minor: number, currency: string): number =>
  Number((minor / 10 ** minorDigits(currency)).toFixed(minorDigits(currency)))

/** An amount in minor units as it is said: "£12.50". */
export const sayMoney = (minor: number, currency: string): string =>
  format(currency).format(inUnits(minor, currency))

/** Its own code and sign, which people write before or after an amount. */
const signs = (currency: string): string[] => {
  const narrow = new Intl.NumberFormat('en-GB', {
    style: 'currency',
    currency,
    currencyDisplay: 'narrowSymbol',
  })
  return [
    currency,
    ...narrow.formatToParts(0).flatMap((part) => (part.type === 'currency' ? [part.value] : [])),
  ]
}

/**
 * What people write for an amount ("£1,250.50", "12,5", "7.20 GBP"), in minor units, half away from
 * zero; null where it is none, or one of another currency.
 */
export function readMoney(text: string, currency: string): number | null {
  const words = text.trim().toUpperCase()
  const minus = words.startsWith('-')
  let bare = minus ? words.slice(1).trim() : words
  for (const sign of signs(currency).map((each) => each.toUpperCase())) {
    if (bare.startsWith(sign)) bare = bare.slice(sign.length).trim()
    else if (bare.endsWith(sign)) bare = bare.slice(0, -sign.length).trim()
  }
  const number = readNumber(minus ? `-${bare}` : bare)
  // Through its decimal digits: 1.005 pounds is 100.49999… pence in binary.
  return number === null
    ? null
    : Math.sign(number) * Math.round(Number(`${Math.abs(number)}e${minorDigits(currency)}`))
}
