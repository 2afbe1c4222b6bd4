import type { Schemas } from '@/api/client'

/** The section of the house as the server answers it. */
export type House = Schemas['HouseOut']
