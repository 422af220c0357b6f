import type { SeatSurface } from '@ochote/core'
import { Color, DoubleSide, type Material, MeshBasicMaterial } from 'three'

/** Colours of the page that the picture is made of. */
export type Palette = Record<'ground' | 'sheet' | 'road' | 'roadEdge' | 'verge' | 'ink' | 'planned' | 'warn' | 'rule', string>

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

/** What stands upright keeps its colour from every side; all else is lit. */
export const upright: ReadonlySet<SeatSurface> = new Set(['wall', 'blind', 'post', 'board'])

/** The material of each surface, made once. */
export const materialsOf = (palette: Palette) => {
  const colours = coloursOf(palette)
  const made = new Map<SeatSurface, Material>()
  return (surface: SeatSurface): Material => {
    const before = made.get(surface)
    if (before) return before
    const layer = layerOf[surface] ?? 0
    const material = new MeshBasicMaterial({
      color: colours[surface],
      vertexColors: !upright.has(surface),
      side: DoubleSide,
      polygonOffset: layer > 0,
      polygonOffsetFactor: -layer,
      polygonOffsetUnits: -2 * layer,
    })
    made.set(surface, material)
    return material
  }
}
