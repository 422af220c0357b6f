import type { ReferenceWords } from '../reader-words.ts'

const schools = { straight: 'gerade', blend: 'auslaufend', trail: 'bis zum Scheitelpunkt' } as const
const lines = {
  smoothest: 'weichsten',
  shortest: 'kürzesten',
  fast: 'schnellsten',
  late: 'späten',
  wet: 'nassen',
  compact: 'kompakten',
} as const
const surfaces = { dry: '', damp: ', feucht', wet: ', nass', standing: ', mit stehendem Wasser' } as const

/** What a log is held against, in German. */
export const reference: ReferenceWords = {
  plan: ({ school, method, pace, surface }) =>
    `dem Plan mit Bremsweise „${schools[school]}“ auf der ${lines[method]} Linie bei ${Math.round(100 * pace)} % Tempo${surfaces[surface]}`,
  lap: (lap) => `Runde ${lap} dieser Aufzeichnung`,
  drive: (lap) => `Runde ${lap} einer anderen Fahrt`,
  why: {
    named: (name) => `Verglichen mit ${name}, wie gewählt.`,
    'quickest-lap': (name) => `Verglichen mit ${name}, der schnellsten ganzen.`,
    'plan-explains': (name) => `Verglichen mit ${name}: Das erklärt diese Fahrt von allen Bremsweisen, Linien und Tempi am besten.`,
    'no-plan-explains': (name) => `Verglichen mit ${name}, der schnellsten ganzen: Kein Plan für dieses Fahrzeug erklärt diese Fahrt.`,
    'no-vehicle': (name) => `Verglichen mit ${name}, der schnellsten ganzen: Ohne Fahrzeug gibt es keinen Plan.`,
  },
  differs: (better) =>
    `Diese Fahrt weicht in fast jeder Kurve jeder Runde vom Vergleich ab; daraus wird keine Liste von Fehlern. Besser erklärt sie sich aus ${better}.`,
}
