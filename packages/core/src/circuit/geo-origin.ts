/** A place on the WGS 84 ellipsoid. */
export type GeoOrigin = { lat_deg: number; lon_deg: number }
