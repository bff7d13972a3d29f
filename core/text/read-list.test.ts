import { expect, it } from 'vitest'
import { readList } from './read-list.ts'

it('takes a line for each item, without bullets, numbers, boxes and empty lines', () => {
  expect(
    readList('- Ask\n* Post\r\n\n1. Check\n2) File\n[ ] Sign\n- [x] Send\n  • Close '),
  ).toEqual([...['Ask', 'Post', 'Check', 'File', 'Sign', 'Send', 'Close']])
  expect(readList('Count\tthe shelves')).toEqual(['Count the shelves'])
  expect(readList('2026 accounts\n-3 is a number\n')).toEqual(['2026 accounts', '-3 is a number'])
  expect(readList(' \n\n')).toEqual([])
})
