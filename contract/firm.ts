import Joi from 'joi'
import { WEEKDAYS, type Weekday } from '#core/calendar/calendar.ts'
import { isoDay, line, shape } from './common.ts'
import { MAIL_SECURITY, type MailSecurity, type ProjectNames } from './words.ts'

/** Minutes of work on each weekday; a day that is left out is free. */
export type WeekHours = Partial<Record<Weekday, number>>

/** How a password must be: long, as NIST SP 800-63B, section 5.1.1 has it, without other rules. */
export const PASSWORD = { least: 10, most: 200 } as const
export const newPassword = Joi.string().min(PASSWORD.least).max(PASSWORD.most)
export const mailAddress = Joi.string().trim().max(200).email({ tlds: false })

/** An account by its address, however that is written. */
export const accountOf = (email: string): string => email.trim().toLowerCase()

const isZone = (zone: string): boolean => {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).format(0) !== ''
  } catch {
    return false
  }
}
/** A name of the IANA time zone database. */
export const zone = Joi.string()
  .max(60)
  .custom((name: string, helpers) => (isZone(name) ? name : helpers.error('any.zone')))
  .messages({ 'any.zone': '{{#label}} must be a time zone such as Europe/London' })
const currency = Joi.string()
  .pattern(/^[A-Z]{3}$/)
  .messages({ 'string.pattern.base': '{{#label}} must be three letters, such as GBP' })
/** Minutes of each weekday, of which one at least is worked. */
export const weekHours = Joi.object(
  Object.fromEntries(WEEKDAYS.map((day) => [day, Joi.number().integer().min(1).max(1440)])),
)
  .custom((week: WeekHours, helpers) =>
    Object.keys(week).length ? week : helpers.error('any.free'),
  )
  .messages({ 'any.free': '{{#label}} must have one day at least that is worked' })

/** A firm as it begins: what its days and money are like, and who is first in it. */
export interface FirmBody {
  name: string
  /** ISO 3166-1. */
  country: string
  /** ISO 3166-2, without the country; null where all of the country keeps the same holidays. */
  region: string | null
  zone: string
  hours: WeekHours
  /** ISO 4217. */
  currency: string
  person: { name: string; email: string; password: string }
  /** What the server said as it began: asked of who does not sit at it. */
  key?: string
}
export const firmBody = shape<FirmBody>({
  name: line(120).required(),
  country: Joi.string()
    .pattern(/^[A-Z]{2}$/)
    .required(),
  region: Joi.string().max(10).allow(null).required(),
  zone: zone.required(),
  hours: weekHours.required(),
  currency: currency.required(),
  person: shape<FirmBody['person']>({
    name: line(120).required(),
    email: mailAddress.required(),
    password: newPassword.required(),
  }).required(),
  key: Joi.string().max(100),
})

/** Something that has a code and a name. */
export interface Coded {
  readonly code: string
  readonly name: string
}
/** Where a firm may be. */
export interface Countries {
  /** Whether what the server said as it began is asked for. */
  readonly asksKey: boolean
  readonly countries: readonly Coded[]
}
/** What is usual in a country, to begin with. */
export interface Usual {
  readonly regions: readonly Coded[]
  readonly zones: readonly string[]
  readonly currency: string
  /** The days that are worked. */
  readonly week: readonly Weekday[]
  /** The holidays of the next twelve months, as they would be kept. */
  readonly holidays: readonly { readonly date: string; readonly name: string }[]
}

/** The mail server of the firm, as it is shown: never with its password. */
export interface MailSheet {
  readonly host: string
  readonly port: number
  readonly security: MailSecurity
  readonly user: string
  readonly hasPassword: boolean
  readonly from: string
}
/** What a firm is, as its own page shows it. */
export interface FirmSheet {
  readonly name: string
  readonly country: string | null
  readonly region: string | null
  readonly zone: string
  readonly hours: WeekHours
  readonly currency: string
  readonly address: string | null
  readonly proxies: number | null
  readonly demandsCodes: boolean
  /** What the states of a project are called. */
  readonly projectNames: ProjectNames
  readonly mail: MailSheet | null
  /** What the server was told as it was started: it goes before what is said here. */
  readonly told: {
    readonly address: string | null
    readonly proxies: number
    readonly mail: boolean
  }
}
export interface FirmPatch {
  name?: string
  zone?: string
  hours?: WeekHours
  currency?: string
  address?: string | null
  proxies?: number | null
  demandsCodes?: boolean
  projectNames?: ProjectNames
}
/** An address that people open, of a page and nothing else. */
export const publicAddress = Joi.string()
  .max(300)
  .custom((text: string, helpers) =>
    /^https?:\/\//.test(text) && URL.canParse(text) ? text : helpers.error('any.address'),
  )
  .messages({ 'any.address': '{{#label}} must be an address such as https://work.example' })
export const firmPatch = shape<FirmPatch>({
  name: line(120),
  zone,
  hours: weekHours,
  currency,
  address: publicAddress.allow(null),
  proxies: Joi.number().integer().min(0).max(9).allow(null),
  demandsCodes: Joi.boolean(),
  projectNames: shape<ProjectNames>({
    proposed: line(24).required(),
    running: line(24).required(),
    hold: line(24).required(),
    finished: line(24).required(),
  }),
}).min(1)
/** Where the firm is: its holidays from today on become those of the place. */
export const placeBody = shape<{ country: string; region: string | null }>({
  country: Joi.string()
    .pattern(/^[A-Z]{2}$/)
    .required(),
  region: Joi.string().max(10).allow(null).required(),
})
/** A day that the firm does not work on, or half of it; `own`: entered here, not of its place. */
export interface HolidayRow {
  readonly id: number
  readonly date: string
  readonly name: string
  readonly half: boolean
  readonly own: boolean
}
export interface HolidaysBody {
  days: readonly { date: string; name: string; half: boolean }[]
}
export const holidaysBody = shape<HolidaysBody>({
  days: Joi.array()
    .items(
      Joi.object({
        date: isoDay.required(),
        name: line(80).required(),
        half: Joi.boolean().required(),
      }),
    )
    .min(1)
    .max(1_000)
    .required(),
})
/** Holidays of a file; `there`: something stands on that day already. */
export interface HolidaysFound {
  readonly days: readonly { date: string; name: string; half: boolean; there: boolean }[]
  readonly notes: readonly string[]
}
/** A mail server; a password that is left out stays as it is. */
export const mailBody = shape<MailBody>({
  host: Joi.string()
    .pattern(/^[A-Za-z0-9.:_-]{1,200}$/)
    .required()
    .messages({ 'string.pattern.base': '{{#label}} must be a host name such as mail.example.org' }),
  port: Joi.number().integer().min(1).max(65_535).required(),
  security: Joi.valid(...MAIL_SECURITY).required(),
  user: Joi.string().allow('').max(200).required(),
  password: Joi.string().allow('').max(500),
  from: Joi.string()
    .pattern(/^[^\r\n]{3,200}$/)
    .required(),
})
export interface MailBody {
  host: string
  port: number
  security: MailSecurity
  user: string
  password?: string
  from: string
}

/** Where a firm can be, and the regions of a country that was asked for. */
export interface Places {
  readonly countries: readonly Coded[]
  readonly regions: readonly Coded[]
}
