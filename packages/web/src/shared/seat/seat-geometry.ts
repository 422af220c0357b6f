import { BufferAttribute, BufferGeometry } from 'three'

/** Triangles as three.js draws them. */
export const geometryOf = (position: Float32Array, index: ArrayLike<number>): BufferGeometry => {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(position, 3))
  geometry.setIndex(new BufferAttribute(index instanceof Uint32Array ? index : Uint32Array.from(index), 1))
  geometry.computeVertexNormals()
  return geometry
}
