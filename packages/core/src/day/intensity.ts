/** How much is said: nothing (the debrief waits), one reminder per corner, or every action. */
export const intensities = ['quiet', 'guided', 'driven'] as const
export type Intensity = (typeof intensities)[number]
