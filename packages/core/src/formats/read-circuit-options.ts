/**
 * `width_m`: half width for files without widths. `track`: which track or line of a file with several. `reverse`: drive
 * it the other way round. `open`: a course that ends where it ends, a hill road or a drill pad. `swapped`: what the file calls
 * latitude is longitude.
 */
export type ReadCircuitOptions = { width_m?: number; track?: string; reverse?: boolean; open?: boolean; swapped?: boolean }
