import { readNumber } from '../text/read.ts'

/** Money is whole minor units (pence, cents) of a currency named by its ISO 4217 code. */

const formats = new Map<string, Intl.NumberFormat>()
function format(currency: string): Intl.NumberFormat {
  const kept = formats.get(currency) ?? new Intl.NumberFormat('en-GB', { style: 'currency', currency })
  formats.set(currency, kept)
  return kept
}

/** Digits after the point: 2 for pounds, 0 for yen, 3 for dinars. Source: ISO 4217 exponents, as ICU carries them. */
export const minorDigits = (currency: string): number => format(currency).resolvedOptions().maximumFractionDigits ?? 2

/** An amount in whole units: 12.5 for 1250 pence. For spreadsheets and input fields, never to reckon with. */
export const inUnits = (minor: number, currency: string): number => Number((minor / 10 ** minorDigits(currency)).toFixed(minorDigits(currency)))

/** An amount in minor units as it is said: "£12.50". */
export const sayMoney = (minor: number, currency: string): string => format(currency).format(inUnits(minor, currency))

/** What people write for an amount ("£1,250.50", "12,5"), in minor units, half away from zero; null where it is none. */
export function readMoney(text: string, currency: string): number | null {
  const number = readNumber(text.replace(/^(-?)\s*(?:[£$€¥]|[A-Za-z]{3}(?=[\s\d]))\s*/, '$1').replace(/\s*(?:[£$€¥]|[A-Za-z]{3})$/, ''))
  // Through its decimal digits: 1.005 pounds is 100.49999… pence in binary.
  return number === null ? null : Math.sign(number) * Math.round(Number(`${Math.abs(number)}e${minorDigits(currency)}`))
}
