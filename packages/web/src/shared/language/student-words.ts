import type { ImportProgress } from '@ochote/contract'
import type {
  BriefingPart,
  ConeColour,
  ConeKind,
  ConeShape,
  Corner,
  DrillKind,
  Emergency,
  FirstAction,
  Language,
  MarkKind,
  RecallAction,
  RecallMode,
} from '@ochote/core'

/** Step of the work on a log that was sent. */
export type LogStepWords = Readonly<Record<'sending' | ImportProgress['step'], string>>

/** Everything that the product itself says to a student, in one language. What the school entered stays as it is. */
export type StudentWords = {
  code: Language
  language: string
  marks: Record<MarkKind | ConeKind, string>
  drills: Record<DrillKind, string>
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
    links: string
  }
  /** What the squares on the projector open. */
  ownPage: string
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
  /** Brakes that come a second late do not stop in time: the cure by distance, by pace (percent), by both or by none. */
  noRoom: (earlier: string | null, pace: number | null) => string
  /** A brake mark that lies before the apex of another corner. */
  beforeApex: (corner: string) => string
  /** What else belongs to a corner: traffic, other cars. */
  besides: (corner: string) => string
  caution: string
  card: { title: string; fold: string; madeFor: (name: string) => string }
  phone: {
    reading: string
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
    /** Own times of the day. */
    times: string
    noTimes: string
    /** What an announcement changed. */
    changedAt: (clock: string) => string
    noLonger: string
    isNew: string
    workOn: (corners: string) => string
    calendar: string
    withCar: (car: string) => string
    timeKinds: Record<'briefing' | 'run' | 'classroom' | 'pad' | 'break', string>
    quizNote: string
    backToPage: string
    /** The lap driven from memory. */
    memory: {
      title: string
      note: string
      offline: string
      modes: Record<RecallMode, { name: string; note: string }>
      back: (corners: number) => string
      hold: string
      actions: Record<RecallAction, string>
      keys: string
      line: string
      lineAgain: string
      stop: string
      again: string
      known: (right: number, all: number) => string
      onTheMoment: string
      off: (seconds: string, distance: string, early: boolean) => string
      missed: string
      extra: (n: number) => string
      lap: (tapped: string, planned: string) => string
      kept: string
      waiting: (n: number) => string
      comesBack: (corners: string) => string
      allKnown: string
      view: string
      seat: { drawing: string; lost: string; none: string }
    }
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
    nextForYou: string
    partsLeft: (n: number) => string
    lookBackAt: (date: string) => string
    allDone: string
    moreCharts: string
    ofAll: (at: number, all: number) => string
    drives: string
    drivesNote: string
    lookBack: string
    sheet: string
    wordsToIt: (n: number) => string
    notAnswered: string
    sendLog: string
    logSent: string
    logSteps: LogStepWords
  }
  sheet: {
    summary: (laps: number, quickest: string) => string
    noLog: string
    simulated: string
    held: string
    nothingHeld: string
    toWorkOn: string
    nothing: string
    whenRight: (cue: string) => string
    shows: (laps: number, of: number, lap: number, act: string) => string
    fromSeat: string
    drawings: string
    drawing: (corner: string) => string
    nextRun: string
    onPad: string
    padLine: (exercise: string, onTarget: number, attempts: number, said: string | null) => string
    only: (corner: string, say: string) => string
    trend: string
    day: string
    quickest: string
    findings: string
    caution: string
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
