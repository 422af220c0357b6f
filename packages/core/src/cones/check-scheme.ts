import { distanceAhead } from '../circuit/station.ts'
import type { Cone } from './placement.ts'
import { type ConeColour, type ConeKind, type ConeScheme, coneColours } from './scheme.ts'

/** Kinds of colour vision: the usual one and the three common deficiencies. */
export const colourVisions = ['usual', 'protan', 'deutan', 'tritan'] as const
export type ColourVision = (typeof colourVisions)[number]

type Triple = readonly [number, number, number]
type Matrix = readonly [Triple, Triple, Triple]

/**
 * Linear RGB as it is seen with a complete deficiency.
 * Source: Machado, Oliveira & Fernandes (2009), A Physiologically-based Model for Simulation of Color Vision Deficiency, severity 1.0.
 */
const simulation: Record<Exclude<ColourVision, 'usual'>, Matrix> = {
  protan: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deutan: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  tritan: [
    [1.255528, -0.076749, -0.178779],
    [-0.078411, 0.930809, 0.147602],
    [0.004733, 0.691367, 0.3039],
  ],
}

const times = (m: Matrix, v: Triple): Triple => [
  m[0][0] * v[0] + m[0][1] * v[1] + m[0][2] * v[2],
  m[1][0] * v[0] + m[1][1] * v[1] + m[1][2] * v[2],
  m[2][0] * v[0] + m[2][1] * v[1] + m[2][2] * v[2],
]

const linear = (hex: string): Triple => {
  const channel = (at: number): number => {
    const c = Number.parseInt(hex.slice(at, at + 2), 16) / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  }
  return [channel(1), channel(3), channel(5)]
}

/** CIE L*a*b* (D65) of linear sRGB. Source: IEC 61966-2-1, CIE 15. */
const toLab = (rgb: Triple): Triple => {
  const clamped = rgb.map((c) => Math.min(1, Math.max(0, c))) as unknown as Triple
  const xyz = times(
    [
      [0.4124564, 0.3575761, 0.1804375],
      [0.2126729, 0.7151522, 0.072175],
      [0.0193339, 0.119192, 0.9503041],
    ],
    clamped,
  )
  const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : (24389 / 27 / 116) * t + 16 / 116)
  const [x, y, z] = [f(xyz[0] / 0.95047), f(xyz[1]), f(xyz[2] / 1.08883)]
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)]
}

/** Difference of two paints (`#rrggbb`) to a kind of colour vision: CIE76 distance; 100 is black against white. */
export const colourDifference = (one: string, other: string, vision: ColourVision): number => {
  const seen = (hex: string): Triple => toLab(vision === 'usual' ? linear(hex) : times(simulation[vision], linear(hex)))
  const [a, b] = [seen(one), seen(other)]
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
}

/** Paints nearer than this are taken for one another at a distance in bad light. */
export const MIN_DIFFERENCE = 25

/** A misleading feature of a scheme. `visions`: kinds of colour vision to which two colours look alike. */
export type SchemeProblem =
  | { kind: 'no-brake-cone' }
  | { kind: 'alike'; marks: readonly [ConeKind, ConeKind] }
  | {
      kind: 'colours-alike'
      marks: readonly [ConeKind, ConeKind]
      colours: readonly [ConeColour, ConeColour]
      visions: ColourVision[]
      difference: number
    }
  | { kind: 'reserved-colour'; mark: ConeKind; colour: ConeColour }

/**
 * Checks a scheme for what goes wrong with cones: none for braking, two kinds of mark that look the same, colours that somebody
 * cannot tell apart where shape and count do not help either, and colours that the venue reserves for pits and hazards.
 */
export const checkScheme = (scheme: ConeScheme, reserved: readonly ConeColour[] = []): SchemeProblem[] => {
  const problems: SchemeProblem[] = []
  const rules = Object.entries(scheme.rules) as [ConeKind, NonNullable<ConeScheme['rules'][ConeKind]>][]
  if (!scheme.rules.brake) problems.push({ kind: 'no-brake-cone' })
  for (const [mark, rule] of rules)
    if (reserved.includes(rule.colour) && mark !== 'pit-lane' && mark !== 'no-go')
      problems.push({ kind: 'reserved-colour', mark, colour: rule.colour })
  for (let i = 0; i < rules.length; i++)
    for (let j = i + 1; j < rules.length; j++) {
      const [[one, a], [other, b]] = [rules[i], rules[j]]
      // Another shape, another count or another side of the road tells them apart whatever the colours.
      if (a.shape !== b.shape || a.count !== b.count || a.side !== b.side) continue
      if (a.colour === b.colour) {
        problems.push({ kind: 'alike', marks: [one, other] })
        continue
      }
      const differences = colourVisions.map((vision) => ({
        vision,
        difference: colourDifference(coneColours[a.colour], coneColours[b.colour], vision),
      }))
      const alike = differences.filter((d) => d.difference < MIN_DIFFERENCE)
      if (alike.length > 0)
        problems.push({
          kind: 'colours-alike',
          marks: [one, other],
          colours: [a.colour, b.colour],
          visions: alike.map((d) => d.vision),
          difference: Math.min(...alike.map((d) => d.difference)),
        })
    }
  return problems
}

/** Distance along the road within which cones are in one view (m). */
const ONE_VIEW_M = 60

/** Two meanings of one colour in one view. `places`: where, the nearest pair first. */
export type SameView = {
  colour: ConeColour
  kinds: readonly [ConeKind, ConeKind]
  sameShape: boolean
  places: { cornerId: string; separation_m: number }[]
}

/** Cones of one colour but two meanings that are seen together, by pair of meanings; those of one shape too come first. */
export const sameViews = (cones: readonly Cone[], length_m: number): SameView[] => {
  const found = new Map<string, SameView>()
  for (const cone of cones)
    for (const other of cones) {
      const separation_m = distanceAhead(cone.station_m, other.station_m, length_m)
      if (cone === other || cone.kind === other.kind || cone.colour !== other.colour || separation_m > ONE_VIEW_M) continue
      const kinds = [cone.kind, other.kind].sort() as [ConeKind, ConeKind]
      const key = `${cone.colour} ${kinds.join(' ')} ${cone.shape === other.shape}`
      const view = found.get(key) ?? { colour: cone.colour, kinds, sameShape: cone.shape === other.shape, places: [] }
      if (!view.places.some((p) => p.cornerId === other.cornerId)) view.places.push({ cornerId: other.cornerId, separation_m })
      found.set(key, view)
    }
  for (const view of found.values()) view.places.sort((a, b) => a.separation_m - b.separation_m)
  return [...found.values()].sort((a, b) => Number(b.sameShape) - Number(a.sameShape) || b.places.length - a.places.length)
}
