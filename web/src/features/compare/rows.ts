/** What is compared of options: a line of words and figures each, and the figure behind its bar. Pure. */
import type { Schemas } from '@/api/client'
import { said, show, uName } from '@/shared/units'
import { carbonWords, costWords, perWord } from '@/shared/money'

export type Option = Schemas['OptionOut']
export type Costs = Schemas['OptionCosts']
type Verdict = Schemas['Verdict']

/** Of years that belong to what is drawn. */
export function verdict(o: Option): Verdict | null {
  return o.run.state === 'current' ? (o.run.verdict ?? null) : null
}
const tested = (o: Option, words: string): string =>
  words ? words + (o.tests.stale ? ', out of date' : '') : 'not run'
/** The highest index for good that is judged. */
function mould(o: Option): number | null {
  const values = verdict(o)
    ?.judgements.filter((j) => j.criterion === 'mould' && j.phase === 'for good')
    .map((j) => j.value)
  return values?.length ? Math.max(...values) : null
}
export function state(o: Option): { state: string; words: string } {
  const v = verdict(o)
  if (!v)
    return {
      state: '',
      words: o.run.state === 'not available' ? o.run.doing || 'years not available yet' : o.run.state,
    }
  return o.role === 'as_found'
    ? { state: '', words: said(v.as_found_words) }
    : { state: v.state, words: said(v.headline) }
}
/** Vapour from the plane that could rot first, to one side; a layer that carries liquid there is named. */
function drying(o: Option, side: 'inward' | 'outward'): string {
  const d = o.figures.drying
  if (!d) return `no figure: ${o.figures.drying_left.why_not}`
  const liquid = d[side].liquid.length ? ', vapour only' : ''
  return `${show(d[side].g_m2, 'smallWater')} to ${d[side].to}${liquid}`
}
export interface Row {
  label: string
  cell: (o: Option) => string
  /** the figure behind the bar, from nothing on, and less of it is better; none where more is, or where nothing is no beginning */
  bar?: (o: Option) => number | null
  tone?: 'heat' | 'water'
  /** the line on which one of them is chosen */
  choice?: boolean
  /** the line on which one is turned down, with its reason */
  reject?: boolean
}
/** target: U asked for, W/m²K; the first option is as found. */
export function rowsOf(options: Option[], target: number | null, costs: Map<number, Costs> = new Map()): Row[] {
  const found = options[0]
  return [
    {
      label: uName.value,
      cell: (o) => show(o.figures.thermal?.u_effective, 'transmittance'),
      bar: (o) => o.figures.thermal?.u_effective ?? null,
      tone: 'heat',
    },
    {
      label: `Heat loss`,
      cell: (o) => show(o.figures.loss_kwh_m2a, 'energyPerArea'),
      bar: (o) => o.figures.loss_kwh_m2a ?? null,
      tone: 'heat',
    },
    {
      label: 'Heat saved against as found',
      cell: (o) => {
        const before = found?.figures.loss_kwh_m2a
        const after = o.figures.loss_kwh_m2a
        if (o.role === 'as_found' || !before || after === null || after === undefined) return '–'
        return `${show(before - after, 'energyPerArea')}, ${Math.round((1 - after / before) * 100)} %`
      },
    },
    {
      label: 'Drying ability inward',
      cell: (o) => drying(o, 'inward'),
    },
    {
      label: 'Drying ability outward',
      cell: (o) => drying(o, 'outward'),
    },
    {
      label: 'Drying left against as found',
      cell: (o) => {
        const left = o.figures.drying_left
        if (o.role === 'as_found') return '–'
        if (left.share === null || left.share === undefined) return `no figure: ${left.why_not}`
        const only = o.figures.drying?.inward.liquid.length || o.figures.drying?.outward.liquid.length
        return `${(left.share * 100).toFixed(left.share < 0.1 ? 1 : 0)} %${only ? ', vapour only' : ''}`
      },
    },
    {
      label: 'Wetting a year: leaks, room, soil, rain at the plane',
      cell: (o) => (verdict(o) ? show(o.run.wetting_kg_m2, 'water', 2) : '–'),
    },
    {
      label: 'Worst point, month',
      cell: (o) => {
        const p = verdict(o)?.worst_point
        return p ? `${Math.min(100, p.worst_month_rh * 100).toFixed(0)} % · ${p.worst_month}` : '–'
      },
    },
    {
      label: 'Highest mould index judged',
      cell: (o) => (mould(o) === null ? '–' : mould(o)!.toFixed(1)),
      bar: mould,
      tone: 'water',
    },
    {
      label: 'Wetting test, mean stay',
      cell: (o) => {
        const w = o.tests.wetting
        if (!w) return 'not run'
        return `${w.mean_stay_days.toFixed(0)} days, ${Math.round(w.left_g / 10)} % left after a year${w.stale ? ', out of date' : ''}`
      },
      bar: (o) => (o.tests.wetting && !o.tests.wetting.stale ? o.tests.wetting.mean_stay_days : null),
      tone: 'water',
    },
    { label: 'Bad year', cell: (o) => tested(o, o.tests.bad_year ?? '') },
    {
      label: 'Study, draws over a limit',
      cell: (o) => tested(o, o.tests.study_runs ? `${o.tests.study_over} of ${o.tests.study_runs}` : ''),
    },
    { label: 'Room lost', cell: (o) => (o.role === 'as_found' ? '–' : show(o.figures.room_lost_mm, 'thickness')) },
    {
      label: 'Grows outside',
      cell: (o) => (o.role === 'as_found' ? '–' : show(o.figures.growth_outside_mm, 'thickness')),
    },
    { label: 'Weight added', cell: (o) => (o.role === 'as_found' ? '–' : show(o.figures.added_kg_m2, 'water', 0)) },
    {
      label: `Cost per ${perWord('m²')}`,
      cell: (o) => (costs.has(o.id) ? costWords(costs.get(o.id)!.cost) : '–'),
      bar: (o) => costs.get(o.id)?.cost.high || null,
    },
    {
      label: `CO₂e of making it, per ${perWord('m²')}`,
      cell: (o) => (costs.has(o.id) ? carbonWords(costs.get(o.id)!.cost) : '–'),
      bar: (o) => costs.get(o.id)?.cost.carbon_high || null,
    },
    { label: 'What it takes', cell: (o) => said(costs.get(o.id)?.built?.takes) || '–' },
    { label: 'Open meanwhile', cell: (o) => said(costs.get(o.id)?.built?.while_open) || '–' },
    { label: 'Taken back', cell: (o) => said(costs.get(o.id)?.built?.reversible) || '–' },
    { label: 'Limits passed', cell: (o) => o.figures.over_limits.map(said).join(' ') || 'none' },
    {
      label: 'Target',
      cell: (o) => {
        if (!target || !o.figures.thermal || o.role === 'as_found') return '–'
        return o.figures.thermal.u_effective <= target + 0.005
          ? 'met'
          : `missed, target ${show(target, 'transmittance')}`
      },
    },
    {
      label: 'Monthly check, ISO 13788',
      cell: (o) => {
        const c = o.figures.condensation
        if (!c) return 'not for ground'
        if (!c.judged) return 'does not judge this'
        return c.peak_g_m2 < 1
          ? 'no condensation'
          : `${show(c.peak_g_m2, 'smallWater')}, ${c.dries_each_year ? 'dries' : 'does not dry'}`
      },
    },
    { label: 'Choose', cell: () => '', choice: true },
    { label: 'Rejected', cell: () => '', reject: true },
  ]
}
