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
