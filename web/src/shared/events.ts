/** What a field of a form holds after an event. */
export const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value
export const isChecked = (event: Event): boolean => (event.target as HTMLInputElement).checked
/** The files that were chosen; the field is empty again, so that the same one can be chosen twice. */
export function filesOf(event: Event): File[] {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  return files
}
