export { type Gearbox, gearboxes, gearboxOf, isShiftedByHand } from './gearbox.ts'
export { engineSpeed, gearAt } from './gears.ts'
export { vehicleTemplates } from './templates.ts'
export { checkVehicle, type Vehicle, type VehicleField, type VehicleKind, vehicleKinds, vehicleRanges } from './vehicle.ts'
