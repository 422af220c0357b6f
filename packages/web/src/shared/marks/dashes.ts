export const dashes = ['6 3', 'none', '2 3', '9 3 2 3']

/** Dash pattern of the i-th line over the road, on the band and in the ground view. */
export const overlayDash = (i: number): string => ['2 3', '9 3 2 3', '4 2'][i % 3]
