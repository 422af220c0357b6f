export const dashes = ['none', '6 3', '2 3', '9 3 2 3']

/** Dash pattern of the i-th line over the road, on the band and in the ground view. */
export const overlayDash = (i: number): string => dashes[(i % (dashes.length - 1)) + 1]
