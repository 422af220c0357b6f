import type { Survey } from '../circuit/survey.ts'
import { degrees, radians } from '../units/convert.ts'
import { numericColumns, readTable, writeColumns } from './table.ts'

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

/** Writes a survey in local coordinates, to a tenth of a millimetre. */
export const writeCircuitCsv = (survey: Survey): string =>
  writeColumns([
    { name: 'x_m', values: survey.x_m, digits: 4 },
    { name: 'y_m', values: survey.y_m, digits: 4 },
    { name: 'z_m', values: survey.z_m, digits: 4 },
    { name: 'width_left_m', values: survey.widthLeft_m, digits: 3 },
    { name: 'width_right_m', values: survey.widthRight_m, digits: 3 },
    { name: 'bank_deg', values: survey.bank_rad.map(degrees), digits: 4 },
  ])
