import byCountry from 'country-to-currency'

/** The currency of each country (ISO 3166-1 to ISO 4217); the euro's for one that is not known. */
const CURRENCIES = new Map(Object.entries(byCountry))
export const currencyOf = (country: string): string => CURRENCIES.get(country) ?? 'EUR'
