import type { OptionalColumn, RequiredColumn } from './channels.ts'

/** A recorded drive: columns of equal length, timestamps strictly increasing; time and place always, other channels where recorded. */
export type Log = { [C in RequiredColumn]: Float64Array } & { [C in OptionalColumn]?: Float64Array }
