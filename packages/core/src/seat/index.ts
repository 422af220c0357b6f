export {
  type Eye,
  eyeAt,
  eyeHeight,
  type InPicture,
  type Looking,
  type Picture,
  plannedDrive,
  project,
  type SeatDrive,
  type SeatSide,
  seatIn,
  VISOR_RAD,
} from './eye.ts'
export { heightAt } from './height.ts'
export { type MeshPart, meshBytes, type RoadChunk, type RoadMesh, roadMesh, type SeatSurface } from './road-mesh.ts'
