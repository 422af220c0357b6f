/** What a hand-over says, in one language; counts come as whole numbers, shares as `{ hits, of }`, paces and shares of corners as 0 … 1. */
export type HandOverWords = {
  head: (of: {
    name: string
    level: string
    talk: 'quiet' | 'guided' | 'driven'
    runs: number
    days: number
    laps: number
    pace: number
  }) => string
  wants: (goals: string) => string
  uneasy: (corners: string) => string
  safety: (mistakes: string) => string
  at: (mistake: string, corner: string) => string
  focus: (of: { first: boolean; corner: string; mistake: string; times: number; runs: number; correction: string }) => string
  seldomSticks: (rate: string) => string
  rate: (of: { hits: number; of: number }) => string
  works: (words: string, rate: string) => string
  fails: (words: string, rate: string) => string
  shown: (skills: string) => string
  nearest: (skill: string, corner: string, rate: string) => string
  forgot: (of: { days: number; from: number; to: number; clear: boolean; backAfter: number | null }) => string
  fewLaps: string
  /** A name as it stands inside a sentence. */
  inside: (name: string) => string
  list: (words: readonly string[]) => string
}
