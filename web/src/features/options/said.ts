/** What stands above the strips and beside them, in words. Pure. */
import type { Schemas } from '@/api/client'
import { said, show } from '@/shared/units'
import type { Work } from './work'
import { liveState } from './work'

const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'] // prettier-ignore

/** "1 May" of "05-01". */
export function dayOf(month_day: string): string {
  const [month, day] = month_day.split('-').map(Number)
  return `${day} ${MONTHS[(month ?? 5) - 1]}`
}

/** Under what every strip of the sheet is computed, in one line. */
export function conditionsOf(e: Schemas['ElementOut'], c: Schemas['Sheet']['conditions']): string {
  const parts = [`${c.climate_label}, ${c.climate_origin}`]
  if (e.kind === 'wall' && e.adjoining === 'outside')
    parts.push(
      `faces ${c.facing}, ${c.exposure}${c.strip === 'whole' ? '' : `, ${c.strip} third`}, ` +
        `${show(c.driven_rain_mm, 'rain')} driven rain${c.rain_face ? ', a rain face' : ''}`,
    )
  else if (e.adjoining !== 'outside')
    parts.push(
      `adjoins ${e.adjoining}, b ${e.factor_b} ${e.shape_key && !e.typed.includes('factor_b') ? 'usual' : 'typed'}`,
    )
  parts.push(`${c.occupancy}, ${show(c.set_point_c, 'temperature', 0)}`)
  parts.push(`as found from ${Math.round(c.start_rh * 100)} % RH until it settles, works on ${dayOf(c.works_on)}`)
  if (c.target_u_w_m2k) parts.push(`target ${show(c.target_u_w_m2k, 'transmittance')}`)
  return parts.join(' · ')
}

/** How many runs come first, and for about how long. */
export function waitWords(run: Work['run']): string {
  if (!run.before) return 'waiting, next'
  const wait = run.wait_s
  const time = !wait ? '' : wait < 90 ? `, about ${Math.ceil(wait / 10) * 10} s` : `, about ${Math.ceil(wait / 60)} min`
  return `waiting, ${run.before} before it${time}`
}

/** What the years of a strip say, or why they say nothing. */
export function stripWords(w: Work, index: number): { state: string; words: string } {
  const live = liveState(w)
  const verdict = w.run.verdict
  if (live === 'running') return { state: '', words: `${w.run.doing}, ${Math.round(w.run.progress * 100)} %` }
  if (live === 'not available') return { state: '', words: w.figures.transient_refused || w.run.doing }
  if (live === 'waiting') return { state: '', words: waitWords(w.run) }
  if (live !== 'current' || !verdict) return { state: '', words: live === 'not run' ? 'years not run' : live }
  const older = w.run.older ? ' (older solver: run again)' : ''
  if (index === 0) return { state: '', words: said(verdict.as_found_words) + older }
  const headline = said(verdict.headline)
  return { state: verdict.state, words: headline.charAt(0).toLowerCase() + headline.slice(1) + older }
}
