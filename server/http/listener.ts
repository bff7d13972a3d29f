import { createServer, STATUS_CODES, type Server } from 'node:http'
import type Koa from 'koa'
import { Refusal } from '#core/refusal.ts'
import { answerOfError } from './answer.ts'

/** Slow sockets: how long a request may take to come, headers first, in milliseconds. */
const SLOWEST = { headersTimeout: 20_000, requestTimeout: 120_000 }
/**
 * Longer than clients and proxies keep an idle connection: the side that closes first must not be
 * this one, in the middle of a request. In milliseconds.
 */
const KEEP_ALIVE = 75_000

/** What Node refuses before any of it reaches the application. */
const UNREAD: Readonly<Record<string, [code: string, why: string]>> = {
  HPE_HEADER_OVERFLOW: ['too-long', 'The address and headers are too long; ask for less at once.'],
  ERR_HTTP_REQUEST_TIMEOUT: ['too-slow', 'The request took too long to come; send it again.'],
}
const NOT_HTTP = ['bad-request', 'What was sent is no HTTP request that can be read.'] as const

/** The same problem details for a request that never got as far as a route. */
function unread(error: NodeJS.ErrnoException): string {
  const [code, why] = UNREAD[error.code ?? ''] ?? NOT_HTTP
  const { status, headers, body } = answerOfError(new Refusal(code, why))
  const bytes = Buffer.byteLength(body!)
  const lines = Object.entries({ ...headers, 'Content-Length': bytes, Connection: 'close' })
  const head = lines.map(([name, value]) => `${name}: ${value}\r\n`).join('')
  return `HTTP/1.1 ${status} ${STATUS_CODES[status]}\r\n${head}\r\n${String(body)}`
}

/** A server for an application, not listening yet. */
export function createListener(app: Koa): Server {
  const handle = app.callback()
  const server = createServer(SLOWEST, (request, response) => void handle(request, response))
  server.keepAliveTimeout = KEEP_ALIVE
  server.on('clientError', (error, socket) => {
    if (socket.writable) socket.end(unread(error))
    else socket.destroy()
  })
  return server
}
