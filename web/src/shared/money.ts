/** Sums with their range, in words; a square metre of a wall is a square foot in the other system. */
import { unitOf } from './units'

/** What a price is a unit of, as a quantity. */
export const PER = { 'm²': 'perArea', 'm³': 'perVolume', kg: 'perMass' } as const
/** “m²”, or “ft²”: what a price is a unit of, as it is shown. */
export const perWord = (per: keyof typeof PER): string => unitOf(PER[per]).unit.slice(2)
/** An amount of a square metre as it is shown. */
export const each = (metric: number, per: keyof typeof PER = 'm²'): number => unitOf(PER[per]).to(metric)
const figure = (value: number, digits: number): string =>
  value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits }).replace(/,/g, ' ')

/** “12 to 15”, or “12” where both are the same as they are shown. */
export function range(low: number, high: number, digits: number): string {
  const [a, b] = [figure(low, digits), figure(high, digits)]
  return a === b ? a : `${a} to ${b}`
}
interface Carbon {
  carbon_low: number
  carbon_high: number
  stored: number
}
/** kg CO₂e a square metre; what plants hold is told apart. */
export function carbonWords(c: Carbon): string {
  if (!c.carbon_high) return '–'
  const [low, high, stored] = [each(c.carbon_low), each(c.carbon_high), each(c.stored)]
  const digits = high < 10 ? 1 : 0
  const held = c.stored >= 0.5 ? `; holds ${figure(stored, stored < 10 ? digits : 0)}` : ''
  return `${range(low, high, digits)} kg${held}`
}
/** A square metre, *at least* where something has no price. */
export function costWords(c: {
  low: number
  high: number
  currency: string
  unpriced: string[]
  foreign: string[]
}): string {
  if (!c.high) return 'not priced'
  const least = c.unpriced.length || c.foreign.length ? 'at least ' : ''
  return `${least}${range(each(c.low), each(c.high), each(c.high) < 10 ? 2 : 0)} ${c.currency}`
}
