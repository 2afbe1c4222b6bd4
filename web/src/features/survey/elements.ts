/** Words and defaults of elements. */
import type { Schemas } from '@/api/client'

export type ElementFields = Schemas['ElementFields']

export const FACINGS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'] as const

export function facingWord(degrees: number | undefined): string {
  return FACINGS[Math.floor((((degrees ?? 0) + 22.5) % 360) / 45)] ?? 'N'
}

export function blankElement(): ElementFields {
  return {
    name: '',
    kind: 'wall',
    area_m2: null as unknown as number,
    facing_deg: 0,
    slope_deg: 90,
    adjoining: 'outside',
    factor_b: 1,
    exposure: 'moderate',
    occupancy: '',
    set_point_c: null,
    absorptance: null,
    ground: 'moist',
    perimeter_m: null,
    depth_m: null,
    room_limit_mm: null,
    outside_limit_mm: null,
    target_u_w_m2k: null,
    u_w_m2k: null,
    g_value: null,
    planned_u_w_m2k: null,
    planned_g_value: null,
  }
}

/** Typical slope and b when the kind or the neighbour changes; the person may correct both. */
export function usualSlope(kind: string): number {
  return kind === 'roof' ? 40 : kind === 'floor' ? 0 : 90
}
export function usualFactor(adjoining: string): number {
  return adjoining === 'outside' ? 1 : adjoining === 'ground' ? 0.5 : 0.8
}
