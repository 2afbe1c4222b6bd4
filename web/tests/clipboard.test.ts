import { describe, expect, it } from 'vitest'
import type { Layer } from '@/drawing/scale'
import { asNew, halves, range } from '@/features/options/clipboard'
import { differences } from '@/shared/materials'

const layer = (id: string, thickness_mm: number | null = 10): Layer =>
  ({ id, thickness_mm, material: 'x', photo: 'p1' }) as Layer
const layers = [layer('a'), layer('b', 101), layer('c', null), layer('d')]
const ids = (found: readonly Layer[]): string[] => found.map((l) => l.id)

describe('layers in hand', () => {
  it('reach from one to the other, either way', () => {
    expect(ids(range(layers, 'b', 'd'))).toEqual(['b', 'c', 'd'])
    expect(ids(range(layers, 'd', 'b'))).toEqual(['b', 'c', 'd'])
    expect(ids(range(layers, 'b', null))).toEqual(['b'])
    expect(ids(range(layers, 'b', 'gone'))).toEqual(['b'])
    expect(range(layers, null, 'b')).toEqual([])
  })
  it('are pasted under names of their own and without photos of another project', () => {
    const fresh = asNew([layers[0]!, layers[0]!, layers[1]!], layers)
    expect(ids(fresh)).toEqual(['a-2', 'a-3', 'b-2'])
    expect(fresh.every((l) => l.photo === '')).toBe(true)
    expect(layers[0]!.photo).toBe('p1')
    expect(ids(asNew([layer('z')], layers))).toEqual(['z'])
  })
  it('split into two of half the thickness that add up', () => {
    const found = halves(layers, 'b')!
    expect(ids(found)).toEqual(['a', 'b', 'b-2', 'c', 'd'])
    expect(found[1]!.thickness_mm! + found[2]!.thickness_mm!).toBe(101)
    expect(halves(layers, 'c')).toBeNull()
    expect(halves(layers, 'gone')).toBeNull()
  })
})

describe('two editions of a material', () => {
  const one = { name: 'Batt', conductivity_w_mk: 0.034, mu: 1.1 } as never
  it('say what differs', () => {
    expect(differences(one, { name: 'Batt', conductivity_w_mk: 0.036, mu: null } as never)).toBe(
      'λ 0.034 → 0.036, μ 1.1 → none',
    )
    expect(differences(one, one)).toBe('')
  })
})
