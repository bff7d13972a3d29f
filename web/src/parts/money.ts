const digits = (currency: string) => new Intl.NumberFormat('en-GB', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2

/** Minor units of one whole unit of a currency: 100 for pounds. Source: ISO 4217 exponents, as the browser knows them. */
export const minorUnits = (currency: string): number => 10 ** digits(currency)

/** An amount in minor units as it is said: "£12.50". */
export const sayMoney = (minor: number, currency: string): string => new Intl.NumberFormat('en-GB', { style: 'currency', currency }).format(minor / minorUnits(currency))
