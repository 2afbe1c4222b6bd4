/** Where months, days and years stand on the time axis of a run that begins on the day of the works. Pure. */
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const STARTS = [0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334].map((d) => d * 24)
const YEAR = 8760

export interface Tick {
  /** px from the left of the plot */
  x: number
  label: string
  major: boolean
}

/** Days below 75 of them (weeks from 16 on), months below 800, quarters below 1300, years beyond. */
export function ticksOf(
  run: { start_hour_of_year: number; passes: number },
  [from, to]: readonly [number, number],
  plot: number,
): Tick[] {
  const out: Tick[] = []
  const scale = plot / (to - from)
  const days = (to - from) / 24
  if (days < 75) {
    const stepDays = days < 16 ? 1 : 7
    for (let h = Math.ceil(from / 24) * 24; h < to; h += 24 * stepDays) {
      const at = (run.start_hour_of_year + h) % YEAR
      const month = STARTS.findLastIndex((s) => s <= at)
      const day = Math.floor((at - STARTS[month]!) / 24) + 1
      out.push({ x: (h - from) * scale, label: `${day} ${MONTHS[month]}`, major: true })
    }
    return out
  }
  const first = STARTS.findLastIndex((s) => s <= run.start_hour_of_year)
  for (let pass = 0; pass < run.passes + 6; pass++)
    STARTS.forEach((start, month) => {
      const h = pass * YEAR + ((start - run.start_hour_of_year + YEAR) % YEAR)
      if (h < from || h > to) return
      const named = days < 800 ? true : days < 1300 ? (month - first + 12) % 3 === 0 : month === first
      const label = month === first ? `year ${pass + 1}` : MONTHS[month]!
      out.push({ x: (h - from) * scale, label: named ? label : '', major: month === first })
    })
  return out
}
