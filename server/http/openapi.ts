import type Joi from 'joi'
import { scopeOf, type Route } from './route.ts'

interface Described {
  type?: string
  flags?: { presence?: string; description?: string; only?: boolean }
  allow?: unknown[]
  rules?: { name: string; args?: Record<string, unknown> }[]
  keys?: Record<string, Described>
  patterns?: { rule?: Described; regex?: string }[]
  metas?: { json?: Described }[]
  items?: Described[]
  matches?: {
    schema?: Described
    then?: Described
    otherwise?: Described
    switch?: { then?: Described }[]
  }[]
}

type Json = Record<string, unknown>

const limit = (d: Described, name: string): unknown =>
  d.rules?.find((rule) => rule.name === name)?.args?.['limit']
const bounds = (d: Described, low: string, high: string): Json => ({
  ...(limit(d, 'min') !== undefined && { [low]: limit(d, 'min') }),
  ...(limit(d, 'max') !== undefined && { [high]: limit(d, 'max') }),
})
const anyOf = (list: readonly (Described | undefined)[]): Json => ({
  anyOf: list.filter((each) => each !== undefined).map(schemaOf),
})
const isNeeded = (d: Described): boolean => d.flags?.presence === 'required'

function objectOf(d: Described): Json {
  const keys = Object.entries(d.keys ?? {})
  const required = keys.filter(([, key]) => isNeeded(key)).map(([name]) => name)
  const named = (d.patterns ?? []).flatMap(({ regex, rule }) =>
    regex && rule ? [[withoutSlashes(regex), schemaOf(rule)]] : [],
  )
  return {
    type: 'object',
    properties: Object.fromEntries(keys.map(([name, key]) => [name, schemaOf(key)])),
    ...(named.length && { patternProperties: Object.fromEntries(named) }),
    ...(required.length && { required }),
  }
}
/** A regular expression as Joi describes it, without the strokes around it. */
const withoutSlashes = (regex: string): string => regex.replace(/^\/|\/[a-z]*$/g, '')
function textOf(d: Described): Json {
  const regex = d.rules?.find((rule) => rule.name === 'pattern')?.args?.['regex']
  const json = d.metas?.find((meta) => meta.json)?.json
  return {
    type: 'string',
    ...bounds(d, 'minLength', 'maxLength'),
    ...(typeof regex === 'string' && { pattern: withoutSlashes(regex) }),
    // JSON in a text, as in an address (JSON Schema 2020-12, Validation, 8.4).
    ...(json && { contentMediaType: 'application/json', contentSchema: schemaOf(json) }),
  }
}

/** How each type of Joi's is said, but for what may also be null. */
const SAID: Readonly<Record<string, (d: Described) => Json>> = {
  object: objectOf,
  array: (d) => ({
    type: 'array',
    items: d.items?.length === 1 ? schemaOf(d.items[0]!) : anyOf(d.items ?? []),
    ...bounds(d, 'minItems', 'maxItems'),
  }),
  string: textOf,
  number: (d) => ({
    type: d.rules?.some((rule) => rule.name === 'integer') ? 'integer' : 'number',
    ...bounds(d, 'minimum', 'maximum'),
  }),
  boolean: () => ({ type: 'boolean' }),
  alternatives: (d) =>
    anyOf(
      (d.matches ?? []).flatMap((m) => [
        ...[m.schema, m.then, m.otherwise],
        ...(m.switch ?? []).map((each) => each.then),
      ]),
    ),
}

/** A Joi schema, as it describes itself, in JSON Schema 2020-12. */
function schemaOf(d: Described): Json {
  const { allow = [] } = d
  const nullable = allow.includes(null)
  const values = allow.filter((v) => v !== null && typeof v !== 'object')
  if (d.flags?.only && values.length) return { enum: nullable ? [...values, null] : values }
  const schema = SAID[d.type ?? '']?.(d) ?? {}
  return nullable && schema['type'] ? { ...schema, type: [schema['type'], 'null'] } : schema
}

const describe = (schema: Joi.Schema): Described => schema.describe()

function parametersOf({ path, query }: Route): Json[] {
  const inPath = [...path.matchAll(/:(\w+)/g)].map((m) => ({
    name: m[1],
    in: 'path',
    required: true,
    schema: { type: 'integer' },
  }))
  const asked = query ? Object.entries(describe(query).keys ?? {}) : []
  const inQuery = asked.map(([name, d]) => ({
    name,
    in: 'query',
    required: isNeeded(d),
    schema: schemaOf(d),
  }))
  return [...inPath, ...inQuery]
}

function bodyOf({ body, raw }: Route): Json {
  if (body)
    return {
      requestBody: {
        required: true,
        content: { 'application/json': { schema: schemaOf(describe(body)) } },
      },
    }
  if (!raw) return {}
  return {
    requestBody: { required: true, content: { 'text/csv': { schema: { type: 'string' } } } },
  }
}

const PROBLEM = {
  description: 'A problem (RFC 9457)',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
}

/**
 * OpenAPI 3.1 of the routes, made from the same Joi schemas that check requests; `more` says the
 * paths that are no routes.
 */
export function openApi(routes: readonly Route[], more: Record<string, Json> = {}): Json {
  const paths: Record<string, Json> = { ...more }
  for (const route of routes) {
    const path = route.path.replace(/:(\w+)/g, '{$1}')
    paths[path] = {
      ...paths[path],
      [route.method]: {
        summary: route.about,
        'x-who': route.who,
        // Signed in at a browser, or by a token with that scope.
        security: [{ session: [] }, { token: [scopeOf(route)] }],
        parameters: parametersOf(route),
        ...bodyOf(route),
        responses: { [String(route.status ?? 200)]: { description: 'Done' }, default: PROBLEM },
      },
    }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Fernwick', version: '1' },
    servers: [{ url: '/api/v1' }],
    paths,
    components: {
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'fernwick' },
        token: {
          type: 'http',
          scheme: 'bearer',
          description:
            'A token made under My account. `read` tells what members see, `write` changes what ' +
            'members change, `manage` sees and does what managers alone do.',
        },
      },
      schemas: {
        Problem: {
          type: 'object',
          required: ['type', 'title', 'status', 'detail', 'code'],
          properties: {
            type: { type: 'string' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            code: { type: 'string' },
            place: { type: 'string' },
          },
        },
      },
    },
  }
}
