/** Labels that do not collide: each takes the first free place of those it would like. */
export interface Box {
  x: number
  y: number
  w: number
  h: number
}
export interface Wish {
  id: string
  w: number
  h: number
  /** what the label speaks of; a line leads there when it stands far off */
  anchor: [number, number]
  /** where the label would like to be, best first: its upper left corner */
  at: [number, number][]
}
export function overlap(a: Box, b: Box, gap = 2): boolean {
  return a.x < b.x + b.w + gap && b.x < a.x + a.w + gap && a.y < b.y + b.h + gap && b.y < a.y + a.h + gap
}

const CELL = 4
/** From here on a label would lie on another one: it is left out. */
const CROWDED = 20
/** Obstacles on a grid with running sums, so that counting those under a label costs four look-ups. */
function counter(obstacles: Box[], within: Box): (box: Box) => number {
  const wide = Math.ceil(within.w / CELL) + 2
  const high = Math.ceil(within.h / CELL) + 2
  const sums = new Int32Array((wide + 1) * (high + 1))
  const cell = (v: number, from: number, most: number): number =>
    Math.min(Math.max(Math.floor((v - from) / CELL), 0), most - 1)
  for (const o of obstacles)
    for (let y = cell(o.y, within.y, high); y <= cell(o.y + o.h, within.y, high); y++)
      for (let x = cell(o.x, within.x, wide); x <= cell(o.x + o.w, within.x, wide); x++)
        sums[(y + 1) * (wide + 1) + x + 1]! += 1
  for (let y = 1; y <= high; y++)
    for (let x = 1; x <= wide; x++)
      sums[y * (wide + 1) + x]! +=
        sums[(y - 1) * (wide + 1) + x]! + sums[y * (wide + 1) + x - 1]! - sums[(y - 1) * (wide + 1) + x - 1]!
  return (box) => {
    const x0 = cell(box.x, within.x, wide)
    const y0 = cell(box.y, within.y, high)
    const x1 = cell(box.x + box.w, within.x, wide) + 1
    const y1 = cell(box.y + box.h, within.y, high) + 1
    return (
      sums[y1 * (wide + 1) + x1]! -
      sums[y0 * (wide + 1) + x1]! -
      sums[y1 * (wide + 1) + x0]! +
      sums[y0 * (wide + 1) + x0]!
    )
  }
}

/**
 * Places in the order of the wishes. Where nothing is free the one with the least
 * overlap is taken; where even that would hide another label, none.
 */
export function placeLabels(wishes: Wish[], obstacles: Box[], within: Box): Map<string, Box> {
  const placed = new Map<string, Box>()
  const under = counter(obstacles, within)
  const labels: Box[] = []
  const leaders: Box[] = []
  for (const wish of wishes) {
    let best: Box | null = null
    let least = Infinity
    for (const [x, y] of wish.at) {
      const box = {
        x: Math.min(Math.max(x, within.x), within.x + within.w - wish.w),
        y: Math.min(Math.max(y, within.y), within.y + within.h - wish.h),
        w: wish.w,
        h: wish.h,
      }
      const leader = leaderOf(wish.anchor, box)
      const cost =
        under(box) +
        labels.filter((l) => overlap(box, l)).length * 20 +
        leaders.filter((l) => overlap(box, l)).length * 3 +
        labels.filter((l) => leader.some((p) => overlap(p, l, 0))).length * 8 +
        leader.filter((p) => under(p) > 0).length // a line across the drawing says less than a label on an edge of it
      if (cost < least && cost < CROWDED) {
        best = box
        least = cost
      }
      if (cost === 0) break
    }
    if (best) {
      placed.set(wish.id, best)
      labels.push(best)
      leaders.push(...leaderOf(wish.anchor, best))
    }
  }
  return placed
}

/** The line from an anchor to the nearest edge of its label, as small boxes. */
function leaderOf([ax, ay]: [number, number], box: Box): Box[] {
  const x = Math.min(Math.max(ax, box.x), box.x + box.w)
  const y = Math.min(Math.max(ay, box.y), box.y + box.h)
  const length = Math.hypot(x - ax, y - ay)
  if (length < 24) return []
  return Array.from({ length: Math.ceil(length / 8) }, (_, i) => {
    const t = (i * 8) / length
    return { x: ax + (x - ax) * t - 1, y: ay + (y - ay) * t - 1, w: 2, h: 2 }
  })
}

/** Points round an anchor, nearest first, on the side of a direction before the others. */
export function around(x: number, y: number, w: number, h: number, nx: number, ny: number): [number, number][] {
  const found: [number, number, number][] = []
  for (let ring = 0; ring < 20; ring++)
    for (let step = 0; step < 16; step++) {
      const angle = (step / 16) * 2 * Math.PI
      const dx = Math.cos(angle)
      const dy = Math.sin(angle)
      const reach = 6 + ring * 13
      const cx = x + dx * (reach + w / 2)
      const cy = y + dy * (reach + h / 2)
      found.push([cx - w / 2, cy - h / 2, ring * 1.2 - (dx * nx + dy * ny) * 1.6])
    }
  return found.sort((a, b) => a[2] - b[2]).map(([px, py]) => [px, py])
}

/** Small boxes along the sides of a polygon, as obstacles. */
export function boxesOf(points: [number, number][], size = 9): Box[] {
  const boxes: Box[] = []
  points.forEach(([x0, y0], i) => {
    const [x1, y1] = points[(i + 1) % points.length]!
    const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0) / size))
    for (let s = 0; s < steps; s++) {
      const t = s / steps
      boxes.push({ x: x0 + (x1 - x0) * t - 2, y: y0 + (y1 - y0) * t - 2, w: 4, h: 4 })
    }
  })
  return boxes
}
export function widthOf(text: string, bold = false): number {
  return text.length * (bold ? 6.9 : 6.5) + 6
}
