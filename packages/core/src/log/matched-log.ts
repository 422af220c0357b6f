/**
 * A log matched to a circuit, one entry per fix. `travel_m` counts on over laps: station plus whole laps driven.
 * `positionUncertainty_m`: sideways error of all of it (1σ), where the circuit's place on the globe is not known and was found
 * from the drive.
 */
export type MatchedLog = { travel_m: Float64Array; offset_m: Float64Array; onCircuit: Uint8Array; positionUncertainty_m: number }
