/** A column of a table: its name, its head, and what it says of a row where no slot of that name draws it. */
export interface Column<Row> {
  name: string
  head?: string
  /** figures stand at the right and do not break */
  figure?: boolean
  text?: (row: Row) => string | number
  /** class of its cells, or of the cell of one row */
  mark?: string | ((row: Row) => string)
}
