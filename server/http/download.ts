/** Bytes to be saved or shown, as a handler answers them instead of JSON. */
export class Download {
  constructor(
    readonly name: string,
    readonly type: string,
    readonly bytes: Buffer,
    /** Shown in the browser where its kind allows, instead of saved. */
    readonly inline = false,
  ) {}
}

/** A file's name as a header says it (RFC 8187). */
const encoded = (name: string): string =>
  encodeURIComponent(name).replace(
    /['()*]/g,
    (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`,
  )

function typeOf({ type, inline }: Download): string {
  if (!inline) return type.split(';')[0] ?? type
  return type.startsWith('text/') ? 'text/plain; charset=utf-8' : type
}

/**
 * A file is data, whatever it holds: nothing in it may run or reach out, and only our own pages may
 * frame it.
 */
export function downloadHeaders(file: Download): Record<string, string> {
  const sandbox = file.type === 'application/pdf' ? '' : '; sandbox'
  return {
    'Content-Type': typeOf(file),
    'Content-Disposition': `${file.inline ? 'inline' : 'attachment'}; filename*=UTF-8''${encoded(file.name)}`,
    'Content-Security-Policy': `default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'self'${sandbox}`,
    'X-Frame-Options': 'SAMEORIGIN',
    'Cache-Control': 'private, no-cache',
  }
}
