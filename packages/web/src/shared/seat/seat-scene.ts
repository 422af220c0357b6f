import {
  atStation,
  type Cone,
  type Eye,
  heightAt,
  type MeshPart,
  type Plan,
  placeAt,
  type RoadMesh,
  type SeatDrive,
  VISOR_RAD,
} from '@ochote/core'
import {
  BoxGeometry,
  CircleGeometry,
  Color,
  DoubleSide,
  EdgesGeometry,
  Fog,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  type Object3D,
  PerspectiveCamera,
  RingGeometry,
  Scene,
  WebGLRenderer,
} from 'three'
import { materialsOf, type Palette, paletteOf, upright } from './seat-colours.ts'
import { conesOf } from './seat-cones.ts'
import { geometryOf, litGeometryOf } from './seat-geometry.ts'
import { drivenOn, overlaysOf, spreadOn } from './seat-overlays.ts'
import type { Visibility } from './visibilities.ts'

/** What is drawn over the road, each of it switched alone; `eyes`: a ring where the driver is to look. */
export type SeatLayers = { line: boolean; marks: boolean; braking: boolean; eyes?: boolean }

/** Beyond this distance chunks are drawn coarsely (m). */
const NEAR_M = 260
/** Body and cabin of another car: length, width, height, height over the road (m). */
const GHOST = [
  [4.2, 1.75, 0.6, 0.25],
  [2.1, 1.5, 0.5, 0.85],
] as const

/** Chunks of the road, each fine and coarse; the one that fits its distance is shown. */
const roadOf = ({ chunks }: RoadMesh, materialOf: ReturnType<typeof materialsOf>) => {
  const group = new Group()
  const levels = chunks.map(({ near, far, middle }) => {
    const draw = (parts: readonly MeshPart[]): Group => {
      const level = new Group()
      for (const { surface, position, index } of parts) {
        const geometry = upright.has(surface) ? geometryOf(position, index) : litGeometryOf(position, index)
        level.add(new Mesh(geometry, materialOf(surface)))
      }
      group.add(level)
      return level
    }
    return { near: draw(near), far: draw(far), middle }
  })
  const choose = (x: number, y: number, far_m: number): void => {
    for (const { near, far, middle } of levels) {
      const away_m = Math.hypot(middle[0] - x, middle[1] - y)
      near.visible = away_m < NEAR_M
      far.visible = !near.visible && away_m < far_m + 120
    }
  }
  return { group, choose }
}

/** Another car: a plain body that one can see through, with its edges. */
const ghostOf = (palette: Palette): Group => {
  const group = new Group()
  for (const [long, wide, high, up] of GHOST) {
    const body = new BoxGeometry(long, wide, high).translate(0, 0, up + high / 2)
    group.add(new Mesh(body, new MeshBasicMaterial({ color: palette.sheet, transparent: true, opacity: 0.45, depthWrite: false })))
    group.add(new LineSegments(new EdgesGeometry(body), new LineBasicMaterial({ color: palette.ink })))
  }
  group.visible = false
  return group
}

/** The ring where the eyes are to be: inner and outer radius, height over the road (m). */
const EYES = { inner: 0.9, outer: 1.15, up: 0.9 } as const

/** A ring that is seen over everything: it says where to look, also where the place itself is hidden. */
const eyesRing = (palette: Palette): Group => {
  const shape = (inner: number, outer: number, colour: string): Mesh => {
    const mesh = new Mesh(
      new RingGeometry(inner, outer, 40),
      new MeshBasicMaterial({ color: colour, side: DoubleSide, depthTest: false, fog: false }),
    )
    mesh.renderOrder = 5
    return mesh
  }
  const group = new Group().add(shape(EYES.inner - 0.08, EYES.outer + 0.08, palette.ink), shape(EYES.inner, EYES.outer, palette.roadEdge))
  group.visible = false
  return group
}

/** Points that a processor draws of a picture that moves; 15 to 20 pictures a second come of that. */
const MOVING_PX = 260_000

/** True where pictures are computed by the processor: edges are then drawn as they fall, so that enough pictures a second remain. */
const isSoftware = (): boolean => {
  const gl = document.createElement('canvas').getContext('webgl2')
  const told = gl?.getExtension('WEBGL_debug_renderer_info')
  const name = gl && told ? String(gl.getParameter(told.UNMASKED_RENDERER_WEBGL)) : ''
  gl?.getExtension('WEBGL_lose_context')?.loseContext()
  return /swiftshader|llvmpipe|software|basic render/i.test(name)
}

/** Gives back what the graphics hold of an object and all in it. */
const release = (of: Object3D): void =>
  of.traverse((object) => {
    if (!(object instanceof Mesh || object instanceof LineSegments)) return
    object.geometry.dispose()
    for (const material of [object.material].flat()) material.dispose()
  })

/** What a scene is made from. */
export type SeatSource = {
  plan: Plan
  mesh: RoadMesh
  visibility: Visibility
  /** A lap that was driven: its path on the road, solid. */
  driven?: SeatDrive | undefined
  /** Stations at which each of a group did something, e.g. turned in. */
  spread?: readonly number[] | undefined
}

/**
 * Draws a road from an eye into a canvas. The scene knows nothing but mesh, cones and plan; what lies beyond the verges is the plain colour
 * of land. `draw` costs the chunks in sight. @throws Error where there is no WebGL
 */
export const seatScene = (canvas: HTMLCanvasElement, { plan, mesh, visibility, driven, spread }: SeatSource) => {
  const palette = paletteOf(canvas)
  const software = isSoftware()
  const renderer = new WebGLRenderer({ canvas, antialias: !software, powerPreference: 'high-performance' })
  renderer.setPixelRatio(software ? 1 : Math.min(2, window.devicePixelRatio))
  const scene = new Scene()
  const sky = new Color(palette.sheet)
  scene.background = sky
  const { far_m } = visibility
  scene.fog = new Fog(sky, Math.min(far_m * 0.35, 500), far_m)
  const land = new Mesh(new CircleGeometry(6000, 48), new MeshBasicMaterial({ color: palette.verge, depthWrite: false, depthTest: false }))
  land.renderOrder = -1
  scene.add(land)
  const road = roadOf(mesh, materialsOf(palette))
  const overlays = overlaysOf(plan, mesh.origin, palette)
  let laid = new Group()
  let out: readonly Cone[] = []
  scene.add(road.group, overlays.line, overlays.braking, overlays.marks, laid)
  if (driven) scene.add(drivenOn(plan, driven, mesh.origin, palette))
  if (spread && spread.length > 0) scene.add(spreadOn(plan, spread, mesh.origin, palette))
  const ring = eyesRing(palette)
  scene.add(ring)
  const ghost = ghostOf(palette)
  scene.add(ghost)
  const camera = new PerspectiveCamera((VISOR_RAD * 180) / Math.PI, 1.6, 0.2, Math.max(far_m, 400) + 200)
  camera.up.set(0, 0, 1)
  return {
    /** `moving`: pictures follow each other; where the processor draws them they are then coarser than the frame, so that enough come. */
    resize: (width: number, height: number, moving = false): void => {
      if (software) renderer.setPixelRatio(moving ? Math.min(1, Math.sqrt(MOVING_PX / Math.max(1, width * height))) : 1)
      renderer.setSize(width, height, false)
      camera.aspect = width / Math.max(1, height)
      camera.updateProjectionMatrix()
    },
    show: (layers: SeatLayers): void => {
      overlays.line.visible = layers.line
      overlays.braking.visible = layers.braking
      overlays.marks.visible = layers.marks
    },
    /** The cones that are out. */
    lay: (cones: readonly Cone[]): void => {
      if (cones === out) return
      out = cones
      scene.remove(laid)
      release(laid)
      laid = conesOf(plan, cones, mesh.origin, palette)
      scene.add(laid)
    },
    /** Another car at a place of the road, or none. */
    ghostAt: (place: { station_m: number; offset_m: number } | null): void => {
      ghost.visible = place !== null
      if (!place) return
      const { x_m, y_m, heading_rad } = placeAt(plan.circuit, place.station_m, place.offset_m)
      const z = heightAt(plan.circuit, place.station_m, place.offset_m)
      ghost.position.set(x_m - mesh.origin[0], y_m - mesh.origin[1], z - mesh.origin[2])
      ghost.rotation.z = heading_rad
    },
    /** A ring at the place where the eyes are to be, or none. */
    eyesAt: (station_m: number | null): void => {
      ring.visible = station_m !== null
      if (station_m === null) return
      const offset_m = atStation(plan.circuit, plan.line.offset_m, station_m)
      const { x_m, y_m } = placeAt(plan.circuit, station_m, offset_m)
      ring.position.set(x_m - mesh.origin[0], y_m - mesh.origin[1], heightAt(plan.circuit, station_m, offset_m) - mesh.origin[2] + EYES.up)
    },
    draw: (eye: Eye): void => {
      const [x, y, z] = [eye.x_m - mesh.origin[0], eye.y_m - mesh.origin[1], eye.z_m - mesh.origin[2]]
      camera.position.set(x, y, z)
      const level = Math.cos(eye.pitch_rad)
      camera.lookAt(x + level * Math.cos(eye.heading_rad), y + level * Math.sin(eye.heading_rad), z + Math.sin(eye.pitch_rad))
      // Land reaches to the horizon below the eye, behind all that is known.
      land.position.set(x, y, z - 3)
      road.choose(x, y, far_m)
      ring.lookAt(camera.position)
      renderer.render(scene, camera)
    },
    dispose: (): void => {
      release(scene)
      renderer.dispose()
    },
  }
}
export type SeatScene = ReturnType<typeof seatScene>
