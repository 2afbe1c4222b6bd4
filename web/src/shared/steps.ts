/** Everything about a step of the work: its name, its sheets, and which step a sheet belongs to. How far it is, the server says. */
/** The views of the survey, in the order of the work. */
export const SURVEY_VIEWS = [
  ['shape', 'Shape'],
  ['elements', 'Elements'],
  ['make', 'Construction'],
  ['exposure', 'Exposure'],
  ['evidence', 'Evidence'],
  ['airtightness', 'Blower door'],
  ['readings', 'Readings'],
] as const
export type SurveyView = (typeof SURVEY_VIEWS)[number][0]

interface Step {
  name: string
  label: string
  /** as the finder calls it, where it says more than the label */
  found?: string
  /** its other sheets, by the names of their routes */
  sheets: readonly string[]
}
export const STEPS: readonly Step[] = [
  { name: 'house', label: 'House', found: 'House section', sheets: [] },
  { name: 'brief', label: 'Brief', sheets: [] },
  { name: 'survey', label: 'Survey', sheets: [] },
  { name: 'water', label: 'Water', sheets: [] },
  { name: 'options', label: 'Options', sheets: ['proposals', 'year', 'compare', 'tests'] },
  { name: 'heat', label: 'Heat', sheets: ['air', 'rooms', 'balance', 'schemes'] },
  { name: 'dossier', label: 'Dossier', sheets: ['lists'] },
]
/** The sheets of one element, in the order of their tabs. */
export const ELEMENT_SHEETS = [
  ['options', 'Options sheet'],
  ['proposals', 'Proposals'],
  ['year', 'Year in the wall'],
  ['tests', 'Tests and studies'],
  ['compare', 'Compare'],
] as const
/** The sheets of heat, in the order of their tabs. */
export const HEAT_SHEETS = [
  ['heat', 'Loss'],
  ['air', 'Air'],
  ['rooms', 'Rooms'],
  ['balance', 'Balance'],
  ['schemes', 'Schemes and phases'],
] as const
export type HeatSheet = (typeof HEAT_SHEETS)[number][0]
export type ElementSheet = (typeof ELEMENT_SHEETS)[number][0]
export const stepOf = (route: string): string => STEPS.find((step) => step.sheets.includes(route))?.name ?? route
