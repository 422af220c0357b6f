import {
  type Cone,
  coneColours,
  type Eye,
  heightAt,
  type MeshPart,
  type Plan,
  placeAt,
  type RoadMesh,
  type SeatDrive,
  type SeatSurface,
  VISOR_RAD,
} from '@ochote/core'
import {
  BackSide,
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  CircleGeometry,
  Color,
  ConeGeometry,
  CylinderGeometry,
  DirectionalLight,
  DoubleSide,
  EdgesGeometry,
  Fog,
  Group,
  HemisphereLight,
  InstancedMesh,
  LineBasicMaterial,
  LineSegments,
  type Material,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  PerspectiveCamera,
  Scene,
  Shape,
  ShapeGeometry,
  WebGLRenderer,
} from 'three'
import type { Visibility } from './visibilities.ts'

/** What is drawn over the road; each can be switched. */
export type SeatLayers = { line: boolean; marks: boolean; braking: boolean }

/** Beyond this distance chunks are drawn coarsely (m). */
const NEAR_M = 260
/** Sizes of cones on the ground (m). */
const TALL = { radius: 0.17, height: 0.45 } as const
/** A cone's rim in ink, as a share of its size. */
const RIM = 1.16
/** How far over the road what is painted on it for us lies (m). */
const OVER_M = 0.03
const RIBBON_M = 0.28
const BAR_M = 0.5
const BRAKING_M = 1.5
const DRIVEN_M = 0.16
/** Body and cabin of another car: length, width, height, height over the road (m). */
const GHOST = [
  [4.2, 1.75, 0.6, 0.25],
  [2.1, 1.5, 0.5, 0.85],
] as const
/** Posts at both edges, where a mark lies (m). */
const GATE = { radius: 0.05, height: 1.1 } as const

type Palette = Record<'ground' | 'sheet' | 'road' | 'roadEdge' | 'verge' | 'ink' | 'planned' | 'warn' | 'rule', string>

/** Colours of the page as it is now, by day or night. */
export const paletteOf = (of: HTMLElement): Palette => {
  const style = getComputedStyle(of)
  const read = (name: string): string => style.getPropertyValue(`--${name}`).trim()
  return {
    ground: read('ground'),
    sheet: read('sheet'),
    road: read('road'),
    roadEdge: read('roadEdge'),
    verge: read('verge'),
    ink: read('ink'),
    planned: read('plannedOnRoad'),
    warn: read('warn'),
    rule: read('rule'),
  }
}

/** A colour between two others. */
const between = (a: string, b: string, share: number): Color => new Color(a).lerp(new Color(b), share)

const coloursOf = (p: Palette): Record<SeatSurface, Color> => ({
  road: new Color(p.road),
  edge: new Color(p.roadEdge),
  verge: new Color(p.verge),
  kerb: between(p.roadEdge, p.road, 0.25),
  paint: new Color(p.roadEdge),
  forbidden: between(p.warn, p.road, 0.35),
  'standing-water': between(p.planned, p.road, 0.55),
  patch: between(p.road, p.ink, 0.45),
  seam: between(p.road, p.ink, 0.7),
  wall: between(p.rule, p.ink, 0.25),
  ditch: between(p.verge, p.ink, 0.45),
  blind: between(p.verge, p.ink, 0.3),
  post: new Color(p.roadEdge),
  board: new Color(p.roadEdge),
  asphalt: between(p.road, p.verge, 0.45),
  gravel: between(p.verge, p.warn, 0.22),
  grass: between(p.verge, p.ink, 0.12),
})

const geometryOf = (position: Float32Array, index: ArrayLike<number>): BufferGeometry => {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(position, 3))
  geometry.setIndex(new BufferAttribute(index instanceof Uint32Array ? index : Uint32Array.from(index), 1))
  geometry.computeVertexNormals()
  return geometry
}

/** Order in which flat layers are pulled towards the eye, so that the upper one is seen far away too. */
const layerOf: Partial<Record<SeatSurface, number>> = {
  edge: 1,
  asphalt: 1,
  gravel: 1,
  grass: 1,
  'standing-water': 2,
  patch: 2,
  ditch: 2,
  kerb: 3,
  forbidden: 3,
  paint: 4,
  seam: 4,
}

/** What stands upright keeps its colour from every side. */
const upright: ReadonlySet<SeatSurface> = new Set(['wall', 'blind', 'post', 'board'])

const materialsOf = (palette: Palette) => {
  const colours = coloursOf(palette)
  const made = new Map<SeatSurface, Material>()
  return (surface: SeatSurface): Material => {
    const before = made.get(surface)
    if (before) return before
    const layer = layerOf[surface] ?? 0
    const Shaded = upright.has(surface) ? MeshBasicMaterial : MeshLambertMaterial
    const material = new Shaded({
      color: colours[surface],
      side: DoubleSide,
      polygonOffset: layer > 0,
      polygonOffsetFactor: -layer,
      polygonOffsetUnits: -2 * layer,
    })
    made.set(surface, material)
    return material
  }
}

/** Chunks of the road, each fine and coarse; the one that fits its distance is shown. */
const roadOf = ({ chunks }: RoadMesh, materialOf: ReturnType<typeof materialsOf>) => {
  const group = new Group()
  const levels = chunks.map(({ near, far, middle }) => {
    const draw = (parts: readonly MeshPart[]): Group => {
      const level = new Group()
      for (const { surface, position, index } of parts) level.add(new Mesh(geometryOf(position, index), materialOf(surface)))
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

const shapesOf = () => {
  const arrow = new Shape()
  arrow.moveTo(0, 0.42)
  for (const [x, y] of [
    [0.3, 0.05],
    [0.12, 0.05],
    [0.12, -0.35],
    [-0.12, -0.35],
    [-0.12, 0.05],
    [-0.3, 0.05],
  ])
    arrow.lineTo(x, y)
  const tall = new ConeGeometry(TALL.radius, TALL.height, 14).rotateX(Math.PI / 2).translate(0, 0, TALL.height / 2)
  const disc = new CylinderGeometry(0.22, 0.28, 0.08, 16).rotateX(Math.PI / 2).translate(0, 0, 0.04)
  return { tall, disc, arrow: new ShapeGeometry(arrow).translate(0, 0, 0.05) }
}

/** The cones of a day where they lie, each with its rim. */
const conesOf = (plan: Plan, cones: readonly Cone[], origin: RoadMesh['origin'], palette: Palette): Group => {
  const group = new Group()
  const shapes = shapesOf()
  const kinds = new Map<string, Cone[]>()
  for (const cone of cones) {
    const key = `${cone.shape} ${cone.colour}`
    kinds.set(key, [...(kinds.get(key) ?? []), cone])
  }
  const rim = new MeshBasicMaterial({ color: palette.ink, side: BackSide })
  for (const own of kinds.values()) {
    const [{ shape, colour }] = own
    const body = new InstancedMesh(shapes[shape], new MeshBasicMaterial({ color: coneColours[colour], side: DoubleSide }), own.length)
    const outline = new InstancedMesh(shapes[shape], rim, own.length)
    for (const [i, cone] of own.entries()) {
      const { heading_rad } = placeAt(plan.circuit, cone.station_m, cone.offset_m)
      const z = heightAt(plan.circuit, cone.station_m, cone.offset_m) - origin[2]
      // An arrow points across the road.
      const turn = new Matrix4().makeRotationZ(shape === 'arrow' ? heading_rad + (cone.roadSide === 'left' ? Math.PI : 0) : 0)
      const at = turn.setPosition(cone.x_m - origin[0], cone.y_m - origin[1], z)
      body.setMatrixAt(i, at)
      outline.setMatrixAt(i, at.clone().scale({ x: RIM, y: RIM, z: RIM } as never))
    }
    group.add(outline, body)
  }
  return group
}

/** A band on the road along stations: its offset from the middle and half its width at each (m). */
const bandOn = (
  plan: Plan,
  stations: readonly number[],
  offsetOf: (station_m: number) => number,
  half_m: number,
  origin: RoadMesh['origin'],
  isDrawn: (k: number) => boolean = () => true,
): BufferGeometry => {
  const position: number[] = []
  const index: number[] = []
  for (const [k, s] of stations.entries()) {
    for (const side of [half_m, -half_m]) {
      const offset = offsetOf(s) + side
      const { x_m, y_m } = placeAt(plan.circuit, s, offset)
      position.push(x_m - origin[0], y_m - origin[1], heightAt(plan.circuit, s, offset) + OVER_M - origin[2])
    }
    const a = 2 * k
    if (k > 0 && isDrawn(k)) index.push(a - 2, a - 1, a + 1, a - 2, a + 1, a)
  }
  return geometryOf(Float32Array.from(position), index)
}

const offsetOn = ({ circuit, line }: Plan, station_m: number): number => {
  const i = Math.round((((station_m % circuit.length_m) + circuit.length_m) % circuit.length_m) / circuit.step_m) % circuit.count
  return line.offset_m[i]
}

const stationsFrom = ({ circuit }: Plan, from_m: number, to_m: number): number[] => {
  const long_m = (((to_m - from_m) % circuit.length_m) + circuit.length_m) % circuit.length_m
  return Array.from({ length: Math.floor(long_m / circuit.step_m) + 1 }, (_, k) => (from_m + k * circuit.step_m) % circuit.length_m)
}

const painted = (geometry: BufferGeometry, colour: string, opacity = 1): Mesh =>
  new Mesh(
    geometry,
    new MeshBasicMaterial({
      color: colour,
      side: DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: -6,
      polygonOffsetUnits: -12,
      transparent: opacity < 1,
      opacity,
    }),
  )

/** Where each corner is braked for, from the brake mark to where the brake is let go. */
const brakedStretches = ({ marks }: Plan): [number, number][] =>
  marks.flatMap((mark): [number, number][] => {
    if (mark.kind !== 'brake') return []
    const end =
      marks.find((m) => m.cornerId === mark.cornerId && m.kind === 'release') ??
      marks.find((m) => m.cornerId === mark.cornerId && m.kind === 'turn-in')
    return end ? [[mark.station_m, end.station_m]] : []
  })

const gates: ReadonlySet<string> = new Set(['brake', 'turn-in', 'apex', 'exit'])

/** Several pieces as one, which costs one call of the graphics. */
const joined = (pieces: readonly BufferGeometry[]): BufferGeometry => {
  const position: number[] = []
  const index: number[] = []
  for (const piece of pieces) {
    const first = position.length / 3
    position.push(...piece.getAttribute('position').array)
    for (const i of piece.getIndex()?.array ?? []) index.push(first + i)
  }
  return geometryOf(Float32Array.from(position), index)
}

/** Posts in paper with a rim in ink, at places. */
const postsAt = (places: readonly (readonly [number, number, number])[], palette: Palette): Group => {
  const group = new Group()
  const shape = new CylinderGeometry(GATE.radius, GATE.radius, GATE.height, 6).rotateX(Math.PI / 2).translate(0, 0, GATE.height / 2)
  const post = new InstancedMesh(shape, new MeshBasicMaterial({ color: palette.roadEdge }), places.length)
  const rim = new InstancedMesh(shape, new MeshBasicMaterial({ color: palette.ink, side: BackSide }), places.length)
  for (const [i, [x, y, z]] of places.entries()) {
    post.setMatrixAt(i, new Matrix4().setPosition(x, y, z))
    rim.setMatrixAt(i, new Matrix4().makeScale(1.7, 1.7, 1.03).setPosition(x, y, z))
  }
  return group.add(rim, post)
}

const overlaysOf = (plan: Plan, origin: RoadMesh['origin'], palette: Palette) => {
  const { circuit } = plan
  const offset = (s: number): number => offsetOn(plan, s)
  const all = [...circuit.s_m, ...(circuit.open ? [] : [0])]
  // Planned is dashed: three stations drawn, two left out.
  const line = painted(
    bandOn(plan, all, offset, RIBBON_M / 2, origin, (k) => k % 5 < 3),
    palette.planned,
  )
  const stretches = brakedStretches(plan).map(([from, to]) => bandOn(plan, stationsFrom(plan, from, to), offset, BRAKING_M / 2, origin))
  const braking = painted(joined(stretches), palette.roadEdge, 0.42)
  const crossings = plan.marks
    .filter((m) => gates.has(m.kind))
    .map(({ station_m }) => {
      const at = Math.round(station_m / circuit.step_m) % circuit.count
      const half = (circuit.widthLeft_m[at] + circuit.widthRight_m[at]) / 2
      return { station_m, half, middle: (circuit.widthLeft_m[at] - circuit.widthRight_m[at]) / 2 }
    })
  const bars = crossings.map(({ station_m, half, middle }) =>
    bandOn(plan, [station_m - BAR_M / 2, station_m + BAR_M / 2], () => middle, half, origin),
  )
  const feet = crossings.flatMap(({ station_m, half, middle }) =>
    [middle + half, middle - half].map((edge) => {
      const { x_m, y_m } = placeAt(circuit, station_m, edge)
      return [x_m - origin[0], y_m - origin[1], heightAt(circuit, station_m, edge) - origin[2]] as const
    }),
  )
  const marks = new Group().add(painted(joined(bars), palette.roadEdge), postsAt(feet, palette))
  return { line, braking, marks }
}

/** The path of a driven lap. */
const drivenOn = (plan: Plan, { offset_m }: SeatDrive, origin: RoadMesh['origin'], palette: Palette): Mesh => {
  const { circuit } = plan
  const at = (s: number): number => offset_m[Math.round(s / circuit.step_m) % circuit.count]
  return painted(bandOn(plan, [...circuit.s_m, ...(circuit.open ? [] : [0])], at, DRIVEN_M / 2, origin), palette.roadEdge)
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

/** True where pictures are computed by the processor: edges are then drawn as they fall, so that enough pictures a second remain. */
const isSoftware = (): boolean => {
  const gl = document.createElement('canvas').getContext('webgl2')
  const told = gl?.getExtension('WEBGL_debug_renderer_info')
  const name = gl && told ? String(gl.getParameter(told.UNMASKED_RENDERER_WEBGL)) : ''
  gl?.getExtension('WEBGL_lose_context')?.loseContext()
  return /swiftshader|llvmpipe|software|basic render/i.test(name)
}

/** Light without a colour of its own: surfaces keep theirs. */
const WHITE = new Color(1, 1, 1)

/** What a scene is made from. */
export type SeatSource = {
  plan: Plan
  mesh: RoadMesh
  palette: Palette
  visibility: Visibility
  /** A lap that was driven: its path on the road, solid. */
  driven?: SeatDrive | undefined
}

/**
 * Draws a road from an eye into a canvas. The scene knows nothing but mesh, cones and plan; what lies beyond the verges is the plain colour
 * of land. `draw` costs the chunks in sight. @throws Error where there is no WebGL
 */
export const seatScene = (canvas: HTMLCanvasElement, { plan, mesh, palette, visibility, driven }: SeatSource) => {
  const software = isSoftware()
  const renderer = new WebGLRenderer({ canvas, antialias: !software, powerPreference: 'high-performance' })
  renderer.setPixelRatio(software ? 1 : Math.min(2, window.devicePixelRatio))
  const scene = new Scene()
  const sky = new Color(palette.sheet)
  scene.background = sky
  const { far_m } = visibility
  scene.fog = new Fog(sky, Math.min(far_m * 0.35, 500), far_m)
  scene.add(new HemisphereLight(WHITE, palette.verge, 2.2))
  const sun = new DirectionalLight(WHITE, 1.1)
  sun.position.set(0.4, 0.3, 1)
  scene.add(sun)
  const land = new Mesh(new CircleGeometry(6000, 48), new MeshBasicMaterial({ color: palette.verge, depthWrite: false, depthTest: false }))
  land.renderOrder = -1
  scene.add(land)
  const road = roadOf(mesh, materialsOf(palette))
  const overlays = overlaysOf(plan, mesh.origin, palette)
  let laid = new Group()
  let out: readonly Cone[] = []
  scene.add(road.group, overlays.line, overlays.braking, overlays.marks, laid)
  if (driven) scene.add(drivenOn(plan, driven, mesh.origin, palette))
  const ghost = ghostOf(palette)
  scene.add(ghost)
  const camera = new PerspectiveCamera((VISOR_RAD * 180) / Math.PI, 1.6, 0.2, Math.max(far_m, 400) + 200)
  camera.up.set(0, 0, 1)
  return {
    resize: (width: number, height: number): void => {
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
    draw: (eye: Eye): void => {
      const [x, y, z] = [eye.x_m - mesh.origin[0], eye.y_m - mesh.origin[1], eye.z_m - mesh.origin[2]]
      camera.position.set(x, y, z)
      const level = Math.cos(eye.pitch_rad)
      camera.lookAt(x + level * Math.cos(eye.heading_rad), y + level * Math.sin(eye.heading_rad), z + Math.sin(eye.pitch_rad))
      // Land reaches to the horizon below the eye, behind all that is known.
      land.position.set(x, y, z - 3)
      road.choose(x, y, far_m)
      renderer.render(scene, camera)
    },
    dispose: (): void => {
      scene.traverse((object) => {
        if (object instanceof Mesh) {
          object.geometry.dispose()
          for (const material of [object.material].flat()) material.dispose()
        }
      })
      renderer.dispose()
    },
  }
}
export type SeatScene = ReturnType<typeof seatScene>
