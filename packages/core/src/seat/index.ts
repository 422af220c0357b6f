export { type Eye, eyeAt, eyeHeight, type InPicture, type Picture, project, type SeatSide, VISOR_RAD } from './eye.ts'
export { heightAt } from './height.ts'
export { type MeshPart, meshBytes, type RoadChunk, type RoadMesh, roadMesh, type SeatSurface } from './road-mesh.ts'
