/** Days as the person's clock has them, and as they are read. */
export function today(): string {
  const now = new Date()
  return `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, '0')}-${String(now.getDate()).padStart(2, '0')}`
}
export const day = (text: string | null | undefined, nothing = 'no date'): string =>
  text ? new Date(text).toLocaleDateString('en-GB', { dateStyle: 'medium' }) : nothing
/** Day and time of the day. */
export const moment = (text: string): string =>
  new Date(text).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
export const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const
