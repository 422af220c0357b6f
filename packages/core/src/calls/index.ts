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
  phraseBooks,
  phraseCases,
  phraseFor,
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
