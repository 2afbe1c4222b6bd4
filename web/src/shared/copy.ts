/** A deep copy of plain data, out of whatever proxy it is in. */
export const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
