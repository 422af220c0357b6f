import type { Plan } from '../plan/plan.ts'
import { writeColumns } from './table.ts'

/** Writes a plan's line with its speeds: `s_m,x_m,y_m,z_m,n_m,kappa_1pm,v_mps,ax_mps2,ay_mps2,t_s`, one row a station. */
export const writeLineCsv = ({ circuit, line, profile }: Pick<Plan, 'circuit' | 'line' | 'profile'>): string =>
  writeColumns([
    { name: 's_m', values: circuit.s_m, digits: 3 },
    { name: 'x_m', values: line.x_m, digits: 4 },
    { name: 'y_m', values: line.y_m, digits: 4 },
    { name: 'z_m', values: circuit.z_m, digits: 4 },
    { name: 'n_m', values: line.offset_m, digits: 4 },
    { name: 'kappa_1pm', values: line.kappa_1pm, digits: 7 },
    { name: 'v_mps', values: profile.speed_mps, digits: 4 },
    { name: 'ax_mps2', values: profile.ax_mps2, digits: 4 },
    { name: 'ay_mps2', values: profile.ay_mps2, digits: 4 },
    { name: 't_s', values: profile.time_s, digits: 4 },
  ])
