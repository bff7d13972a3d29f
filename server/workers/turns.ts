/** Runs work in turn. */
export type Turn = <T>(
  who: number,
  gone: AbortSignal | undefined,
  work: () => Promise<T>,
) => Promise<T>

interface Line {
  busy: number
  readonly waiting: (() => void)[]
}

/**
 * Lets so many of each person's be under way at once; further ones wait in line, and `full` says what
 * happens when the line is as long as it may be. What is given up while it waits is not begun.
 */
export function turns(atOnce: number, most: number, full: () => never): Turn {
  const lines = new Map<number, Line>()
  return async (who, gone, work) => {
    let line = lines.get(who)
    if (!line) lines.set(who, (line = { busy: 0, waiting: [] }))
    const { waiting } = line
    if (line.busy >= atOnce) {
      if (waiting.length >= most) full()
      await new Promise<void>((next) => waiting.push(next))
    } else line.busy++
    try {
      gone?.throwIfAborted()
      return await work()
    } finally {
      // Whoever waits takes this one's place.
      const next = waiting.shift()
      if (next) next()
      else if (--line.busy === 0) lines.delete(who)
    }
  }
}
