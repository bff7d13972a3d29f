/** Numbers by chance that come the same for the same seed (mulberry32, public domain). */
export function chance(seed: number) {
  let a = seed
  const next = () => {
    a = (a + 0x6d2b79f5) | 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32
  }
  const below = (n: number) => Math.floor(next() * n)
  const pick = <T>(list: readonly T[]): T => list[below(list.length)]!
  const some = <T>(list: readonly T[], share: number) => list.filter(() => next() < share)
  return { next, below, pick, some }
}
