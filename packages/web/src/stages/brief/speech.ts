/** True if this browser can speak. */
export const speechThere = (): boolean =>
  typeof window !== 'undefined' && 'speechSynthesis' in window && window.speechSynthesis !== undefined

/** Says a phrase with the browser's own voice; what was being said before stops, a late call is worse than none. */
export const sayAloud = (phrase: string, language: string, rate: number): void => {
  if (!speechThere()) return
  window.speechSynthesis.cancel()
  const words = new SpeechSynthesisUtterance(phrase)
  words.lang = language
  words.rate = Math.min(3, 1.1 * rate)
  window.speechSynthesis.speak(words)
}
