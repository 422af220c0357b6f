import { GRAVITY_MPS2 } from '../units/constants.ts'

/** A pedal counts as touched above this demand (m/s²): 0.05 g. */
export const TOUCH_MPS2 = 0.05 * GRAVITY_MPS2
/** A touch of the brake that takes off less than this (m/s) is no braking zone. */
export const MIN_BRAKING_MPS = 1.5
/** The slowest point belongs to the corner up to this far past its apex (m). */
export const SLOWEST_PAST_APEX_M = 12
