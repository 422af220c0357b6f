import { describe, expect, it } from 'vitest'
import { demoPlan } from '../../fixtures/load.ts'
import { CoreError } from '../errors.ts'
import { simulateDrive } from '../simulate/drive.ts'
import { writeLineCsv } from './line-csv.ts'
import { readLogCsv, writeLogCsv } from './log-csv.ts'
import { readTable, writeRows } from './table.ts'

describe('tables as text', () => {
  it('quote what needs it and keep spreadsheets from running cells', () => {
    const text = writeRows(
      ['name', 'n'],
      [
        ['=SUM(A1)', 1],
        ['a,b', 2],
      ],
    )
    expect(readTable(text, 'table').rows).toEqual([
      ["'=SUM(A1)", '1'],
      ['a,b', '2'],
    ])
  })

  it('write a line with one row a station under the agreed header', () => {
    const plan = demoPlan()
    const rows = writeLineCsv(plan).trimEnd().split('\n')
    expect(rows[0]).toBe('s_m,x_m,y_m,z_m,n_m,kappa_1pm,v_mps,ax_mps2,ay_mps2,t_s')
    expect(rows).toHaveLength(plan.circuit.count + 1)
    expect(Number(rows[1].split(',')[6])).toBeCloseTo(plan.profile.speed_mps[0], 3)
  })

  it('bring a log through a file unchanged to the written digits', () => {
    const { log } = simulateDrive(demoPlan(), { laps: 1, seed: 1 })
    const back = readLogCsv(writeLogCsv(log))
    expect(back.time_s.length).toBe(log.time_s.length)
    for (let i = 0; i < log.time_s.length; i += 50) {
      expect(Math.abs(back.lat_deg[i] - log.lat_deg[i])).toBeLessThan(1e-9)
      expect(Math.abs((back.speed_mps?.[i] ?? 0) - (log.speed_mps?.[i] ?? 0))).toBeLessThan(1e-3)
    }
  })

  it('drop rows that repeat a stamp, refuse time that runs backwards, and need only time and place', () => {
    const row = (t: number) => `${t},47.1,-21.4,0`
    const head = 'time_s,lat_deg,lon_deg,ele_m'
    expect(readLogCsv([head, row(0), row(0.1), row(0.1), row(0.2)].join('\n')).time_s).toEqual(Float64Array.from([0, 0.1, 0.2]))
    expect(() => readLogCsv([head, row(0), row(0.2), row(0.1)].join('\n'))).toThrow(
      expect.objectContaining({ code: 'log-stamps', place: 'row 4' }),
    )
    expect(() => readLogCsv(`${head}\n`)).toThrow(CoreError)
    expect(() => readLogCsv('time_s,lat_deg\n0,1')).toThrow(expect.objectContaining({ code: 'columns-missing' }))
  })
})
