import type { PlanChoice, PlanSource, Survey, Vehicle } from '@ochote/core'
import type { z } from 'zod'
import type { StoredCircuit, surveySchema } from '../circuit.ts'

/** A survey as JSON carries it. */
export type WireSurvey = z.infer<typeof surveySchema>

/** Columns of a survey as plain arrays, for JSON. */
export const surveyToWire = (survey: Survey): WireSurvey => ({
  name: survey.name,
  x_m: Array.from(survey.x_m),
  y_m: Array.from(survey.y_m),
  z_m: Array.from(survey.z_m),
  widthLeft_m: Array.from(survey.widthLeft_m),
  widthRight_m: Array.from(survey.widthRight_m),
  bank_rad: Array.from(survey.bank_rad),
  ...(survey.origin ? { origin: survey.origin } : {}),
  ...(survey.open ? { open: true } : {}),
  ...(survey.widthAssumed ? { widthAssumed: true } : {}),
  ...(survey.widthGiven ? { widthGiven: Array.from(survey.widthGiven) } : {}),
  ...(survey.northSet ? { northSet: true } : {}),
})

/** A survey out of JSON. */
export const surveyFromWire = (wire: WireSurvey): Survey => ({
  name: wire.name,
  x_m: Float64Array.from(wire.x_m),
  y_m: Float64Array.from(wire.y_m),
  z_m: Float64Array.from(wire.z_m),
  widthLeft_m: Float64Array.from(wire.widthLeft_m),
  widthRight_m: Float64Array.from(wire.widthRight_m),
  bank_rad: Float64Array.from(wire.bank_rad),
  ...(wire.origin ? { origin: wire.origin } : {}),
  ...(wire.open ? { open: true } : {}),
  ...(wire.widthAssumed ? { widthAssumed: true } : {}),
  ...(wire.widthGiven ? { widthGiven: Float64Array.from(wire.widthGiven) } : {}),
  ...(wire.northSet ? { northSet: true } : {}),
})

/** Stored documents that a plan is computed from. */
export type StoredPlan = { circuit: Pick<StoredCircuit, 'id' | 'survey' | 'notes'>; vehicle: Vehicle; settings: PlanChoice }

/** The planner's input; a circuit's id names its survey, which never changes. */
export const planSource = ({ circuit, vehicle, settings }: StoredPlan): PlanSource => ({
  circuitKey: circuit.id,
  survey: () => surveyFromWire(circuit.survey),
  notes: circuit.notes,
  vehicle,
  settings,
})
