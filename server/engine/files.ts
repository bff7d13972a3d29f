import { randomUUID, webcrypto } from 'node:crypto'
import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { readFile, rm, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'

/**
 * Where the bytes of files lie, named by their SHA-256: the same bytes are kept once, and never
 * changed. Reading and writing them holds nobody up.
 */
export interface FileStore {
  /**
   * Keeps bytes; answers their digest in hexadecimal. Whoever writes it down does so in the same
   * breath: until then nothing speaks of them, and they may be let go of.
   */
  put(bytes: Buffer): Promise<string>
  /** The bytes of a digest, or null where they are missing. */
  read(digest: string): Promise<Buffer | null>
  /** Lets go of the bytes of a digest, which nothing speaks of any more. */
  drop(digest: string): void
}

const digestOf = async (bytes: Buffer): Promise<string> =>
  Buffer.from(await webcrypto.subtle.digest('SHA-256', bytes)).toString('hex')
const isDigest = (text: string): boolean => /^[0-9a-f]{64}$/.test(text)

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
    async put(bytes) {
      const digest = await digestOf(bytes)
      const path = place(digest)
      if (existsSync(path)) return digest
      const part = join(writing, randomUUID())
      for (const needed of [writing, dirname(path)]) mkdirSync(needed, { recursive: true })
      try {
        await writeFile(part, bytes, { flush: true })
        renameSync(part, path)
      } catch (error) {
        await rm(part, { force: true })
        throw error
      }
      return digest
    },
    async read(digest) {
      if (!isDigest(digest)) return null
      return readFile(place(digest)).catch((error: NodeJS.ErrnoException) => {
        if (error.code === 'ENOENT') return null
        throw error
      })
    },
    drop(digest) {
      if (isDigest(digest)) rmSync(place(digest), { force: true })
    },
  }
}

/** Files in memory, for tests and for running the engine on a copy. */
export function memoryFiles(): FileStore {
  const kept = new Map<string, Buffer>()
  return {
    async put(bytes) {
      const digest = await digestOf(bytes)
      kept.set(digest, bytes)
      return digest
    },
    read: (digest) => Promise.resolve(kept.get(digest) ?? null),
    drop: (digest) => void kept.delete(digest),
  }
}
