/** How well a name answers what was typed: its first word, another word, anywhere in it; none. */
function rank(name: string, sought: string): number {
  const low = name.toLowerCase()
  if (low.startsWith(sought)) return 0
  if (low.split(/[\s-]+/).some((word) => word.startsWith(sought))) return 1
  return low.includes(sought) ? 2 : 3
}

/** Who is meant by what was typed so far: first names first, then other names, then what has it. */
export const namedBy = <T extends { readonly name: string }>(
  people: readonly T[],
  typed: string,
): T[] => {
  const sought = typed.trim().toLowerCase()
  return people
    .map((person) => ({ person, rank: rank(person.name, sought) }))
    .filter((each) => each.rank < 3)
    .sort((a, b) => a.rank - b.rank || a.person.name.localeCompare(b.person.name))
    .map(({ person }) => person)
}
