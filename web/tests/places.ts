import { around, boxesOf, placeLabels, type Box } from '@/drawing/place'

export { around, boxesOf }
/** Thirty labels round one corner of a square, as many as find room; with the square's sides as obstacles. */
export function placed(): (Box & { id: string })[] {
  const square: [number, number][] = [[100, 100], [300, 100], [300, 260], [100, 260]] // prettier-ignore
  const wishes = Array.from({ length: 30 }, (_, i) => ({
    id: `label ${i}`,
    w: 60,
    h: 14,
    anchor: [300, 100] as [number, number],
    at: around(300, 100, 60, 14, 1, -1),
  }))
  const found = placeLabels(wishes, boxesOf(square), { x: 0, y: 0, w: 700, h: 420 })
  return [...found].map(([id, box]) => ({ id, ...box }))
}
