/** A place that a line has to go through: a mark that was dragged. */
export type Pin = { station_m: number; offset_m: number }
