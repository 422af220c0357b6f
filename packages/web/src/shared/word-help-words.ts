/** Words of the trade or of this program that are explained where they stand: the word, what it is, what to do with it. */
import { say } from '../language/say.ts'
export const explained = {
  price: [
    say`Price`,
    say`What 1 m/s more at this corner’s exit is worth, in seconds, until the speeds meet again or the next brake point ends it. Work first on the corner with the highest price.`,
  ],
  grace: [
    say`Grace`,
    say`How much later the car could brake with 90% of full grip and still make turn-in at the planned speed, with the throttle kept until then, in metres and seconds. Below 0.5 s it is called tight and no later braking is advised; below 0.25 s it is a warning.`,
  ],
  'straight-on': [
    say`Straight on`,
    say`Checks whether a car that brakes late and goes straight on stops within road and run-off. It is worked out for braking 0.5, 1 and 1.5 s late; 1 s decides.`,
  ],
  sight: [
    say`Sight`,
    say`How many seconds before a mark the driver can see a cone there, from eye height over crests and past banks. Under 3 s add a sighter or a call.`,
  ],
  sighter: [
    say`Sighter`,
    say`A cone that stands in view before a mark that comes into sight too late. It tells the student where to look, not where to act.`,
  ],
  sacrifice: [
    say`Sacrifice corner`,
    say`A corner where a little time is given up to be placed right for the next one, which is worth more. Slow in, wide for the next.`,
  ],
  'entry-exit': [
    say`Entry or exit corner`,
    say`Whether time is gained by braking later or by leaving faster, by comparing both in seconds. You can overrule it.`,
  ],
  'braking-style': [
    say`Braking style`,
    say`Where braking ends: before turn-in (straight), with a light brake carried in (blend), or easing to the apex (trail). It moves marks and cones, changes the calls, and decides which mistakes count.`,
  ],
  pace: [
    say`Pace`,
    say`The share of the car’s grip that the plan uses: 60% is the building pace. The higher it is, the later and faster every mark; nothing here goes above the limit of 92% in the dry, less in damp and wet.`,
  ],
  root: [
    say`Root`,
    say`The mistake that explains the others in the same corner, furthest upstream. Put it right and the ones folded under it usually go too.`,
  ],
  margin: [
    say`Costs margin`,
    say`A mistake that costs little time but safety room: late braking, running wide, a wheel over the edge. It is weighed in the same scale as seconds.`,
  ],
  certain: [
    say`Sure, likely`,
    say`How probable it is that the mistake is real, given the log’s noise and a driver’s normal scatter: sure from 90%, likely below. It says nothing about how bad it is.`,
  ],
  undecidable: [
    say`Cannot tell`,
    say`The log is too coarse or lacks a channel, so neither a mistake nor a clean corner can be claimed. A faster receiver or recorded pedals would help.`,
  ],
  'time-to-find': [
    say`Time to find`,
    say`The student’s best lap minus a lap joined from their own best pieces, where place and speed match. It is time they have already shown they can drive.`,
  ],
  held: [say`What held`, say`Mistakes that went away during the run, and marks that repeat on lap after lap. Say it first.`],
  stuck: [
    say`Stuck`,
    say`The next two times through that corner were free of the mistake after it was corrected. Until both are driven it counts as open.`,
  ],
  focus: [
    say`Focus`,
    say`The one mistake at one corner to work on next, chosen by safety, how often, what it costs, and whether corrections stick. Set another if you know better.`,
  ],
  level: [
    say`Level`,
    say`First day, building or steady: it sets cones and reaction times. The record proposes the next level; an instructor confirms it.`,
  ],
  landmark: [
    say`Landmark`,
    say`Something that is always there: a seam, a patch, a post, the end of a kerb. Cones are taken away once a student drives to it.`,
  ],
  fading: [
    say`Fading out`,
    say`From which level on a cone is left out because a landmark stands close by. Pit, no-go and sighter cones stay.`,
  ],
  'sign-off': [
    say`Sign off`,
    say`Says that you have checked these cones for today’s plan. When surface, vehicle or circuit changes, the page tells you that they are out of date.`,
  ],
  'road-position': [
    say`Road position`,
    say`Distance of the car’s middle from the centreline, left positive. The plan and the lap can be compared at every point.`,
  ],
  drift: [
    'Drift',
    say`The slow error of a satellite receiver that shifts a whole lap sideways. It is estimated from all laps and removed; with one lap it cannot be.`,
  ],
  range: [
    say`Range in brackets`,
    say`The true share lies in it nine times out of ten. Few laps make it wide, so do not read much into one number.`,
  ],
  interval: [
    say`Interval`,
    say`Seconds between cars leaving the pits, so that no gap closes under 3 s within the run. The quickest go first.`,
  ],
  'one-per-corner': [
    say`At most one thing a corner`,
    say`Three things in a debrief, one per corner, never more than a car length a lap. What is left out waits for the next run.`,
  ],
} as const satisfies Record<string, readonly [word: string, meaning: string]>

/** A word that has an explanation. */
export type ExplainedWord = keyof typeof explained
