import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'

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

const writingIn = (folder: string): string => join(folder, 'writing')
/** Takes away what was being written when a server ended; before anything writes there. */
export function dropUnfinished(folder: string): void {
  rmSync(writingIn(folder), { recursive: true, force: true })
}

/**
 * Files in a folder outside the web root. A file appears whole or not at all, and is on the disk
 * before anything speaks of it.
 */
export function folderFiles(folder: string): FileStore {
  const place = (digest: string) => join(folder, digest.slice(0, 2), digest)
  const writing = writingIn(folder)
  return {
    put(bytes) {
      const digest = digestOf(bytes)
      const path = place(digest)
      if (!existsSync(path)) {
        const part = join(writing, digest)
        for (const needed of [writing, dirname(path)]) mkdirSync(needed, { recursive: true })
        try {
          writeFileSync(part, bytes, { flush: true })
          renameSync(part, path)
        } catch (error) {
          rmSync(part, { force: true })
          throw error
        }
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
