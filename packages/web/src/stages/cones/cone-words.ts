import type { ColourVision, ConeConflict, ConeMove, DroppedGroup, HiddenMark, SameView, SchemeProblem, Unplaced } from '@ochote/core'
import { inside, say } from '../../language/say.ts'
import { fineMetres, metres } from '../../language/staff-units.ts'
import { staffWords } from '../../shared/language/staff-words.ts'
import { coneNames } from '../../shared/marks/mark-words.ts'

const visionWords: Record<ColourVision, string> = {
  usual: say`anyone`,
  protan: say`someone who cannot see red`,
  deutan: say`someone who cannot see green`,
  tritan: say`someone who cannot see blue`,
}

/** A problem of a scheme in one sentence. */
export const schemeProblemInWords = (problem: SchemeProblem): string => {
  switch (problem.kind) {
    case 'no-brake-cone':
      return say`No cone marks the braking point: students would brake by feel. Give the scheme a brake cone, or tell them by which landmark they brake.`
    case 'alike':
      return say`${problem.marks.map((m) => coneNames[m]).join(' and ')} look the same: change colour, shape or count of one.`
    case 'colours-alike':
      return say`${problem.colours.join(' and ')} (${problem.marks.map((m) => inside(coneNames[m])).join(', ')}) look alike to ${problem.visions.map((v) => visionWords[v]).join(', ')}: give one another shape.`
    case 'reserved-colour':
      return say`${staffWords.colours[problem.colour]} is kept for pits and hazards here, yet stands for ${inside(coneNames[problem.mark])}.`
  }
}

/** Cones of one colour with two meanings in one view, in one sentence. */
export const sameViewInWords = (view: SameView, nameOf: (cornerId: string) => string): string => {
  const [nearest] = view.places
  const meanings = view.kinds.map((k) => inside(coneNames[k])).join(' and ')
  const where = nearest ? say`, nearest at ${nameOf(nearest.cornerId)} (${metres(nearest.separation_m)} apart)` : ''
  const shapes = view.sameShape ? say`of one shape too` : say`told apart by shape alone`
  return say`${staffWords.colours[view.colour]} means ${meanings} in one view at ${view.places.length} ${view.places.length === 1 ? say`place` : say`places`}, ${shapes}${where}.`
}

/** A group that found no place, in one sentence. */
export const unplacedInWords = (unplaced: Unplaced, nameOf: (cornerId: string) => string): string =>
  say`No safe place for the ${coneNames[unplaced.kind]} cone at ${nameOf(unplaced.cornerId)}: needed run-off on both sides. Give students a landmark instead.`

/** Groups left out for want of cones, in sentences by colour. */
export const droppedInWords = (dropped: readonly DroppedGroup[], nameOf: (cornerId: string) => string): string[] =>
  [...new Set(dropped.map((d) => d.colour))].map((colour) => {
    const ofColour = dropped.filter((d) => d.colour === colour)
    const list = ofColour.map((d) => say`${inside(coneNames[d.kind])} at ${nameOf(d.cornerId)}`).join(', ')
    return say`${ofColour[0].short} ${colour} ${ofColour[0].short === 1 ? say`cone is` : say`cones are`} missing. Left out, least important first: ${list}.`
  })

/** A mark in sight too late, and what helps, in one sentence. */
export const hiddenInWords = ({ cornerId, kind, time_s, helps }: HiddenMark, nameOf: (cornerId: string) => string): string => {
  const what = say`${coneNames[kind as 'brake']} at ${nameOf(cornerId)} comes into sight ${time_s.toFixed(1)} s before it`
  switch (helps) {
    case 'sighter':
      return say`${what}: a sighter stands 3 s before it, in sight itself.`
    case 'call':
      return say`${what}, and a sighter would be hidden too: call it there.`
    case 'call-for-some':
      return say`${what}. A call helps, but not for everyone: some of today’s students want less talk. Tell them before the run, or move the mark.`
    case 'neither':
      return say`${what}; neither a sighter nor a call helps there. Drive it slower, or move the mark to where it is seen.`
  }
}

const announcedWords: Record<HiddenMark['helps'], string> = {
  sighter: say`A sighter announces it.`,
  call: say`A call announces it.`,
  'call-for-some': say`A call announces it, but some of today’s students want less talk: tell them before the run.`,
  neither: say`Nothing announces it: call it, or drive it slower.`,
}

/** A cone at a place where it misleads, and what was or can be done, in one or two sentences. */
export const conflictInWords = (c: ConeConflict, nameOf: (cornerId: string) => string): string => {
  const what = say`${coneNames[c.kind]} at ${nameOf(c.cornerId)}`
  const missing = 'lost_s' in c && c.lost_s > 0.05 ? say` ${c.lost_s.toFixed(1)} s of the reaction time of this level are missing.` : ''
  switch (c.conflict) {
    case 'past-apex':
      return say`${what} stands past the apex of ${nameOf(c.otherCornerId)}, so that nobody brakes while turning there.${missing} ${announcedWords[c.helps]}`
    case 'before-apex':
      return say`${what} stands before the apex of ${nameOf(c.otherCornerId)}: somebody may brake while turning there. ${announcedWords[c.helps]}`
    case 'at-apex':
      return say`${what} stands at the apex of ${nameOf(c.otherCornerId)} and may be taken for it.${missing} ${announcedWords[c.helps]}`
    case 'too-near':
      return say`${what} and ${inside(coneNames[c.other.kind])} at ${nameOf(c.other.cornerId)} stand ${fineMetres(c.distance_m)} apart: move one of them by hand.`
    case 'run-off':
      return say`${what} was moved to where the run-off of ${nameOf(c.otherCornerId)} is needed: move it back.`
  }
}

const moveWords: Record<ConeMove, string> = {
  reaction: say`earlier by the reaction of this level`,
  shared: say`shared by several vehicles`,
  line: say`moved out, clear of a line in use`,
  'run-off': say`moved along to keep the run-off clear`,
  across: say`across the road, run-off is needed here`,
  'other-apex': say`past the apex of the corner before`,
  apart: say`moved along to stand apart from another cone`,
  nudged: say`nudged by hand`,
  locked: say`locked`,
}

/** Why a cone stands where it does, if not simply at its mark. */
export const movesInWords = (moved: readonly ConeMove[]): string => moved.map((m) => moveWords[m]).join('; ')
