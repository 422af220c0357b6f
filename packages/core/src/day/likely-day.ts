/** What it takes to guess which day somebody works on: `runs` planned, `driven` started already. */
export type DatedDay = { date: string; template: boolean; runs: number; driven: number }

/** True for a day that has still something to do. */
const isOpen = ({ runs, driven }: DatedDay): boolean => driven === 0 || driven < runs

/** The day one most likely works on: today's, else the next one with something left to drive, else the last one; never a template. */
export const likelyDay = <D extends DatedDay>(days: readonly D[], today: string): D | undefined => {
  const real = days.filter((d) => !d.template)
  const ofToday = real.filter((d) => d.date === today)
  const ahead = real.filter((d) => d.date > today && isOpen(d)).sort((a, b) => (a.date < b.date ? -1 : 1))
  return ofToday.find(isOpen) ?? ofToday[0] ?? ahead[0] ?? real.toSorted((a, b) => (a.date < b.date ? 1 : -1))[0]
}
