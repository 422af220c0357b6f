import type { BriefingPart } from '@ochote/contract'
import type { ConeColour, ConeKind, ConeShape, Corner, Emergency, FirstAction, Language, MarkKind } from '@ochote/core'
import { german } from './german.ts'

/** Everything that the product itself says to a student, in one language. What the school entered stays as it is. */
export type StudentWords = {
  language: string
  marks: Record<MarkKind | ConeKind, string>
  colours: Record<ConeColour, string>
  shapes: Record<ConeShape, string>
  sides: Record<'left' | 'right' | 'inside' | 'outside', string>
  corners: Record<Corner['shape'], string>
  /** A corner in one line. */
  corner: (side: string, shape: string, radius: string, degrees: number) => string
  purposes: Record<'exit' | 'entry' | 'give-up', string>
  gear: (gear: number) => string
  before: (distance: string) => string
  after: (distance: string) => string
  reference: (distance: string | null, past: boolean, name: string) => string
  titles: {
    safety: string
    rules: (venue: string) => string
    wrong: string
    flags: string
    pits: string
    passing: string
    signals: string
    radio: string
    cones: string
    car: (vehicle: string) => string
    sighting: string
    wet: string
    paces: string
    questions: string
  }
  safety: readonly string[]
  wrong: readonly string[]
  signals: readonly string[]
  radio: readonly string[]
  wet: readonly string[]
  wetBrake: (earliest: string, corner: string) => string
  circuit: (length: string, width: string, height: string, corners: number) => string
  today: (surface: string, pace: number, top: string) => string
  surfaces: Record<'dry' | 'damp' | 'wet' | 'standing', string>
  important: (corners: string) => string
  pace: (name: string, share: number, lap: string) => string
  paceNames: Record<'sighting' | 'building' | 'steady' | 'quick', string>
  traffic: (tip: string) => string
  fromApex: string
  wait: (seconds: string) => string
  caution: string
  card: { title: string; fold: string; madeFor: (name: string) => string }
  phone: {
    hello: (name: string) => string
    aboutYou: string
    aboutNote: string
    experience: string
    car: string
    goals: string
    worries: string
    talk: string
    talks: Record<'quiet' | 'guided' | 'driven', string>
    units: string
    unitNames: Record<'metric' | 'imperial', string>
    tongue: string
    keep: string
    kept: string
    briefing: string
    parts: Record<BriefingPart, string>
    read: string
    readAt: (time: string) => string
    radioAsk: string
    radioHeard: string
    quiz: string
    quizNote: string
    begin: string
    next: string
    more: string
    right: string
    wrong: string
    rightIs: string
    offBy: (distance: string, early: boolean) => string
    orderNote: string
    placeNote: string
    sure: string
    done: (right: number, asked: number) => string
    yours: string
  }
  quiz: {
    firstCone: (corner: string) => string
    meaning: string
    flag: (meaning: string) => string
    nextCorner: (corner: string) => string
    gear: (corner: string) => string
    reference: (corner: string) => string
    emergency: Record<Emergency, string>
    action: Record<FirstAction, string>
    order: string
    place: (mark: string, corner: string) => string
  }
}

/** English, the language of whoever did not choose. */
const english: StudentWords = {
  language: 'English',
  marks: {
    lift: 'Lift',
    brake: 'Brake',
    release: 'Release',
    'turn-in': 'Turn-in',
    apex: 'Apex',
    slowest: 'Slowest',
    throttle: 'Throttle',
    'full-throttle': 'Full throttle',
    exit: 'Exit',
    sighter: 'Sighter',
    'pit-lane': 'Pit lane',
    'no-go': 'No-go',
  },
  colours: { yellow: 'yellow', blue: 'blue', white: 'white', pink: 'pink', orange: 'orange', green: 'green' },
  shapes: { tall: 'tall cone', disc: 'low disc', arrow: 'flat arrow' },
  sides: { left: 'left', right: 'right', inside: 'on the inside', outside: 'on the outside' },
  corners: {
    hairpin: 'hairpin',
    square: 'corner',
    sweeper: 'sweeper',
    kink: 'kink',
    tightening: 'tightening corner',
    opening: 'opening corner',
    'double-apex': 'double apex',
  },
  corner: (side, shape, radius, degrees) => `${side[0].toUpperCase()}${side.slice(1)} ${shape}, radius ${radius}, turns ${degrees}°`,
  purposes: {
    exit: 'An exit corner: patient in, strong out.',
    entry: 'An entry corner: speed is won on the way in.',
    'give-up': 'A corner to give up: place the car for the next one.',
  },
  gear: (gear) => `gear ${gear}`,
  before: (distance) => `${distance} before`,
  after: (distance) => `${distance} after`,
  reference: (distance, past, name) => (distance === null ? `at: ${name}` : `${distance} ${past ? 'past' : 'before'}: ${name}`),
  titles: {
    safety: 'Safety first',
    rules: (venue) => `Rules at ${venue}`,
    wrong: 'When it goes wrong',
    flags: 'Flags used here',
    pits: 'Out of the pits and in again',
    passing: 'Passing',
    signals: 'Signals in the car',
    radio: 'Radio check',
    cones: 'What the cones mean',
    car: (vehicle) => `The car: ${vehicle}`,
    sighting: 'The sighting lap',
    wet: 'What changes in the wet',
    paces: 'Pace steps today',
    questions: 'Asked so far',
  },
  safety: [
    'Track driving can kill. Nobody has to go faster than they want.',
    'The instructor in the car decides. Marshals and the venue’s rules stand above any plan.',
    'Marks and cones are estimates: we drive them slowly first.',
  ],
  wrong: [
    'Missed the braking point: stay off the inside, straighten, use the run-off.',
    'Locked a wheel: ease the brake, then press again.',
    'Going off: a straight line off is better than a spin across. Wheel straight, then brake.',
    'The instructor’s hand on the wheel means: leave your hands, let me help.',
  ],
  signals: ['The instructor’s hand on the wheel: leave your hands, let me help.', 'Your open hand raised: I want to slow down.'],
  radio: ['Everybody answers “heard” before anybody rolls.', 'Radio silent on the lap: go on by the cones, come in at the end of it.'],
  wet: [
    'Painted lines and kerbs are like ice: no wheel on them.',
    'Another line: off the dark, rubbered band.',
    'Brake earlier and softer, gears earlier, wheel and pedals slower.',
  ],
  wetBrake: (earliest, corner) => `Brake marks move up to ${earliest} earlier, most at ${corner}.`,
  circuit: (length, width, height, corners) => `${length} long, ${width} wide, ${height} of height, ${corners} corners`,
  today: (surface, pace, top) => `Today ${surface}, at ${pace} % of the grip; up to ${top}`,
  surfaces: { dry: 'dry', damp: 'damp', wet: 'wet', standing: 'with standing water' },
  important: (corners) => `Exits that matter most: ${corners}`,
  pace: (name, share, lap) => `${name}: ${share} % of the grip, about ${lap} a lap`,
  paceNames: { sighting: 'Sighting', building: 'Building', steady: 'Steady', quick: 'Quick' },
  traffic: (tip) => `Traffic: ${tip}`,
  fromApex: 'Distances are along the road, from the apex.',
  wait: (seconds) => `wait ${seconds} s from the cone`,
  caution:
    'Estimates by a simple model, to be driven slowly first. The instructor in the car decides; the venue’s rules stand above the plan. Never for public roads.',
  card: { title: 'Pocket card', fold: 'other side', madeFor: (name) => `for ${name}` },
  phone: {
    hello: (name) => `Hello ${name}`,
    aboutYou: 'About you',
    aboutNote: 'Only what you want to tell. Empty a field and keep: it is erased.',
    experience: 'What you have driven so far',
    car: 'Your car',
    goals: 'What you want from the day',
    worries: 'Corners that feel wrong',
    talk: 'How much talk helps in the car',
    talks: { quiet: 'Quiet: tell me afterwards', guided: 'One reminder a corner', driven: 'Call every action' },
    units: 'Units',
    unitNames: { metric: 'km/h, metres', imperial: 'mph, feet' },
    tongue: 'Language of calls and papers',
    keep: 'Keep this',
    kept: 'Kept.',
    briefing: 'The briefing',
    parts: {
      safety: 'Safety and rules',
      flags: 'Flags',
      pits: 'Pits and passing',
      signals: 'Signals and radio',
      cones: 'Cones',
      car: 'The car',
      circuit: 'The circuit',
    },
    read: 'I have heard and understood this',
    readAt: (time) => `acknowledged at ${time}`,
    radioAsk: 'Answer when you hear yourself called',
    radioHeard: 'Heard',
    quiz: 'What do you remember?',
    quizNote: 'A few questions. What was missed comes back.',
    begin: 'Begin',
    next: 'Next',
    more: 'More questions',
    right: 'Right.',
    wrong: 'Not quite.',
    rightIs: 'Right is:',
    offBy: (distance, early) => `Your place is ${distance} too ${early ? 'early' : 'late'}.`,
    orderNote: 'Tap them in the order in which you meet them from the start line.',
    placeNote: 'Tap the place on the road. You drive in the direction of the arrows.',
    sure: 'Sure',
    done: (right, asked) => `${right} of ${asked} right so far`,
    yours: 'This page is yours alone. Your school can withdraw it; what you tell can be erased.',
  },
  quiz: {
    firstCone: (corner) => `Which cone comes first at ${corner}?`,
    meaning: 'What does this cone mean?',
    flag: (meaning) => `Which flag means: ${meaning}`,
    nextCorner: (corner) => `Which corner follows ${corner}?`,
    gear: (corner) => `In which gear do you turn in at ${corner}?`,
    reference: (corner) => `What lasting thing stands near the brake mark of ${corner}?`,
    emergency: {
      'missed-brake': 'You missed the braking point. What first?',
      'locked-wheel': 'A wheel locks under braking. What first?',
      'going-off': 'You will go off. What first?',
      'hand-on-wheel': 'The instructor’s hand takes the wheel. What do you do?',
    },
    action: {
      straighten: 'Stay off the inside, straighten, use the run-off',
      ease: 'Ease the brake, then press again',
      'wheel-straight': 'Wheel straight, then brake: a straight line off',
      'hands-still': 'Leave your hands, let them help',
    },
    order: 'Put these corners in order.',
    place: (mark, corner) => `Where is the ${mark.toLowerCase()} mark of ${corner}?`,
  },
}

const all: Record<Language, StudentWords> = { en: english, de: german }

/** The words of a language; English where none was chosen. */
export const wordsIn = (language: Language | null | undefined): StudentWords => all[language ?? 'en']
