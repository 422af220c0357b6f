/**
 * How a line is chosen: least bending, least length, least lap time; least time with later apexes, off the rubbered
 * band of the dry line, or with a price on every metre.
 */
export const lineMethods = ['smoothest', 'shortest', 'fast', 'late', 'wet', 'compact'] as const
export type LineMethod = (typeof lineMethods)[number]
/** Methods whose line depends on the surface and the pace. */
export const timedMethods: readonly LineMethod[] = ['fast', 'late', 'wet', 'compact']
