import { describe, expect, it } from 'vitest'
import { jointMoves, moves } from '@/features/options/swap'

const two = (metric: string) => ({ metric, inch: metric })
const figures = (u: number, room: number, out: number, traps: string[] = [], over: string[] = []): never =>
  ({
    thermal: { u_effective: u },
    room_lost_mm: room,
    growth_outside_mm: 0,
    drying: { outward: { g_m2: out }, inward: { g_m2: 10 } },
    over_limits: over.map(two),
    traps: traps.map((t) => ({ sentence: two(t) })),
    cautions: [],
    refused: '',
  }) as never
const show = (value: number | null | undefined): string => (value == null ? '–' : String(value))
const said = (words: { metric: string }): string => words.metric

describe('a swap', () => {
  it('says what moves and whether it is worse', () => {
    const found = moves(
      figures(0.3, 80, 200),
      figures(0.34, 80, 250, ['A trap.'], ['It takes too much.']),
      'U',
      show,
      said,
    )
    expect(found.map((m) => [m.words, m.worse])).toEqual([
      ['U 0.3 → 0.34', true],
      ['drying outward 200 → 250', false],
      ['It takes too much.', true],
      ['A trap.', true],
    ])
    expect(moves(figures(0.3, 80, 200, ['A trap.']), figures(0.3, 80, 200), 'U', show, said)).toEqual([
      { words: 'No more: A trap.', worse: false },
    ])
    expect(moves(figures(0.3, 80, 200), figures(0.3, 80, 200), 'U', show, said)).toEqual([])
    const thicker = moves(figures(0.3, 80, 200), figures(0.3, 90, 200), 'U', show, said)
    expect(thicker.map((m) => m.words)[1]).toContain('Its face moves')
  })
  it('says where a line stops now, and where it stops no more', () => {
    const joint = (...stops: string[]) => [{ joint: 'eaves', other: 'Roof', stops: stops.map(two) }]
    expect(jointMoves(joint('air stops'), joint('heat stops'), said)).toEqual([
      { words: 'eaves, with Roof: heat stops', worse: true },
      { words: 'No more: eaves, with Roof: air stops', worse: false },
    ])
    expect(jointMoves(joint('air stops'), joint('air stops'), said)).toEqual([])
  })
})
