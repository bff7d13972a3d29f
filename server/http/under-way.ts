import type Koa from 'koa'

/** Requests that somebody waits for; streams, which stay open, are none. */
export interface UnderWay {
  readonly count: Koa.Middleware
  some(): boolean
}

export function countRequests(): UnderWay {
  let waiting = 0
  return {
    async count(_, next) {
      waiting++
      try {
        await next()
      } finally {
        waiting--
      }
    },
    some: () => waiting > 0,
  }
}
