import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/**
 * Where the bytes of files lie, named by their SHA-256: the same bytes are kept once, and never
 * changed.
 */
export interface FileStore {
  /** Keeps bytes; answers their digest in hexadecimal. */
  put(bytes: Buffer): string
  /** The bytes of a digest, or null where they are missing. */
  read(digest: string): Buffer | null
  /** Lets go of the bytes of a digest, which nothing speaks of any more. */
  drop(digest: string): void
}

const digestOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex')

/** Files in a folder outside the web root. A file appears whole or not at all. */
export function folderFiles(folder: string): FileStore {
  const place = (digest: string) => join(folder, digest.slice(0, 2), digest)
  return {
    put(bytes) {
      const digest = digestOf(bytes)
      const path = place(digest)
      if (!existsSync(path)) {
        mkdirSync(join(folder, digest.slice(0, 2)), { recursive: true })
        writeFileSync(`${path}.part`, bytes)
        renameSync(`${path}.part`, path)
      }
      return digest
    },
    read: (digest) =>
      /^[0-9a-f]{64}$/.test(digest) && existsSync(place(digest))
        ? readFileSync(place(digest))
        : null,
    drop(digest) {
      if (/^[0-9a-f]{64}$/.test(digest)) rmSync(place(digest), { force: true })
    },
  }
}

/** Files in memory, for tests and for running the engine on a copy. */
export function memoryFiles(): FileStore {
  const kept = new Map<string, Buffer>()
  return {
    put(bytes) {
      const digest = digestOf(bytes)
      kept.set(digest, bytes)
      return digest
    },
    read: (digest) => kept.get(digest) ?? null,
    drop: (digest) => void kept.delete(digest),
  }
}
