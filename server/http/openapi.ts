import type Joi from 'joi'
import type { Route } from './route.ts'

interface Described {
  type?: string
  flags?: { presence?: string; description?: string; only?: boolean }
  allow?: unknown[]
  rules?: { name: string; args?: Record<string, unknown> }[]
  keys?: Record<string, Described>
  items?: Described[]
  matches?: {
    schema?: Described
    then?: Described
    otherwise?: Described
    switch?: { then?: Described }[]
  }[]
}

type Json = Record<string, unknown>

/** A Joi schema, as it describes itself, in JSON Schema 2020-12. */
function schemaOf(d: Described): Json {
  const nullable = d.allow?.includes(null) ?? false
  const values = d.allow?.filter((v) => v !== null && typeof v !== 'object') ?? []
  if (d.flags?.only && values.length) return { enum: nullable ? [...values, null] : values }
  const type = (name: string, more: Json = {}): Json => ({
    type: nullable ? [name, 'null'] : name,
    ...more,
  })
  const rule = (name: string) => d.rules?.find((r) => r.name === name)?.args?.['limit']
  const bound = (low: string, high: string): Json => ({
    ...(rule('min') !== undefined && { [low]: rule('min') }),
    ...(rule('max') !== undefined && { [high]: rule('max') }),
  })
  switch (d.type) {
    case 'object': {
      const keys = Object.entries(d.keys ?? {})
      const required = keys
        .filter(([, k]) => k.flags?.presence === 'required')
        .map(([name]) => name)
      return type('object', {
        properties: Object.fromEntries(keys.map(([name, k]) => [name, schemaOf(k)])),
        ...(required.length && { required }),
      })
    }
    case 'array':
      return type('array', {
        items:
          d.items?.length === 1 ? schemaOf(d.items[0]!) : { anyOf: (d.items ?? []).map(schemaOf) },
        ...bound('minItems', 'maxItems'),
      })
    case 'string':
      return type('string', bound('minLength', 'maxLength'))
    case 'number':
      return type(
        d.rules?.some((r) => r.name === 'integer') ? 'integer' : 'number',
        bound('minimum', 'maximum'),
      )
    case 'boolean':
      return type('boolean')
    case 'alternatives':
      return {
        anyOf: (d.matches ?? [])
          .flatMap((m) => [m.schema, m.then, m.otherwise, ...(m.switch?.map((s) => s.then) ?? [])])
          .filter((s) => s !== undefined)
          .map(schemaOf),
      }
    default:
      return {}
  }
}

/** OpenAPI 3.1 of the routes, made from the same Joi schemas that check requests. */
export function openApi(routes: readonly Route[]): Json {
  const paths: Record<string, Json> = {}
  const describe = (schema: Joi.Schema): Described => schema.describe()
  for (const r of routes) {
    const path = r.path.replace(/:(\w+)/g, '{$1}')
    const params = [...r.path.matchAll(/:(\w+)/g)].map((m) => ({
      name: m[1],
      in: 'path',
      required: true,
      schema: { type: 'integer' },
    }))
    const query = r.query
      ? Object.entries(describe(r.query).keys ?? {}).map(([name, d]) => ({
          name,
          in: 'query',
          required: d.flags?.presence === 'required',
          schema: schemaOf(d),
        }))
      : []
    ;(paths[path] ??= {})[r.method] = {
      summary: r.about,
      parameters: [...params, ...query],
      ...(r.body && {
        requestBody: {
          required: true,
          content: { 'application/json': { schema: schemaOf(describe(r.body)) } },
        },
      }),
      ...(r.raw && {
        requestBody: { required: true, content: { 'text/csv': { schema: { type: 'string' } } } },
      }),
      responses: {
        [String(r.status ?? 200)]: { description: 'Done' },
        default: {
          description: 'A problem (RFC 9457)',
          content: {
            'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } },
          },
        },
      },
    }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Fernwick', version: '1' },
    servers: [{ url: '/api/v1' }],
    paths,
    components: {
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
