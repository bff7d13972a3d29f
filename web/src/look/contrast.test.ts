import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { PALETTE } from '#contract/fields.ts'

const css = readFileSync(new URL('./tokens.css', import.meta.url), 'utf8')
function tokens(selector: string): Record<string, string> {
  const block = css.slice(
    css.indexOf('{', css.indexOf(selector)) + 1,
    css.indexOf('}', css.indexOf(selector)),
  )
  return Object.fromEntries(
    [...block.matchAll(/--([\w-]+):\s*(#[0-9a-f]{6})/g)].map((m) => [m[1]!, m[2]!]),
  )
}
const light = tokens(':root {')
const dark = { ...light, ...tokens(":root[data-theme='dark']") }

// Source: WCAG 2.2, relative luminance and contrast ratio.
const channel = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
const luminance = (hex: string) =>
  [1, 3, 5]
    .map((i) => channel(parseInt(hex.slice(i, i + 2), 16) / 255))
    .reduce((sum, c, i) => sum + c * [0.2126, 0.7152, 0.0722][i]!, 0)
const contrast = (a: string, b: string) => {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number]
  return (x + 0.05) / (y + 0.05)
}

it('the formula: black on white is 21, #767676 on white is the last grey that passes (4.54)', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5)
  expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2)
})

describe.each([
  ['light', light],
  ['dark', dark],
])('%s', (_, t) => {
  const pairs = [
    ...['ink', 'ink-2', 'ink-3', 'fern', 'alarm', 'ochre', 'dusk', 'heather'].flatMap((text) => [
      [text, 'paper'],
      [text, 'sheet'],
    ]),
    ['fern-ink', 'fern'],
    ['fern', 'fern-wash'],
    ['dusk', 'dusk-wash'],
    ['heather', 'heather-wash'],
    ['bar-ink', 'bar'],
    ['bar-ink-2', 'bar'],
    ['ink-3', 'rest'],
  ] as [string, string][]
  // Tags and chosen values: their colour on a wash of it, as color-mix in base.css makes it.
  const wash = (hex: string) =>
    `#${[1, 3, 5]
      .map((i) =>
        Math.round(
          parseInt(hex.slice(i, i + 2), 16) * 0.12 +
            parseInt(t['sheet']!.slice(i, i + 2), 16) * 0.88,
        )
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`
  it.each(PALETTE)('%s on its wash is at least 4.5', (name) =>
    expect(contrast(t[name]!, wash(t[name]!))).toBeGreaterThanOrEqual(4.5),
  )
  it.each(pairs)('%s on %s is at least 4.5', (text, ground) =>
    expect(contrast(t[text]!, t[ground]!)).toBeGreaterThanOrEqual(4.5),
  )
})
