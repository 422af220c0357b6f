import type { ReferenceWords } from '../reader-words.ts'

const schools = { straight: 'straight', blend: 'blend', trail: 'trail' } as const
const lines = { smoothest: 'smoothest', shortest: 'shortest', fast: 'fast', late: 'late', wet: 'wet', compact: 'compact' } as const

/** What a log is held against, in English. */
export const reference: ReferenceWords = {
  plan: ({ school, method, pace, surface }) =>
    `the plan in ${schools[school]} braking style on the ${lines[method]} line at ${Math.round(100 * pace)}% pace${surface === 'dry' ? '' : `, ${surface}`}`,
  lap: (lap) => `lap ${lap} of this log`,
  drive: (lap) => `lap ${lap} of another drive`,
  why: {
    named: (name) => `Held against ${name}, as chosen.`,
    'quickest-lap': (name) => `Held against ${name}, the quickest whole one.`,
    'plan-explains': (name) => `Held against ${name}: of all styles, lines and paces it explains this drive best.`,
    'no-plan-explains': (name) => `Held against ${name}, the quickest whole one: no plan for this vehicle explains this drive.`,
    'no-vehicle': (name) => `Held against ${name}, the quickest whole one: without a vehicle there is no plan.`,
  },
  differs: (better) =>
    `This drive differs from its reference at most corners of every lap, so no list of mistakes is made of it. It is better explained by ${better}.`,
}
