import { describe, expect, it } from 'vitest'
import { around, boxesOf, placed } from './places'
import { layOut, outsideOf, strokes, thickness, type Layer } from '@/drawing/scale'
import { spread, wetness } from '@/drawing/chart'
import { ticksOf } from '@/features/year/ticks'

const layer = (id: string, mm: number | null): Layer => ({ id, material: id, thickness_mm: mm }) as Layer

describe('strips on one scale', () => {
  const found = [layer('stone', 400), layer('plaster', 20)]
  const lined = [layer('stone', 400), layer('board', 100), layer('plaster', 10)]

  it('all stand on one datum', () => {
    const scale = layOut([found, lined], 'stone', {}, 0, 600)
    const [first, second] = scale.strips.map((strip) => strip.placed[0]!)
    expect(first!.x + first!.width).toBeCloseTo(scale.datum)
    expect(second!.x + second!.width).toBeCloseTo(scale.datum)
    expect(scale.strips[1]!.right).toBeCloseTo(600)
  })
  it('limits are measured from as found, and fit the drawing', () => {
    const scale = layOut([found, lined], 'stone', { room_mm: 200, outside_mm: 150 }, 0, 600)
    expect(scale.roomLimit! - scale.datum).toBeCloseTo((20 + 200) * scale.perMm)
    expect(scale.datum - scale.outsideLimit!).toBeCloseTo((400 + 150) * scale.perMm)
    expect(scale.outsideLimit).toBeGreaterThanOrEqual(0)
    expect(scale.roomLimit).toBeLessThanOrEqual(600)
  })
  it('a limit with a name is a line of its own, unless it is the tightest', () => {
    const stair = { kind: 'stair' as const, most: 60, note: '' }
    const named = [
      stair,
      { ...stair, kind: 'radiator' as const, most: 90 },
      { ...stair, kind: 'sill' as const, most: 30 },
    ]
    const scale = layOut([found, lined], 'stone', { room_mm: 60, outside_mm: 40, named }, 0, 600)
    expect(scale.marks.map((mark) => mark.text)).toEqual(['radiator', 'sill'])
    expect(scale.marks[0]!.x - scale.datum).toBeCloseTo((20 + 90) * scale.perMm)
    expect(scale.datum - scale.marks[1]!.x).toBeCloseTo((400 + 30) * scale.perMm)
  })
  it('a membrane is drawn wide enough to be seen and takes no room', () => {
    const scale = layOut([[...found, layer('membrane', null)]], 'stone', {}, 0, 600)
    const membrane = scale.strips[0]!.placed[2]!
    expect([membrane.thin, membrane.width]).toEqual([true, 3])
    expect(scale.strips[0]!.right).toBeCloseTo(membrane.x)
  })
  it('an option without the datum layer stands where as found stood', () => {
    expect(outsideOf([layer('frame', 140)], 'stone')).toBeNull()
    const scale = layOut([found, [layer('frame', 140)]], 'stone', {}, 0, 600)
    expect(scale.strips[1]!.left).toBeCloseTo(scale.strips[0]!.left)
  })
  it('counts thickness and strokes of drying', () => {
    expect(thickness(lined)).toBe(510)
    expect([0, 1, 10, 100, 1e9].map(strokes)).toEqual([0, 0, 3, 6, 9])
  })
})

describe('labels', () => {
  it('never stand on each other or on what they must not cover', () => {
    const boxes = placed()
    for (const [i, one] of boxes.entries())
      for (const other of boxes.slice(i + 1)) {
        const apart =
          one.x + one.w <= other.x ||
          other.x + other.w <= one.x ||
          one.y + one.h <= other.y ||
          other.y + other.h <= one.y
        expect(apart, `${one.id} and ${other.id}`).toBe(true)
      }
  })
  it('look on the side of their direction first', () => {
    const [x, y] = around(0, 0, 20, 10, 1, 0)[0]!
    expect(x).toBeGreaterThan(0)
    expect(Math.abs(y + 5)).toBeLessThan(12)
  })
  it('the sides of a polygon are obstacles all along', () => {
    const boxes = boxesOf([[0, 0], [100, 0], [100, 50]]) // prettier-ignore
    expect(boxes.length).toBeGreaterThan(20)
    expect(Math.max(...boxes.map((b) => b.x))).toBeGreaterThan(90)
  })
  it('are pushed apart in their order and stay above the foot', () => {
    const ys = spread([{ y: 10 }, { y: 11 }, { y: 95 }, { y: 96 }], 14, 100).map((one) => one.y)
    for (let i = 1; i < ys.length; i++) expect(ys[i]! - ys[i - 1]!).toBeGreaterThanOrEqual(14)
    expect(Math.max(...ys)).toBeLessThanOrEqual(100)
  })
})

describe('the year', () => {
  it('wetness darkens from dry to wet and stays a colour', () => {
    const shades = [0, 0.4, 0.7, 0.9, 0.99, 1, 1.2].map((rh) => wetness(rh).reduce((a, b) => a + b))
    expect([...shades].sort((a, b) => b - a)).toEqual(shades)
    for (const part of wetness(0.5)) expect(part).toBeLessThanOrEqual(255)
  })
  it('has months for a year, days for a week, years for eight', () => {
    const from = { start_hour_of_year: 0, passes: 8 }
    const months = ticksOf(from, [0, 8760], 876).filter((tick) => tick.label)
    expect(months.map((tick) => tick.label).slice(0, 3)).toEqual(['year 1', 'Feb', 'Mar'])
    expect(months[1]!.x).toBeCloseTo(31 * 2.4, 6)
    expect(ticksOf(from, [0, 168], 700).map((tick) => tick.label)).toEqual(['1 Jan', '2 Jan', '3 Jan', '4 Jan', '5 Jan', '6 Jan', '7 Jan']) // prettier-ignore
    const years = ticksOf(from, [0, 8 * 8760], 900).filter((tick) => tick.label)
    expect(years.every((tick) => tick.label.startsWith('year'))).toBe(true)
    expect(years.length).toBe(9)
  })
  it('begins on the day of the works', () => {
    const may = { start_hour_of_year: 120 * 24, passes: 2 }
    expect(ticksOf(may, [0, 72], 300).map((tick) => tick.label)).toEqual(['1 May', '2 May', '3 May'])
    const first = ticksOf(may, [0, 8760], 876).find((tick) => tick.major)
    expect([first!.x, first!.label]).toEqual([0, 'year 1'])
  })
})
