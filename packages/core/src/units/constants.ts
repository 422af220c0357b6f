/** Standard gravity (m/s²), ISO 80000-3. */
export const GRAVITY_MPS2 = 9.80665
/** Density of dry air at 15 °C and sea level (kg/m³), International Standard Atmosphere. */
export const AIR_DENSITY_KGPM3 = 1.225
