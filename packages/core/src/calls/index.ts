export { phraseBooks } from './books/index.ts'
export {
  type Call,
  type CallEdit,
  type CallEdits,
  type CallOptions,
  type CallSheet,
  type CallTiming,
  callKey,
  callSheet,
  type DroppedCall,
  inCarTiming,
  intensityCaps,
  radioTiming,
} from './call-sheet.ts'
export { type CalledLap, type Cue, cuesOf } from './cues.ts'
export {
  bookFor,
  type CallsFor,
  type CallsOfDay,
  type CallWish,
  type CallWork,
  callsFor,
  callWishesOf,
  callWishOf,
  timingOf,
} from './day-calls.ts'
export {
  type CallKind,
  callKinds,
  checkPhraseBook,
  type Phrase,
  type PhraseBook,
  type PhraseCase,
  type PhraseProblem,
  type Phrases,
  phraseCases,
  phraseFor,
  placeholders,
} from './phrases.ts'
export {
  planCalls,
  type Stretch,
  tightCorners,
  tooFastToSpeak,
  type UnspeakableForm,
  unspeakableForms,
} from './plan-calls.ts'
export { judgePractice, type PracticedCall } from './practice.ts'
