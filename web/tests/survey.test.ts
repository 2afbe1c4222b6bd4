import { describe, expect, it } from 'vitest'
import { blankElement, facingWord, usualFactor, usualSlope } from '@/features/survey/elements'
import {
  mainBody,
  openingOn,
  rectangle,
  setRectangle,
  sidesOf,
  wing,
  type Body,
  type Shape,
} from '@/features/survey/shapes'
import { day, moment, today } from '@/shared/dates'

const shape = (bodies: Body[] = []): Shape => ({ bodies, openings: [], parts: [], up_bearing_deg: 0, outlines: 'external', areas: 'internal', site: {} }) as unknown as Shape // prettier-ignore

describe('shapes', () => {
  it('a first body is a rectangle that can be typed anew', () => {
    const body = mainBody(shape())
    expect(rectangle(body)).toEqual({ x: 0, y: 0, width: 10, depth: 7 })
    setRectangle(body, { x: 1, y: 2, width: 6, depth: 5 })
    expect(rectangle(body)).toEqual({ x: 1, y: 2, width: 6, depth: 5 })
    body.outline = [[0, 0], [4, 1], [4, 5], [0, 5]] // prettier-ignore
    expect(rectangle(body)).toBeNull()
  })
  it('names stay apart', () => {
    const one = mainBody(shape())
    const two = mainBody(shape([one]))
    expect([one.id, two.id]).toEqual(['main', 'main2'])
    const house = shape([one])
    house.openings = [openingOn(house, 'main', 'a')]
    expect(openingOn(house, 'main', 'a').id).toBe('opening2')
  })
  it('sides face outward whichever way round the outline was typed', () => {
    const body = mainBody(shape())
    const words = sidesOf(shape([body])).map((side) => side.facing)
    expect(words).toEqual(['S', 'E', 'N', 'W'])
    const turned = { ...body, outline: [...body.outline].reverse() }
    expect(sidesOf(shape([turned])).map((side) => side.facing).sort()).toEqual(['E', 'N', 'S', 'W']) // prettier-ignore
    for (const side of sidesOf(shape([turned]))) {
      const [x, y, nx, ny] = side.label
      const [cx, cy] = [5, 3.5]
      expect((x - cx) * nx + (y - cy) * ny).toBeGreaterThan(0)
    }
  })
  it('a wing stands outside its face and touches it', () => {
    const house = mainBody(shape())
    for (const face of ['a', 'b', 'c', 'd']) {
      const box = rectangle(wing(shape([house]), house, face))!
      expect(box, face).not.toBeNull()
      const apart = box.x >= 10 || box.x + box.width <= 0 || box.y >= 7 || box.y + box.depth <= 0
      expect(apart, face).toBe(true)
      expect(Math.max(box.width, box.depth)).toBe(4)
    }
  })
})

describe('elements', () => {
  it('facings in words', () => {
    expect([0, 22.4, 22.5, 180, 337.5, 359].map(facingWord)).toEqual(['N', 'N', 'NE', 'S', 'N', 'N'])
  })
  it('usual slopes and factors', () => {
    expect(['wall', 'roof', 'floor'].map(usualSlope)).toEqual([90, 40, 0])
    expect(['outside', 'ground', 'unheated'].map(usualFactor)).toEqual([1, 0.5, 0.8])
    expect(blankElement().area_m2).toBeNull()
  })
})

describe('dates', () => {
  it('are the day of the clock on the wall', () => {
    expect(today()).toMatch(/^\d{4}-\d{2}-\d{2}$/)
    expect(day('2026-03-04')).toBe('4 Mar 2026')
    expect(day(null)).toBe('no date')
    expect(moment('2026-03-04T10:20:00')).toMatch(/4 Mar 2026.*10:20/)
  })
})
