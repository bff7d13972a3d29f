import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { mentioned, plainText, richText } from './rich.ts'

describe('rich text as words', () => {
  it.each([
    ['<p>One</p><p>Two</p>', 'One\nTwo'],
    ['<ul><li>a</li><li>b</li></ul>', 'a\nb'],
    ['a<br>b<br/>c', 'a\nb\nc'],
    [
      '<p>Tom &amp; Jerry &lt;3 &quot;x&quot; &#39;y&#39; &#x20AC; &nbsp;end</p>',
      'Tom & Jerry <3 "x" \'y\' € end',
    ],
    ['&unknown; &#0; &#99999999;', '&unknown; &#0; &#99999999;'],
    ['<a href="https://x.example">link</a> <strong>bold</strong>', 'link bold'],
    ['', ''],
  ])('%s', (html, text) => expect(plainText(html)).toBe(text))
  it('says of any text exactly what the text says', () =>
    fc.assert(
      fc.property(
        fc.string({
          unit: fc.constantFrom('a', 'é', '<', '>', '&', '"', ' ', '\n', 'amp;', '<p>', '😀'),
        }),
        (text) => {
          const lines = text
            .split('\n')
            .map((l) => l.replace(/[ \t]+/g, ' ').trim())
            .filter(Boolean)
          expect(
            plainText(richText(text))
              .split('\n')
              .map((l) => l.trim())
              .filter(Boolean),
          ).toEqual(lines)
        },
      ),
    ))
  it('people are mentioned once each', () => {
    expect(
      mentioned(
        '<span data-person="3">@A</span> and <span data-person="7">@B</span> and <span data-person="3">@A</span>',
      ),
    ).toEqual([3, 7])
    expect(mentioned('data-person="x" data-person=""')).toEqual([])
  })
})
