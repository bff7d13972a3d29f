import { expect, it } from 'vitest'
import { shortName } from './short-name.ts'

it.each([
  ['Mossgate Veterinary Clinic', 'Mossgate'],
  ['The Mill Lane Practice Ltd', 'Mill Lane'],
  ['Beck Side, dentists', 'Beck Side'],
  ['Copperbeck, The', 'Copperbeck'],
  ['The', 'The'],
  ['A'.repeat(80), 'A'.repeat(24)],
  ['  ', ''],
])('%j is called %j', (name, short) => expect(shortName(name)).toBe(short))
