/** Degrees to radians. */
export const radians = (angle_deg: number): number => (angle_deg * Math.PI) / 180
/** Radians to degrees. */
export const degrees = (angle_rad: number): number => (angle_rad * 180) / Math.PI
/** m/s to km/h. */
export const kmh = (speed_mps: number): number => speed_mps * 3.6
/** m/s to statute miles per hour. */
export const mph = (speed_mps: number): number => speed_mps / 0.44704
/** Metres to international feet. */
export const feet = (length_m: number): number => length_m / 0.3048
