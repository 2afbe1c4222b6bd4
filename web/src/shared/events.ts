/** What a field of a form holds after an event. */
export const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value
