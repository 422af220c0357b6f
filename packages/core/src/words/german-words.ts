import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { Measures } from '../units/format.ts'
import { type AdviceWords, atLeastOne, carLengths } from './advice-words.ts'
import type { EvidenceWords } from './evidence-words.ts'
import type { HeldWords } from './held-words.ts'

/** Names of mistakes and what is said against them, in German. */
export const germanMistakes: Record<MistakeCode, { name: string; correction: string }> = {
  'brake-early': { name: 'Zu früh gebremst', correction: 'Gas bis zur Marke; je Runde eine Wagenlänge.' },
  'brake-late': { name: 'Zu spät gebremst', correction: 'Früher bremsen, am Kegel; der Rest ergibt sich.' },
  'brake-soft': { name: 'Zaghaft gebremst', correction: 'Das erste Drittel kräftig, dann nachlassen.' },
  'brake-over': { name: 'Zu viel Tempo weggebremst', correction: 'Weniger bremsen oder eine Länge später, und rollen lassen.' },
  'turn-in-early': { name: 'Zu früh eingelenkt', correction: 'Warten; eine Wagenlänge später.' },
  'turn-in-late': { name: 'Zu spät eingelenkt', correction: 'Früher zum Scheitel schauen.' },
  'apex-missed': { name: 'Scheitel verpasst', correction: 'Langsamer hinein, Augen zum Kegel.' },
  'exit-wide': { name: 'Am Ausgang zu weit', correction: 'Fast immer zu früh eingelenkt: warten.' },
  'steer-notched': { name: 'In Stufen gelenkt', correction: 'Einmal lenken, langsam und wachsend.' },
  'throttle-early': { name: 'Zu früh am Gas', correction: 'Warten, dann einmal.' },
  'throttle-late': { name: 'Zu spät am Gas', correction: 'Früher ruhig ans Gas.' },
  'eyes-near': { name: 'Blick zu nah', correction: 'Augen zum Ausgang, bevor sich das Lenkrad bewegt.' },
  'lock-up': { name: 'Ein Rad blockiert', correction: 'Lösen und neu bremsen; erst drücken, dann pressen.' },
  tense: { name: 'Verkrampft', correction: 'Auf der Geraden ausatmen; lockere Hände.' },
  'brake-slow-build': { name: 'Bremse zu langsam aufgebaut', correction: 'Früher zudrücken, nicht länger.' },
  'brake-split': { name: 'Zweimal gebremst', correction: 'Ein Druck.' },
  'brake-hold': { name: 'Bremse zu lange gehalten', correction: 'Bis zur vereinbarten Marke loslassen.' },
  'brake-dump': { name: 'Bremse fallen gelassen', correction: 'Nachlassen, während das Lenkrad einschlägt.' },
  'brake-in-turn': { name: 'In der Kurve gebremst', correction: 'Fertig sein, bevor sich das Lenkrad bewegt.' },
  'no-trail': { name: 'Bremse zu früh gelöst', correction: 'Einen Rest bis zum Scheitel behalten.' },
  coast: { name: 'Gerollt', correction: 'Später bremsen oder ruhig am Gas bleiben.' },
  'setup-narrow': { name: 'Davor zu eng', correction: 'Die Straße vor der Kurve nutzen.' },
  'apex-early': { name: 'Scheitel zu früh', correction: 'Das kommt vom Einlenken: warten.' },
  'apex-late': { name: 'Scheitel zu spät', correction: 'Am Kegel einlenken, Augen zum Scheitel.' },
  'exit-unused': { name: 'Ausgang nicht genutzt', correction: 'Öffnen, das Auto hinauslaufen lassen.' },
  'limit-crossed': { name: 'Über die Grenze der Straße', correction: 'Innerhalb der Linien; langsamer zurück.' },
  'wrong-lane': { name: 'Nicht in der Spur', correction: 'Zurück in die vereinbarte Spur.' },
  'too-much-road': { name: 'Weiter als es nützt', correction: 'Der kürzere Weg.' },
  'steer-pinched': { name: 'Nach dem Scheitel festgehalten', correction: 'Lenkrad auf; Gas und Lenkrad tauschen.' },
  'steer-caught': { name: 'Rutscher gefangen', correction: 'Dorthin schauen, wo es hin soll; dann die Ursache suchen.' },
  'throttle-dip': { name: 'Gas zurückgenommen', correction: 'Ein Zeichen für zu früh: warten, dann einmal.' },
  'throttle-jab': { name: 'Ins Gas gestoßen', correction: 'Drücken, nicht stoßen.' },
  'lift-missing': { name: 'Nicht gelupft', correction: 'Lupfen, lenken, wieder Gas.' },
  'lift-late': { name: 'Zu spät gelupft', correction: 'Am Kegel lupfen, lenken, wieder Gas.' },
  'shift-early': { name: 'Zu früh geschaltet', correction: 'Einen Moment später, nach Gehör.' },
  'shift-late': { name: 'Zu spät geschaltet', correction: 'Früher; bevor sich das Lenkrad bewegt.' },
  'wrong-gear': { name: 'Falscher Gang', correction: 'Der vereinbarte Gang, vor dem Einlenken.' },
  hands: { name: 'Hände', correction: 'Viertel vor drei; nicht übergreifen.' },
  'aid-cut-in': { name: 'Eine Hilfe griff ein', correction: 'Gas mit dem Lenkrad öffnen, nicht davor.' },
  spin: { name: 'Gedreht', correction: 'Beide Füße auf die Pedale; hereinkommen und erzählen, was war.' },
  off: { name: 'Von der Straße abgekommen', correction: 'Gerade und langsam; hereinkommen, wie auch immer es sich anfühlt.' },
  'missed-call': { name: 'Ansage verpasst', correction: 'Jede Ansage beantworten, indem man sie tut.' },
  'call-too-late': { name: 'Ich habe zu spät angesagt', correction: 'Nächstes Mal früher; das lag an mir.' },
  overdriving: { name: 'Über dem Tempo', correction: 'Zurück zum Tempo; erst ruhig.' },
  'following-traffic': { name: 'Dem Vordermann nachgefahren', correction: 'Eigene Marken; Abstand lassen.' },
  'poor-pass': { name: 'Schlecht überholt', correction: 'Nur im Einvernehmen, nur wo vereinbart.' },
  'flag-missed': { name: 'Flagge übersehen', correction: 'Jeder Posten, jede Runde.' },
  'pit-procedure': { name: 'Boxengasse', correction: 'Zeichen geben, Schritttempo, Spur halten.' },
  spacing: { name: 'Abstand', correction: 'Drei Sekunden, nicht mehr und nicht weniger.' },
  'position-on-seat': { name: 'Platz auf dem Sitz', correction: 'Vor dem Bremsen eingenommen.' },
  'body-line': { name: 'Körperlinie', correction: 'Kopf und Schultern nach innen.' },
}

const lengths = (metres: number): string => {
  const n = carLengths(metres)
  return n === 'half' ? 'eine halbe Wagenlänge' : n === 'one' ? 'eine Wagenlänge' : `je Runde eine Wagenlänge, bis zu ${n} zusammen`
}

/** What is said in German, code by code. */
export const germanAdvice = (measures: Measures): AdviceWords => ({
  'brake-early': {
    say: (e) => `Vor dem Bremsen länger am Gas bleiben: ${lengths(e.later_m ?? 0)}.`,
    cue: 'Der Bremskegel ist neben dem Spiegel, wenn sich der Fuß bewegt.',
    next: 'In jeder Runde „Kegel“ sagen, wenn der Fuß heruntergeht.',
  },
  'brake-late': {
    say: (e) => `Früher bremsen: ${lengths(e.later_m ?? 0)}. Der Rest ergibt sich.`,
    cue: 'Zwischen Bremsen und Einlenken ist Zeit zum Atmen.',
    next: 'Drei Runden eine halbe Länge vor dem Kegel, dann am Kegel.',
  },
  'brake-soft': {
    say: () => 'Im ersten Drittel kräftig drücken, dann nachlassen.',
    cue: 'Der Gurt hält sofort und lässt langsam los.',
    next: 'Fünfmal im Feld auf dem Platz anhalten, immer gleich fest.',
  },
  'brake-slow-build': {
    say: () => 'Die volle Bremse in der halben Zeit; drücken, nicht treten.',
    cue: 'Die Nase ist unten, bevor „Bremse“ gesagt ist.',
    next: 'Feld auf dem Platz: zudrücken, während man eins zählt.',
  },
  'brake-split': {
    say: () => 'Ein Druck, gehalten, bis es genug ist.',
    cue: 'Die Nase geht einmal nach unten.',
    next: 'Beim Pedal „eins“ sagen; kein zweites Wort.',
  },
  'brake-over': {
    say: (e) =>
      `Rollen lassen: an der langsamsten Stelle ${measures.speedStep((e.referenceSlowest_mps ?? 0) - (e.slowest_mps ?? 0))} mehr.`,
    cue: 'Es ginge einen Moment lang auch ohne Gas weiter.',
    next: 'Gleiche Marke, am Ende etwas weniger Druck.',
  },
  'brake-hold': {
    say: () => 'Die Bremse einen Moment früher loslassen, an der vereinbarten Marke.',
    cue: 'Die Nase kommt hoch, während eingelenkt wird.',
    next: 'Das Lösen in dieser Kurve laut sagen.',
  },
  'brake-dump': {
    say: () => 'Die Bremse nachlassen, während eingelenkt wird: doppelt so langsam.',
    cue: 'Die Nase hebt sich so langsam, wie das Lenkrad dreht.',
    next: 'Langsame Runden: der Rest der Bremse dauert eine Sekunde.',
  },
  'brake-in-turn': {
    say: () => 'Fertig bremsen, bevor sich das Lenkrad bewegt.',
    cue: 'Der Fuß ist still, wenn die Hände beginnen.',
    next: 'Eine halbe Länge früher bremsen und am Kegel fertig sein.',
  },
  'no-trail': {
    say: () => 'Einen Rest Bremse bis zum Scheitel behalten.',
    cue: 'Vorn greift es noch beim Einlenken.',
    next: 'Langsame Runden: lösen, während man bis drei zählt.',
  },
  coast: {
    say: () => 'Von der Bremse gleich ruhig ans Gas.',
    cue: 'Ein Fuß geht, wenn der andere kommt.',
    next: '„Bremse – Gas“ sagen, ohne Pause dazwischen.',
  },
  'setup-narrow': {
    say: (e) => `Vor der Kurve ${atLeastOne(measures, e.short_m)} mehr Straße nutzen.`,
    cue: 'Die äußeren Räder laufen am Rand, bevor eingelenkt wird.',
    next: 'Außen sein, bevor gebremst wird.',
  },
  'turn-in-early': {
    say: (e) => `Mit dem Einlenken warten: ${lengths(e.later_m ?? 0)}.`,
    cue: 'Es fühlt sich zu spät an, und der Scheitel kommt von selbst.',
    next: 'Den Einlenkkegel mit den Augen berühren, dann lenken.',
  },
  'turn-in-late': {
    say: (e) => `Früher zum Scheitel schauen und früher einlenken: ${lengths(e.later_m ?? 0)}.`,
    cue: 'Die Augen sind am Scheitel, bevor sich die Hände bewegen.',
    next: 'Den Scheitelkegel finden, solange noch gebremst wird.',
  },
  'apex-early': {
    say: () => 'Innen ist man zu früh: mit dem Einlenken warten.',
    cue: 'Ab dem Scheitel öffnet sich das Lenkrad nur noch.',
    next: 'Drei Runden eine Wagenlänge später einlenken.',
  },
  'apex-late': {
    say: () => 'Früher nach innen: am Kegel lenken, Augen zum Scheitel.',
    cue: 'Der Scheitelkegel kommt gerade auf einen zu.',
    next: 'Augen zum Scheitel, bevor sich das Lenkrad bewegt.',
  },
  'apex-missed': {
    say: (e) => `${atLeastOne(measures, e.farther_m)} näher nach innen: langsamer hinein, Augen zum Kegel.`,
    cue: 'Den Kegel könnte man berühren.',
    next: 'Drei Runden im Einführungstempo, jede über die Scheitelmarke.',
  },
  'exit-unused': {
    say: (e) => `Das Auto hinauslaufen lassen: ${atLeastOne(measures, e.left_m)} Straße sind übrig.`,
    cue: 'Die Hände öffnen sich, und das Auto treibt von selbst zum Rand.',
    next: 'Mit dem Gas das Lenkrad öffnen, bis zum Ausgangskegel.',
  },
  'exit-wide': {
    say: () => 'Mit dem Einlenken eine Wagenlänge warten; dann hat der Ausgang Platz.',
    cue: 'Der Rand bleibt einen Schritt entfernt, das Gas ist offen.',
    next: 'Halbes Gas, bis der Ausgang zu sehen ist.',
  },
  'limit-crossed': {
    say: () => 'Erst innerhalb der Linien: langsamer, dann die Linie.',
    cue: 'Alle Räder bleiben auf der Straße.',
    next: 'Eine Tempostufe zurück, bis drei Runden innen bleiben.',
  },
  'wrong-lane': {
    say: () => 'Zurück in die vereinbarte Spur.',
    cue: 'Die Naht bleibt auf derselben Seite.',
    next: 'Vor jeder Kurve die Spur nennen.',
  },
  'too-much-road': {
    say: () => 'Der kürzere Weg: Breite bringt hier nichts.',
    cue: 'Gerade von Marke zu Marke.',
    next: 'Vom Ausgang davor auf den Scheitel zielen.',
  },
  'steer-notched': {
    say: () => 'Einmal lenken, langsam und wachsend.',
    cue: 'Die Hände bewegen sich einmal und warten dann.',
    next: 'Slalom auf dem Platz im Schrittrhythmus.',
  },
  'steer-pinched': {
    say: () => 'Das Lenkrad öffnen, während das Gas kommt.',
    cue: 'Das Lenkrad kommt von selbst zurück.',
    next: 'Am Scheitel „auf“ sagen.',
  },
  'steer-caught': {
    say: () => 'Gut gefangen; jetzt die Ursache suchen: Gas, Lupfen oder Bremse.',
    cue: 'Das Gas bewegt sich so langsam wie das Lenkrad.',
    next: 'Kreis auf dem Platz: ruhiges Gas bis an die Grenze.',
  },
  'throttle-early': {
    say: () => 'Einen Moment warten, dann einmal.',
    cue: 'Die erste Berührung ist die, die bleibt.',
    next: 'Gas erst, wenn der Ausgang zu sehen ist.',
  },
  'throttle-late': {
    say: () => 'Früher ruhig ans Gas.',
    cue: 'Das Auto setzt sich vor dem Scheitel.',
    next: 'Am Scheitelkegel „Gas“ sagen.',
  },
  'throttle-dip': {
    say: () => 'Nur nehmen, was man behalten kann: erst weniger, dann mehr.',
    cue: 'Der Fuß geht nur in eine Richtung.',
    next: 'Halbes Gas bis zum Ausgang, dann den Rest.',
  },
  'throttle-jab': {
    say: () => 'Über eine Sekunde aufdrücken.',
    cue: 'Hinten bleibt es ruhig.',
    next: 'Acht auf dem Platz mit langsamem Fuß.',
  },
  'lift-missing': {
    say: () => 'Lupfen, lenken, wieder Gas.',
    cue: 'Die Nase setzt sich, bevor gelenkt wird.',
    next: 'Den Lupfkegel laut ansagen.',
  },
  'lift-late': {
    say: (e) => `Früher lupfen: ${lengths(e.later_m ?? 0)}.`,
    cue: 'Das Lupfen ist vorbei, wenn sich das Lenkrad bewegt.',
    next: 'Den Lupfkegel laut ansagen.',
  },
  'shift-early': {
    say: () => 'Einen Moment später schalten, nach Gehör.',
    cue: 'Der Motor zieht noch, wenn geschaltet wird.',
    next: 'Nur eines: erst der Klang, dann der Hebel.',
  },
  'shift-late': {
    say: () => 'Schalten, bevor sich das Lenkrad bewegt.',
    cue: 'Beim Einlenken sind beide Hände am Lenkrad.',
    next: 'In der zweiten Hälfte des Bremsens schalten.',
  },
  'wrong-gear': {
    say: (e) => `Hier Gang ${e.referenceGear ?? ''}, vor dem Einlenken.`,
    cue: 'Der Motor antwortet am Ausgang sofort.',
    next: 'Vor jeder Kurve den Gang nennen.',
  },
})

const bis = (allowed: string): string => `(bis ${allowed} ist gut)`

/** The act with its size in German, code by code. */
export const germanEvidence = ({ metres, fine, speed, seconds, percent }: Measures): EvidenceWords => ({
  'brake-early': (e) => `${metres(e.later_m)} vor der Marke gebremst ${bis(metres(e.allowed_m))}`,
  'brake-late': (e) => `${metres(e.later_m)} nach der Marke gebremst ${bis(metres(e.allowed_m))}`,
  'brake-soft': (e) => `die Bremse zu ${percent(e.share)} dessen gedrückt, was die Kurve braucht (ab ${percent(e.allowedShare)} ist gut)`,
  'brake-slow-build': (e) => `${seconds(e.build_s)} bis zur vollen Bremse gebraucht ${bis(seconds(e.allowed_s))}`,
  'brake-split': (e) => `die Bremse auf ${percent(e.leastShare)} gelöst und wieder gedrückt`,
  'brake-over': (e) => `auf ${speed(e.slowest_mps)} abgebremst, wo ${speed(e.referenceSlowest_mps)} gehen`,
  'brake-hold': (e) => `die Bremse ${seconds(e.held_s)} zu lange gehalten ${bis(seconds(e.allowed_s))}`,
  'brake-dump': (e) => `die Bremse in der Kurve in ${seconds(Math.max(0, e.fall_s ?? 0), 2)} fallen gelassen`,
  'brake-in-turn': (e) => `nach dem Einlenken noch ${seconds(e.inTurn_s)} gebremst ${bis(seconds(e.allowed_s))}`,
  'no-trail': (e) => `die Bremse war ${seconds(e.gap_s)} vor dem Einlenken gelöst ${bis(seconds(e.allowed_s))}`,
  coast: (e) => `${seconds(e.coast_s)} auf keinem Pedal gerollt ${bis(seconds(e.allowed_s))}`,
  'setup-narrow': (e) => `${fine(e.short_m)} von außen entfernt eingelenkt ${bis(fine(e.allowed_m))}`,
  'turn-in-early': (e) => `${metres(e.later_m)} zu früh eingelenkt ${bis(metres(e.allowed_m))}`,
  'turn-in-late': (e) => `${metres(e.later_m)} zu spät eingelenkt ${bis(metres(e.allowed_m))}`,
  'apex-early': (e) => `${metres(e.later_m)} zu früh innen ${bis(metres(e.allowed_m))}`,
  'apex-late': (e) => `${metres(e.later_m)} zu spät innen ${bis(metres(e.allowed_m))}`,
  'apex-missed': (e) => `${fine(e.farther_m)} weiter außen am Scheitel vorbei als geplant ${bis(fine(e.allowed_m))}`,
  'exit-unused': (e) => `am Ausgang ${fine(e.left_m)} Straße übrig gelassen ${bis(fine(e.allowed_m))}`,
  'exit-wide': (e) =>
    (e.margin_m ?? 0) < 0
      ? `am Ausgang ${fine(e.margin_m)} über den äußeren Rand`
      : `am Ausgang bis auf ${fine(e.margin_m)} an den äußeren Rand`,
  'limit-crossed': (e) => `ein Rad ${fine(e.over_m)} über dem Rand`,
  'wrong-lane': (e) => `ein Rad ${fine(e.over_m)} außerhalb der Spur`,
  'too-much-road': (e) => `${fine(e.wider_m)} weiter gefahren, als es nützt ${bis(fine(e.allowed_m))}`,
  'steer-notched': (e) => `in ${(e.bites ?? 2).toFixed(0)} Stufen gelenkt`,
  'steer-pinched': (e) => `nach dem Scheitel das Lenkrad ${seconds(e.held_s)} festgehalten, während das Gas kam`,
  'steer-caught': (e) => `gegengelenkt, ${percent(e.againstShare)} dessen der Kurve`,
  'throttle-early': (e) => `${seconds(e.later_s)} zu früh am Gas und ${percent(e.dipShare)} zurückgenommen`,
  'throttle-late': (e) => `${seconds(e.later_s)} zu spät am Gas ${bis(seconds(e.allowed_s))}`,
  'throttle-dip': (e) => `${percent(e.dipShare)} Gas zurückgenommen ${bis(percent(e.allowedShare))}`,
  'throttle-jab': (e) => `das Gas in ${seconds(Math.max(0, e.rise_s ?? 0), 2)} geöffnet`,
  'lift-missing': () => 'ohne Lupfen hinein',
  'lift-late': (e) => `${metres(e.later_m)} nach der Marke gelupft ${bis(metres(e.allowed_m))}`,
  'shift-early': (e) => `im ${e.gear ?? 0}. Gang, wo der ${e.referenceGear ?? 0}. dran ist: zu früh geschaltet`,
  'shift-late': (e) => `im ${e.gear ?? 0}. Gang, wo der ${e.referenceGear ?? 0}. dran ist: zu spät geschaltet`,
  'wrong-gear': (e) => `die Kurve im ${e.gear ?? 0}. Gang, wo der ${e.referenceGear ?? 0}. geplant ist`,
  overdriving: (e) => `mit ${speed(e.slowest_mps)}, wo ${speed(e.referenceSlowest_mps)} das Tempo ist`,
})

/** What held, in German. */
export const germanHeld = (measures: Measures): HeldWords => ({
  gone: (name, lap) => `${name} bis Runde ${lap}, danach nicht ein einziges Mal.`,
  brake: (within_m, laps) => `${laps} Runden lang auf ${measures.metres(within_m)} genau gleich gebremst, und sonst fiel nichts auf.`,
  turnIn: (within_m, laps) => `${laps} Runden lang auf ${measures.metres(within_m)} genau gleich eingelenkt, und sonst fiel nichts auf.`,
  within: (laps) => `${laps} Runden innerhalb der Marken.`,
})
