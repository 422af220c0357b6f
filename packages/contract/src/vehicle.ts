import { gearboxes, type Vehicle, vehicleKinds, vehicleRanges } from '@ochote/core'
import { z } from 'zod'

const within = (field: keyof typeof vehicleRanges) => z.number().min(vehicleRanges[field][0]).max(vehicleRanges[field][1])

/** A vehicle as files and the wire carry it: names carry their units. */
export const vehicleSchema = z.object({
  id: z.string().min(1).max(60),
  name: z.string().min(1).max(80),
  kind: z.enum(vehicleKinds),
  mass_kg: within('mass_kg'),
  power_W: within('power_W'),
  maxDriveForce_N: within('maxDriveForce_N'),
  maxBrake_mps2: within('maxBrake_mps2'),
  muX: within('muX'),
  muY: within('muY'),
  dragArea_m2: within('dragArea_m2'),
  liftArea_m2: within('liftArea_m2'),
  rolling: within('rolling'),
  driveShare: within('driveShare'),
  width_m: within('width_m'),
  gears: z.array(z.number().min(3).max(150)).min(1).max(10),
  shiftEngineSpeed_rpm: within('shiftEngineSpeed_rpm'),
  gearbox: z.enum(gearboxes).optional(),
  driverSits: z.enum(['left', 'right']).optional(),
  wheelbase_m: z.number().optional(),
  cgHeight_m: z.number().optional(),
  cgToRear_m: z.number().optional(),
  margin_m: z.number().min(0).max(3).optional(),
}) satisfies z.ZodType<Vehicle>

/** A vehicle file: one or several. */
export const vehicleFileSchema = z.union([z.array(vehicleSchema).min(1), vehicleSchema.transform((v) => [v])])

/** A stored vehicle; a write names the version it was made from, 0 for a new one. */
export const storedVehicleSchema = vehicleSchema.extend({ version: z.number().int().min(0).default(1) })
export type StoredVehicle = z.infer<typeof storedVehicleSchema>
