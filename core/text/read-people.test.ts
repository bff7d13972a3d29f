import { expect, it } from 'vitest'
import { readPeople } from './read-people.ts'

const one = (text: string) => {
  const [person] = readPeople(text).people
  return person && [person.name, person.email, person.title]
}
it.each([
  ['Ines Corbet, ines@example.org', ['Ines Corbet', 'ines@example.org', '']],
  ['Ines Corbet <ines@example.org>', ['Ines Corbet', 'ines@example.org', '']],
  ['ines@example.org; Ines Corbet; Bookkeeper', ['Ines Corbet', 'ines@example.org', 'Bookkeeper']],
  ['"Corbet Ines"\tines@example.org\tLead', ['Corbet Ines', 'ines@example.org', 'Lead']],
  ['ines.corbet@example.org', ['Ines Corbet', 'ines.corbet@example.org', '']],
])('%j', (text, read) => expect(one(text)).toEqual(read))
it('headings and empty lines are passed over, what has no address is told by its line', () => {
  const { people, lost } = readPeople('Name,E-mail\n\nInes, ines@example.org\nTom Barrow\n')
  expect(people.map((p) => [p.line, p.name])).toEqual([[3, 'Ines']])
  expect(lost).toEqual([{ line: 4, text: 'Tom Barrow', why: 'has no e-mail address' }])
})
it('a first line that is somebody is no heading', () =>
  expect(readPeople('Name Role, n@example.org').people).toHaveLength(1))
