/** What may be covered: ready, or ready because somebody answers for it. */
export const mayBeCovered = (state: string): boolean => state === 'ready' || state === 'ready by override'
