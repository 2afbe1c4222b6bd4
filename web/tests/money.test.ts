import { describe, expect, it } from 'vitest'
import { carbonWords, costWords, range } from '@/shared/money'

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
  it('tell what plants hold apart', () => {
    expect(carbonWords({ carbon_low: 12, carbon_high: 30, stored: 14 })).toBe('12 to 30 kg; holds 14')
    expect(carbonWords({ carbon_low: 0.5, carbon_high: 0.9, stored: 0 })).toBe('0.5 to 0.9 kg')
    expect(carbonWords({ carbon_low: 0, carbon_high: 0, stored: 0 })).toBe('–')
  })
})
