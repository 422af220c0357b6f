import type { Broken, CostPart, DayRuleName, DaySetup, Ease, FormatKind, Load, ReliefKind } from '@ochote/core'
import { say } from '../../language/say.ts'

/** Names of what people do on a day. */
export const formatNames: Record<FormatKind, string> = {
  briefing: say`Briefing`,
  walk: say`Walk of the circuit`,
  sighting: say`Sighting laps`,
  'ride-along': say`Ride-along`,
  'lead-follow': say`Lead-follow`,
  'group-session': say`Group session`,
  released: say`Released one by one`,
  pad: say`Pad exercise`,
  'wet-pad': say`Wet exercise`,
  classroom: say`Classroom`,
}

/** What something of the day is called: by the school, or by its kind. */
export const formatName = ({ kind, name }: { kind: FormatKind; name?: string | undefined }): string => name || formatNames[kind]

/** The same on a bar of twenty minutes. */
export const shortFormatNames: Record<FormatKind, string> = {
  briefing: say`Intro`,
  walk: say`Walk`,
  sighting: say`Look`,
  'ride-along': say`Ride`,
  'lead-follow': say`Follow`,
  'group-session': say`Group`,
  released: say`Single`,
  pad: say`Pad`,
  'wet-pad': say`Wet`,
  classroom: say`Class`,
}

export const loadNames: Record<Load['what'], string> = {
  instructors: say`Instructors`,
  track: say`Track`,
  pad: say`Pad`,
  classroom: say`Classroom`,
  cars: say`Cars`,
}

export const costNames: Record<CostPart, string> = {
  waiting: say`waiting`,
  otherInstructor: say`another instructor`,
  wish: say`wishes not met`,
  leftOut: say`left out`,
  moved: say`moved from what was announced`,
  rest: say`instructors without rest`,
  unevenLoad: say`uneven load of instructors`,
  groupChange: say`changes of group on the track`,
  unevenLaps: say`uneven laps`,
  wrongWeather: say`exercises in the wrong weather`,
}

/** Rules as they clash, each as part of a list. */
export const reliefNames: Record<ReliefKind, string> = {
  order: say`the order of exercises`,
  rest: say`the rest between two drives`,
  leaving: say`the time before an early departure`,
  lunch: say`lunch`,
  'sighting-first': say`sighting laps before any drive`,
  'cars-out': say`how many cars may be out`,
  cooling: say`the cars’ cooling`,
  'who-may-drive': say`who may drive which car`,
  breaks: say`the instructors’ breaks`,
  'who-teaches': say`who teaches which group`,
  'one-group': say`one group on the track at a time`,
  'briefing-first': say`the briefing before any drive`,
  presence: say`late arrivals and early departures`,
  hours: say`the instructors’ hours`,
  'car-number': say`the number of cars`,
  'track-time': say`the hours of the track`,
  'instructor-time': say`the number of instructors`,
}

/** Hard rules as they are broken, after a time and a name. */
export const brokenNames: Record<DayRuleName, string> = {
  unknown: say`is not in the day any more`,
  times: say`does not fit the day’s times`,
  seats: say`has too many or too few in it`,
  group: say`is in another group`,
  'place-closed': say`is closed then`,
  'place-twice': say`is taken twice`,
  'groups-mixed': say`meets another group on the track`,
  'student-away': say`is not there then`,
  'student-twice': say`is in two places`,
  rest: say`has too little rest between two drives`,
  leaving: say`drives too shortly before leaving`,
  order: say`does things in the wrong order`,
  'briefing-first': say`has had no briefing by then`,
  'sighting-first': say`has had no sighting laps by then`,
  lunch: say`has no time for lunch`,
  'instructor-away': say`is away, has a break, or is missing`,
  'instructor-twice': say`is needed twice`,
  'instructor-group': say`does not teach this group`,
  'instructor-car': say`does not teach in this car`,
  'instructor-language': say`does not speak the student’s language`,
  'car-missing': say`has no car`,
  'car-not-allowed': say`may not drive this car`,
  'car-out': say`is out of use then`,
  'car-twice': say`is used twice, or has not cooled down`,
  fuel: say`runs out of fuel`,
  'cars-out': say`has too many cars out`,
  helmets: say`helmets are too few`,
  radios: say`are too few`,
  loggers: say`are too few`,
  'before-now': say`would have begun already`,
  'fixed-time': say`is held at another time`,
}

type EaseOfDay = Omit<Ease, 'share'>

const easeName = ({ kind, minutes, formatId }: EaseOfDay, nameOf: (formatId: string) => string): string => {
  const name = formatId === undefined ? '' : nameOf(formatId)
  switch (kind) {
    case 'instructor':
      return say`one more instructor`
    case 'car':
      return say`one more car`
    case 'longer-day':
      return say`${minutes} minutes more`
    case 'shorter-rides':
      return say`${name} ${minutes} minutes shorter`
    case 'fewer-wants':
      return say`${name} once less`
  }
}

/** What would ease a full day, as advice: with how full it would be. */
export const easeInWords = (ease: Ease, nameOf: (formatId: string) => string): string =>
  say`${easeName(ease, nameOf)}: ${Math.round(100 * ease.share)}%`

/** A change of the day, or a rule that is given up. */
export const reliefInWords = (what: EaseOfDay | ReliefKind, nameOf: (formatId: string) => string): string =>
  typeof what === 'string' ? say`without ${reliefNames[what]}` : easeName(what, nameOf)

/** Name of a format of a day, by its id. */
export const nameOfFormat = (setup: Pick<DaySetup, 'formats'>, formatId: string): string => {
  const format = setup.formats.find((f) => f.id === formatId)
  return format ? formatName(format) : formatId
}

/** Broken rules, each told once for whom it concerns, with its times. */
export const brokenInWords = (broken: readonly Broken[], nameOf: (id: string) => string): string[] => {
  const times = new Map<string, Set<string>>()
  for (const { at, who, rule } of broken) {
    const words = say`${nameOf(who)}: ${brokenNames[rule]}`
    times.set(words, (times.get(words) ?? new Set()).add(at))
  }
  return [...times].map(([words, at]) => `${words} (${[...at].sort().join(', ')})`)
}
