/** Words and starting values of the shape; what follows from it is the core's. */
import type { Schemas } from '@/api/client'
import { facingWord } from './elements'
import type { Point } from './frame'

export type Shape = Schemas['Shape']
export type Body = Schemas['Body']
export type Opening = Schemas['Opening']
export const LETTERS = 'abcdefghijklmnopqrstuvwxyz'

export const ROOFS = [
  ['gable', 'gable'],
  ['hip', 'hip'],
  ['lean_to', 'lean-to'],
  ['flat', 'flat'],
  ['mansard', 'mansard'],
] as const
export const BELOW = [
  ['slab', 'slab on the ground'],
  ['void', 'void'],
  ['cellar', 'cellar, not heated'],
  ['heated_cellar', 'cellar, heated'],
  ['open', 'open air'],
] as const
export const GLAZING = [
  ['single', 'single'],
  ['double_old', 'double, old'],
  ['double_low_e', 'double, low-e'],
  ['triple', 'triple'],
  ['boards', 'boards'],
] as const
export const FRAMES = [
  ['timber', 'timber'],
  ['metal', 'metal'],
  ['metal_broken', 'metal, thermal break'],
  ['plastic', 'plastic'],
] as const
export const SECONDARY = [
  ['none', 'none'],
  ['single', 'single pane'],
  ['double_low_e', 'double, low-e'],
] as const
export const SHADING = [
  ['none', 'none'],
  ['reveal', 'deep reveal'],
  ['trees', 'trees'],
  ['buildings', 'buildings'],
  ['shutters', 'shutters'],
] as const

function fresh(taken: string[], base: string): string {
  let n = 1
  while (taken.includes(n === 1 ? base : `${base}${n}`)) n += 1
  return n === 1 ? base : `${base}${n}`
}
const ROOF: Body['roof'] = {
  form: 'gable',
  pitch_deg: 40,
  ridge: 'along',
  low_side: '',
  break_height_m: null,
  upper_pitch_deg: null,
  room: false,
  eaves_overhang_m: 0.3,
  verge_overhang_m: 0.1,
}
export function mainBody(shape: Shape): Body {
  return {
    id: fresh(
      shape.bodies.map((b) => b.id),
      'main',
    ),
    name: 'House',
    outline: [
      [0, 0],
      [10, 0],
      [10, 7],
      [0, 7],
    ],
    storeys: [{ name: 'ground floor', height_m: 2.6, own_walls: false }],
    roof: { ...ROOF },
    level_m: 0.3,
    ground_m: 0,
    below: 'slab',
    below_height_m: 0.6,
    wall_mm: 300,
    heated: true,
  }
}
/** A wing before the middle of a face: 4 m along it where it is that long, 3 m deep. */
export function wing(shape: Shape, body: Body, face: string): Body {
  const i = Math.max(LETTERS.indexOf(face), 0) % body.outline.length
  const points = body.outline as Point[]
  const n = points.length
  const [x0, y0] = points[i]!
  const [x1, y1] = points[(i + 1) % n]!
  const turn = Math.sign(
    points.reduce((s, [x, y], k) => s + x * points[(k + 1) % n]![1] - points[(k + 1) % n]![0] * y, 0),
  )
  const length = Math.hypot(x1 - x0, y1 - y0)
  const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length]
  const [nx, ny] = [uy * turn, -ux * turn]
  const half = Math.min(4, length) / 2
  const at = (along: number, out: number): Point => [
    Math.round((x0 + ux * along + nx * out) * 100) / 100,
    Math.round((y0 + uy * along + ny * out) * 100) / 100,
  ]
  const corners = [
    at(length / 2 - half, 0),
    at(length / 2 + half, 0),
    at(length / 2 + half, 3),
    at(length / 2 - half, 3),
  ]
  // first corner at the lower left, so that the dimensions read as from a plan
  const start = corners.reduce(
    (best, p, k) => (p[0] + p[1] < corners[best]![0] + corners[best]![1] - 1e-9 ? k : best),
    0,
  )
  const ring = [...corners.slice(start), ...corners.slice(0, start)]
  const ordered = Math.abs(ring[1]![1] - ring[0]![1]) < 1e-9 ? ring : [ring[0]!, ...ring.slice(1).reverse()]
  return {
    ...mainBody(shape),
    id: fresh(
      shape.bodies.map((b) => b.id),
      'wing',
    ),
    name: 'Wing',
    outline: ordered,
    level_m: body.level_m,
    ground_m: body.ground_m,
    wall_mm: body.wall_mm,
  }
}
export function openingOn(shape: Shape, body: string, face: string): Opening {
  return {
    id: fresh(
      shape.openings.map((o) => o.id),
      'opening',
    ),
    name: 'Windows',
    kind: 'window',
    body,
    face,
    storey: 0,
    count: 1,
    width_m: 1,
    height_m: 1.2,
    sill_m: 0.9,
    at_m: null,
    frame: 'timber',
    glazing: 'single',
    secondary: 'none',
    shading: 'none',
    reveal_mm: 0,
    overhang_m: 0,
    horizon_deg: 0,
    margin_mm: 0,
    u_w_m2k: null,
    g_value: null,
    in_roof: false,
  }
}
/** x, y, width and depth when the outline is a rectangle square to the plan; null otherwise. */
export function rectangle(body: Body): { x: number; y: number; width: number; depth: number } | null {
  const p = body.outline as Point[]
  if (p.length !== 4) return null
  const square =
    p[0]![1] === p[1]![1] &&
    p[1]![0] === p[2]![0] &&
    p[2]![1] === p[3]![1] &&
    p[3]![0] === p[0]![0] &&
    p[1]![0] > p[0]![0] &&
    p[2]![1] > p[1]![1]
  return square ? { x: p[0]![0], y: p[0]![1], width: p[1]![0] - p[0]![0], depth: p[2]![1] - p[1]![1] } : null
}
export function setRectangle(body: Body, to: { x: number; y: number; width: number; depth: number }): void {
  const { x, y, width, depth } = to
  body.outline = [
    [x, y],
    [x + width, y],
    [x + width, y + depth],
    [x, y + depth],
  ]
}

export interface Side {
  body: string
  name: string
  letter: string
  ends: readonly [number, number, number, number]
  /** middle of the side and its outward normal, in the plan */
  label: readonly [number, number, number, number]
  facing: string
  length: number
}
/** Every side of every outline with its letter and facing. */
export function sidesOf(shape: Shape): Side[] {
  return (shape.bodies ?? []).flatMap((b) => {
    const points = b.outline as Point[]
    const n = points.length
    const turn = Math.sign(
      points.reduce((sum, [x, y], i) => {
        const [x1, y1] = points[(i + 1) % n]!
        return sum + x * y1 - x1 * y
      }, 0),
    )
    return points.map(([x0, y0], i) => {
      const [x1, y1] = points[(i + 1) % n]!
      const length = Math.hypot(x1 - x0, y1 - y0) || 1
      const nx = ((y1 - y0) / length) * turn
      const ny = (-(x1 - x0) / length) * turn
      const bearing = ((Math.atan2(nx, ny) * 180) / Math.PI + (shape.up_bearing_deg ?? 0) + 720) % 360
      return {
        body: b.id,
        name: b.name,
        letter: LETTERS[i]!,
        ends: [x0, y0, x1, y1] as const,
        label: [(x0 + x1) / 2, (y0 + y1) / 2, nx, ny] as const,
        facing: facingWord(bearing),
        length,
      }
    })
  })
}
