/** Every way in which input can be wrong, as a code; the words are in words/. */
export type ErrorCode =
  | 'file-unreadable'
  | 'file-of-other-kind'
  | 'file-empty'
  | 'file-unwritable'
  | 'columns-missing'
  | 'number-invalid'
  | 'circuit-too-few-points'
  | 'circuit-duplicate-point'
  | 'circuit-jump'
  | 'circuit-open'
  | 'circuit-self-crossing'
  | 'circuit-height'
  | 'circuit-width'
  | 'circuit-bank'
  | 'circuit-swapped'
  | 'circuit-too-short'
  | 'circuit-several-tracks'
  | 'circuit-no-place'
  | 'circuit-reversed'
  | 'circuit-elsewhere'
  | 'circuit-curls-inside-width'
  | 'vehicle-range'
  | 'vehicle-unknown'
  | 'setting-range'
  | 'pace-above-limit'
  | 'line-no-road'
  | 'lap-not-drivable'
  | 'profile-leaves-ground'
  | 'log-elsewhere'
  | 'log-gap'
  | 'log-no-lap'
  | 'log-stamps'
  | 'log-reversed'
  | 'log-units'
  | 'log-no-fix'
  | 'log-too-long'
  | 'reference-lap-missing'
  | 'question-unknown'
  | 'rotation-size'
  | 'day-times'
  | 'day-overlap'
  | 'day-twice'
  | 'day-unknown'
  | 'day-nobody'
  | 'day-too-many'

/** Values that the words for a code need. */
export type ErrorData = Readonly<Record<string, string | number>>

/**
 * The one error class of the core: wrong input, named by code, with the place (row, station, column or field)
 * at which it was found. Words and remedy come from {@link describeError}.
 */
export class CoreError extends Error {
  readonly code: ErrorCode
  readonly place: string
  readonly data: ErrorData

  constructor(code: ErrorCode, place: string, data: ErrorData = {}) {
    super(`${code} at ${place}`)
    this.name = 'CoreError'
    this.code = code
    this.place = place
    this.data = data
  }
}
