import type { Survey } from '../circuit/survey.ts'
import { radians } from '../units/convert.ts'
import { numericColumns, readTable } from './table.ts'

/** Reads a survey in local coordinates; header `x_m,y_m,width_left_m,width_right_m` and optionally `z_m,bank_deg`. */
export const readCircuitCsv = (text: string, name: string): Survey => {
  const table = readTable(text, 'circuit CSV')
  const columns = numericColumns(table, 'circuit CSV', ['x_m', 'y_m', 'width_left_m', 'width_right_m'], ['z_m', 'bank_deg'])
  const n = columns.x_m.length
  return {
    name,
    x_m: columns.x_m,
    y_m: columns.y_m,
    z_m: columns.z_m ?? new Float64Array(n),
    widthLeft_m: columns.width_left_m,
    widthRight_m: columns.width_right_m,
    bank_rad: (columns.bank_deg ?? new Float64Array(n)).map(radians),
  }
}
