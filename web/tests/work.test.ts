/** What one does to layers, as pure functions; steps and sizes of the frame. */
import { describe, expect, it } from 'vitest'
import { heightShare } from '@/drawing/tall'
import { layerOf, moved, stepped, swapped, withLayer } from '@/features/options/work'
import { stepOf, STEPS } from '@/shared/steps'
import type { Layer } from '@/drawing/scale'

const material = (id: string, kind = 'solid', usual: number | null = 60): never =>
  ({ id, kind, usual_thickness_mm: usual }) as never
const layers = ['a', 'b', 'c'].map((id) => ({ ...layerOf(material('stone'), true), id }) as Layer)
const ids = (of: Layer[] | null): string => (of ?? []).map((l) => l.id).join('')

describe('layers', () => {
  it('come at their usual thickness, sheets without one', () => {
    expect(layerOf(material('fibre'), false)).toMatchObject({ thickness_mm: 60, existing: false, known: 'assumed' })
    expect(layerOf(material('fibre', 'solid', null), false).thickness_mm).toBe(50)
    expect(layerOf(material('foil', 'membrane'), true)).toMatchObject({ thickness_mm: null, existing: true })
    expect(layerOf(material('x'), true).id).not.toBe(layerOf(material('x'), true).id)
  })
  it('go beside the one in hand, or innermost', () => {
    const one = { ...layers[0]!, id: 'n' }
    expect(ids(withLayer(layers, 'b', one, 'inside'))).toBe('abnc')
    expect(ids(withLayer(layers, 'b', one, 'outside'))).toBe('anbc')
    expect(ids(withLayer(layers, null, one, 'outside'))).toBe('abcn')
  })
  it('move by one place and not beyond the ends', () => {
    expect(ids(moved(layers, 'a', 1))).toBe('bac')
    expect(moved(layers, 'a', -1)).toBeNull()
    expect(moved(layers, 'c', 1)).toBeNull()
    expect(moved(layers, 'x', 1)).toBeNull()
    expect(ids(layers)).toBe('abc')
  })
  it('keep thickness and framing when swapped for what can have them', () => {
    const framed = { ...layers[0]!, thickness_mm: 140, framing: { material: 'softwood', share: 0.1 } } as Layer
    expect(swapped(framed, material('hemp'))).toMatchObject({ thickness_mm: 140, framing: framed.framing })
    expect(swapped(framed, material('foil', 'membrane'))).toMatchObject({ thickness_mm: null, framing: null })
  })
  it('grow in steps a hand would take, in either system, and never vanish', () => {
    expect([stepped(12, 1, false), stepped(80, -1, false)]).toEqual([13, 70])
    expect([stepped(12, 1, true), stepped(80, 1, true)]).toEqual([15.175, 92.7])
    expect([stepped(1, -1, false), stepped(2995, 1, false)]).toEqual([null, null])
  })
})

describe('the frame', () => {
  it('knows to which step a sheet belongs', () => {
    expect(['year', 'compare', 'tests', 'options'].map(stepOf)).toEqual(Array(4).fill('options'))
    expect(stepOf('water')).toBe('water')
    expect(new Set(STEPS.map((s) => s.name)).size).toBe(STEPS.length)
  })
  it('lets drawings grow with the window, within reason', () => {
    expect([heightShare(600), heightShare(800), heightShare(4000)]).toEqual([1, 1, 2.2])
    expect(heightShare(1440)).toBe(2)
  })
})
