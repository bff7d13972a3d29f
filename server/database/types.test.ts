import { fileURLToPath } from 'node:url'
import ts from 'typescript'
import { expect, it } from 'vitest'

const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url))

/** What the compiler says of one file, with the project's own settings: line and first sentence. */
function complaints(file: string): string[] {
  const root = here('../../tsconfig.json')
  const { options } = ts.parseJsonConfigFileContent(
    ts.readConfigFile(root, (path) => ts.sys.readFile(path)).config,
    ts.sys,
    here('../..'),
  )
  const program = ts.createProgram([file], { ...options, noEmit: true })
  return ts
    .getPreEmitDiagnostics(program, program.getSourceFile(file))
    .map(({ start, file: of, messageText }) => {
      const line = of!.text.slice(0, start).split('\n').length
      return `${of!.text.split('\n')[line - 1]?.trim()} ${ts.flattenDiagnosticMessageText(messageText, ' ')}`
    })
}

it('a question over items that takes no sight does not compile', () => {
  const told = complaints(here('./refused/sight.ts'))
  expect(told.every((each) => each.includes('takes the viewer’s sight'))).toBe(true)
  expect(told).toHaveLength(2)
})
