/** Sums with their range, in words. Pure. */
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
  const held = c.stored >= 0.5 ? `; holds ${figure(c.stored, 0)}` : ''
  return `${range(c.carbon_low, c.carbon_high, c.carbon_high < 10 ? 1 : 0)} kg${held}`
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
  return `${least}${range(c.low, c.high, 0)} ${c.currency}`
}
