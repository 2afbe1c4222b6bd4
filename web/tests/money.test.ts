import { describe, expect, it } from 'vitest'
import { carbonWords, costWords, each, perWord, range } from '@/shared/money'
import { system } from '@/shared/units'

describe('sums with their range', () => {
  it('say one figure where both ends show the same', () => {
    expect(range(12, 15, 0)).toBe('12 to 15')
    expect(range(12.01, 12.04, 1)).toBe('12.0')
    expect(range(1234.5, 98765, 0)).toBe('1 235 to 98 765')
  })
  it('are at least what is priced', () => {
    const cost = { low: 10, high: 20, currency: 'GBP', unpriced: ['x'], foreign: [] }
    expect(costWords(cost)).toBe('at least 10 to 20 GBP')
    expect(costWords({ ...cost, unpriced: [] })).toBe('10 to 20 GBP')
    expect(costWords({ ...cost, low: 0, high: 0 })).toBe('not priced')
  })
  it('are of a square foot where one shows feet', () => {
    system.value = 'imperial'
    const cost = { low: 107.6391, high: 215.2782, currency: 'USD', unpriced: [], foreign: [] }
    expect(costWords(cost)).toBe('10 to 20 USD')
    expect(carbonWords({ carbon_low: 10.76391, carbon_high: 21.52782, stored: 10.76391 })).toBe(
      '1.0 to 2.0 kg; holds 1.0',
    )
    expect([perWord('m²'), perWord('kg'), each(2.204623, 'kg')]).toEqual(['ft²', 'lb', 1])
    system.value = 'metric'
  })
  it('tell what plants hold apart', () => {
    expect(carbonWords({ carbon_low: 12, carbon_high: 30, stored: 14 })).toBe('12 to 30 kg; holds 14')
    expect(carbonWords({ carbon_low: 0.5, carbon_high: 0.9, stored: 0 })).toBe('0.5 to 0.9 kg')
    expect(carbonWords({ carbon_low: 0, carbon_high: 0, stored: 0 })).toBe('–')
  })
})
