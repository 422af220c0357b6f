import type { Measures } from '../../units/format.ts'
import type { EvidenceTable, PraiseTable } from '../reader-words.ts'

const bis = (limit: string): string => `(bis ${limit} in Ordnung)`

/** The act with its size, in German. */
export const evidence = ({ metres, fine, speed, seconds, percent }: Measures): EvidenceTable => ({
  'brake-early': { act: (e) => `${metres(e.later_m)} vor dem Bremspunkt gebremst`, allowed: (e) => bis(metres(e.allowed_m)) },
  'brake-late': { act: (e) => `${metres(e.later_m)} nach dem Bremspunkt gebremst`, allowed: (e) => bis(metres(e.allowed_m)) },
  'brake-soft': {
    act: (e) => `nur mit ${percent(e.share)} des nötigen Drucks gebremst`,
    allowed: (e) => `(ab ${percent(e.allowedShare)} in Ordnung)`,
  },
  'brake-slow-build': {
    act: (e) => `${seconds(e.build_s)} bis zum vollen Bremsdruck gebraucht`,
    allowed: (e) => bis(seconds(e.allowed_s)),
  },
  'brake-split': { act: (e) => `bis auf ${percent(e.leastShare)} gelöst und noch einmal gebremst` },
  'brake-over': { act: (e) => `auf ${speed(e.slowest_mps)} abgebremst, ${speed(e.referenceSlowest_mps)} wären gegangen` },
  'brake-hold': { act: (e) => `die Bremse ${seconds(e.held_s)} zu lange gehalten`, allowed: (e) => bis(seconds(e.allowed_s)) },
  'brake-dump': { act: (e) => `die Bremse in der Kurve schlagartig gelöst (${seconds(Math.max(0, e.fall_s), 2)})` },
  'brake-in-turn': { act: (e) => `nach dem Einlenken noch ${seconds(e.inTurn_s)} gebremst`, allowed: (e) => bis(seconds(e.allowed_s)) },
  'no-trail': { act: (e) => `die Bremse war ${seconds(e.gap_s)} vor dem Einlenken gelöst`, allowed: (e) => bis(seconds(e.allowed_s)) },
  coast: { act: (e) => `${seconds(e.coast_s)} ohne Gas und Bremse gerollt`, allowed: (e) => bis(seconds(e.allowed_s)) },
  'setup-narrow': { act: (e) => `${fine(e.short_m)} zu weit innen eingelenkt`, allowed: (e) => bis(fine(e.allowed_m)) },
  'turn-in-early': { act: (e) => `${metres(e.later_m)} zu früh eingelenkt`, allowed: (e) => bis(metres(e.allowed_m)) },
  'turn-in-late': { act: (e) => `${metres(e.later_m)} zu spät eingelenkt`, allowed: (e) => bis(metres(e.allowed_m)) },
  'apex-early': { act: (e) => `${metres(e.later_m)} zu früh innen`, allowed: (e) => bis(metres(e.allowed_m)) },
  'apex-late': { act: (e) => `${metres(e.later_m)} zu spät innen`, allowed: (e) => bis(metres(e.allowed_m)) },
  'apex-missed': { act: (e) => `${fine(e.further_m)} weiter außen am Scheitel vorbei als geplant`, allowed: (e) => bis(fine(e.allowed_m)) },
  'exit-unused': { act: (e) => `am Ausgang ${fine(e.left_m)} Breite nicht genutzt`, allowed: (e) => bis(fine(e.allowed_m)) },
  'exit-wide': {
    act: (e) =>
      e.margin_m < 0 ? `am Ausgang ${fine(e.margin_m)} über den äußeren Rand` : `am Ausgang nur noch ${fine(e.margin_m)} bis zum Rand`,
  },
  'limit-crossed': { act: (e) => `mit einem Rad ${fine(e.over_m)} über den Rand` },
  'wrong-lane': { act: (e) => `mit einem Rad ${fine(e.over_m)} außerhalb der Spur` },
  'too-much-road': { act: (e) => `${fine(e.wider_m)} weiter ausgeholt als nötig`, allowed: (e) => bis(fine(e.allowed_m)) },
  'steer-notched': { act: (e) => `in ${e.bites.toFixed(0)} Ansätzen eingelenkt` },
  'steer-pinched': { act: (e) => `nach dem Scheitel das Lenkrad ${seconds(e.held_s)} festgehalten, während das Gas kam` },
  'steer-caught': { act: (e) => `gegengelenkt, ${percent(e.againstShare)} des Lenkwinkels dieser Kurve` },
  'throttle-early': { act: (e) => `${seconds(e.later_s)} zu früh am Gas und ${percent(e.dipShare)} zurückgenommen` },
  'throttle-late': { act: (e) => `${seconds(e.later_s)} zu spät am Gas`, allowed: (e) => bis(seconds(e.allowed_s)) },
  'throttle-dip': { act: (e) => `${percent(e.dipShare)} Gas zurückgenommen`, allowed: (e) => bis(percent(e.allowedShare)) },
  'throttle-jab': { act: (e) => `das Gas in ${seconds(Math.max(0, e.rise_s), 2)} geöffnet` },
  'throttle-full-late': { act: (e) => `${metres(e.later_m)} zu spät voll am Gas`, allowed: (e) => bis(metres(e.allowed_m)) },
  'throttle-short': {
    act: (e) => `${seconds(e.short_s)} nicht voll am Gas, wo es voll sein sollte`,
    allowed: (e) => bis(seconds(e.allowed_s)),
  },
  'lift-missing': { act: () => 'ohne zu lupfen hineingefahren' },
  'lift-early': {
    act: (e) => `${metres(-e.later_m)} vor dem Punkt gelupft, bis zum Scheitel ${e.lost_s.toFixed(2).replace('.', ',')} s verloren`,
    allowed: (e) => bis(metres(-e.allowed_m)),
  },
  'lift-late': { act: (e) => `${metres(e.later_m)} nach dem Punkt gelupft`, allowed: (e) => bis(metres(e.allowed_m)) },
  'shift-early': { act: (e) => `im ${e.gear}. Gang, der ${e.referenceGear}. war dran: zu früh geschaltet` },
  'shift-late': { act: (e) => `im ${e.gear}. Gang, der ${e.referenceGear}. war dran: zu spät geschaltet` },
  'shift-slow': {
    act: (e) => `${seconds(e.pause_s)} Pause zwischen zwei Gängen, die Vorgabe ${seconds(e.referencePause_s)}`,
    allowed: (e) => bis(seconds(e.allowed_s)),
  },
  'slowest-early': {
    act: (e) => `${metres(-e.later_m)} zu früh am langsamsten, bis zur nächsten Kurve ${e.lost_s.toFixed(2).replace('.', ',')} s verloren`,
    allowed: (e) => bis(metres(-e.allowed_m)),
  },
  'slowest-late': {
    act: (e) => `${metres(e.later_m)} zu spät am langsamsten, bis zur nächsten Kurve ${e.lost_s.toFixed(2).replace('.', ',')} s verloren`,
    allowed: (e) => bis(metres(e.allowed_m)),
  },
  'wrong-gear': { act: (e) => `die Kurve im ${e.gear}. Gang gefahren, der ${e.referenceGear}. war geplant` },
  overdriving: { act: (e) => `mit ${speed(e.slowest_mps)} statt ${speed(e.referenceSlowest_mps)}` },
})

/** Praise for what held, in German. */
export const praise = ({ metres }: Measures): PraiseTable => ({
  gone: (mistake, lap) => `${mistake} bis Runde ${lap}, danach kein einziges Mal mehr.`,
  brake: (within_m, laps) => `${laps} Runden auf ${metres(within_m)} genau am selben Punkt gebremst; sonst nichts aufgefallen.`,
  turnIn: (within_m, laps) => `${laps} Runden auf ${metres(within_m)} genau am selben Punkt eingelenkt; sonst nichts aufgefallen.`,
  within: (laps) => `${laps} Runden innerhalb der Marken.`,
})
