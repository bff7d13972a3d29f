import { describe, expect, it } from 'vitest'
import { inUnits, minorDigits, readMoney, sayMoney } from './money.ts'

describe('money', () => {
  // ISO 4217, table A.1: minor units of GBP and EUR 2, JPY 0, BHD 3 (from memory).
  it('has as many digits as its currency', () => {
    expect(['GBP', 'EUR', 'JPY', 'BHD'].map(minorDigits)).toEqual([2, 2, 0, 3])
    expect([sayMoney(125_050, 'GBP'), sayMoney(1250, 'JPY'), sayMoney(-5, 'GBP')]).toEqual([
      '£1,250.50',
      'JP¥1,250',
      '-£0.05',
    ])
    expect([inUnits(1999, 'GBP'), inUnits(1250, 'JPY'), inUnits(1250, 'BHD')]).toEqual([
      19.99, 1250, 1.25,
    ])
  })
  it('is read as people and spreadsheets write it, to the penny', () => {
    const read = (text: string) => readMoney(text, 'GBP')
    expect(
      [
        '19.99',
        '£1,250.50',
        '1 250,5',
        '12,50',
        '1.005',
        '-3',
        'GBP 7.20',
        '7.20 gbp',
        '1,250',
        '-£2',
        '£-2',
        '3 £',
      ].map(read),
    ).toEqual([1999, 125_050, 125_050, 1250, 101, -300, 720, 720, 125_000, -200, -200, 300])
    expect(
      ['', 'abc', '1.2.3', '1,2,3', '£', '12 apples', '--2', '€ 4', 'USD 7'].map(read),
    ).toEqual([null, null, null, null, null, null, null, null, null])
    expect([readMoney('€ 4', 'EUR'), readMoney('$1.50', 'USD')]).toEqual([400, 150])
    expect(readMoney('1250', 'JPY')).toBe(1250)
  })
  it('comes back as it went, whatever the amount', () => {
    for (let minor = -300; minor < 300_000; minor += 37)
      expect(readMoney(String(inUnits(minor, 'GBP')), 'GBP')).toBe(minor)
  })
})
