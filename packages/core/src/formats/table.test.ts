import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { writeLineCsv } from './line-csv.ts'
import { readTable, writeRows } from './table.ts'

describe('tables as text', () => {
  it('quote what needs it and keep spreadsheets from running cells', () => {
    const text = writeRows(
      ['name', 'n'],
      [
        ['=SUM(A1)', 1],
        ['a,b', 2],
        ['-2+3', -0.35],
        ['-0.35', '-1e-3'],
        ['-cmd', -1],
      ],
    )
    expect(readTable(text, 'table').rows).toEqual([
      ["'=SUM(A1)", '1'],
      ['a,b', '2'],
      ["'-2+3", '-0.35'],
      ['-0.35', '-1e-3'],
      ["'-cmd", '-1'],
    ])
  })

  it('write a line with one row a station under the agreed header', () => {
    const plan = demoPlan()
    const rows = writeLineCsv(plan).trimEnd().split('\n')
    expect(rows[0]).toBe('s_m,x_m,y_m,z_m,n_m,kappa_1pm,v_mps,ax_mps2,ay_mps2,t_s')
    expect(rows).toHaveLength(plan.circuit.count + 1)
    expect(Number(rows[1].split(',')[6])).toBeCloseTo(plan.profile.speed_mps[0], 3)
  })
})
