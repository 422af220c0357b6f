import type { Measures } from '../../units/format.ts'
import { carLengths } from '../../vehicle/car-length.ts'
import type { AdviceTable } from '../reader-words.ts'

/** A distance in car lengths, as much as is changed in a lap: never more than one. */
const lengths = (metres: number): string => {
  const n = carLengths(metres)
  return n === 'half' ? 'eine halbe Wagenlänge' : n === 'one' ? 'eine Wagenlänge' : `je Runde eine Wagenlänge, bis zu ${n} zusammen`
}

const ordinals = ['', 'erster', 'zweiter', 'dritter', 'vierter', 'fünfter', 'sechster', 'siebter', 'achter', 'neunter', 'zehnter']

/** Advice on braking, in German. */
const braking = (measures: Measures) =>
  ({
    'brake-early': {
      say: (e) => `Vor dem Bremsen länger am Gas bleiben: ${lengths(e.later_m)}.`,
      cue: 'Die Bremsmarke ist auf Höhe des Spiegels, wenn der Fuß umsetzt.',
      next: 'Jede Runde laut „Marke“ sagen, wenn du auf die Bremse gehst.',
    },
    'brake-late': {
      say: (e) => `Früher bremsen: ${lengths(e.later_m)}. Der Rest kommt von selbst.`,
      cue: 'Zwischen Bremsen und Einlenken ist Zeit zum Atmen.',
      next: 'Drei Runden eine halbe Wagenlänge vor der Marke bremsen, dann an der Marke.',
    },
    'brake-soft': {
      say: () => 'Im ersten Drittel kräftig drücken, dann nachlassen.',
      cue: 'Der Gurt hält sofort und lässt langsam los.',
      next: 'Fünf Bremsungen im Bremsfeld, immer gleich fest.',
    },
    'brake-slow-build': {
      say: () => 'Den vollen Bremsdruck in der halben Zeit; aufbauen, nicht reintreten.',
      cue: 'Die Nase ist unten, bevor „Bremse“ gesagt ist.',
      next: 'Bremsfeld: bei „eins“ ist der volle Druck da.',
    },
    'brake-split': {
      say: () => 'Einmal bremsen und den Druck halten, bis das Tempo passt.',
      cue: 'Die Nase geht einmal nach unten.',
      next: 'Beim Bremsen „eins“ sagen, nie „zwei“.',
    },
    'brake-over': {
      say: (e) => `Mehr Schwung: an der langsamsten Stelle ${measures.speedStep(e.referenceSlowest_mps - e.slowest_mps)} schneller.`,
      cue: 'Das Auto rollt noch einen Moment, bevor es Gas braucht.',
      next: 'Gleicher Bremspunkt, am Ende etwas weniger Druck.',
    },
    'brake-hold': {
      say: () => 'Die Bremse einen Moment früher loslassen, am vereinbarten Punkt.',
      cue: 'Die Nase kommt hoch, während du einlenkst.',
      next: 'In dieser Kurve beim Lösen laut „lösen“ sagen.',
    },
    'brake-dump': {
      say: () => 'Die Bremse beim Einlenken nur halb so schnell lösen.',
      cue: 'Die Nase hebt sich so langsam, wie das Lenkrad dreht.',
      next: 'Langsame Runden: für das letzte Stück Bremse eine Sekunde Zeit lassen.',
    },
    'brake-in-turn': {
      say: () => 'Fertig bremsen, bevor du einlenkst.',
      cue: 'Der Fuß ist ruhig, wenn die Hände anfangen.',
      next: 'Eine halbe Wagenlänge früher bremsen und an der Marke fertig sein.',
    },
    'no-trail': {
      say: () => 'Ein wenig Bremsdruck bis zum Scheitel mitnehmen.',
      cue: 'Vorn greift es noch beim Einlenken.',
      next: 'Langsame Runden: lösen und dabei bis drei zählen.',
    },
    coast: {
      say: () => 'Von der Bremse gleich ruhig ans Gas.',
      cue: 'Der Fuß wechselt ohne Pause von der Bremse aufs Gas.',
      next: '„Bremse – Gas“ sagen, ohne Pause dazwischen.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on the line, in German. */
const line = ({ atLeastOne }: Measures) =>
  ({
    'setup-narrow': {
      say: (e) => `Vor der Kurve ${atLeastOne(e.short_m)} mehr Breite nutzen.`,
      cue: 'Die äußeren Räder laufen am Rand, bevor du einlenkst.',
      next: 'Ganz außen sein, bevor du bremst.',
    },
    'turn-in-early': {
      say: (e) => `Später einlenken: ${lengths(e.later_m)}.`,
      cue: 'Es fühlt sich zu spät an, und der Scheitel kommt von selbst.',
      next: 'Den Einlenkpunkt ansehen, dann einlenken.',
    },
    'turn-in-late': {
      say: (e) => `Früher zum Scheitel schauen und früher einlenken: ${lengths(e.later_m)}.`,
      cue: 'Der Blick ist am Scheitel, bevor sich die Hände bewegen.',
      next: 'Den Scheitelpunkt finden, solange du noch bremst.',
    },
    'apex-early': {
      say: () => 'Du bist zu früh innen: später einlenken.',
      cue: 'Ab dem Scheitel geht die Lenkung nur noch auf.',
      next: 'Drei Runden eine Wagenlänge später einlenken.',
    },
    'apex-late': {
      say: () => 'Früher nach innen: an der Marke einlenken, Blick zum Scheitel.',
      cue: 'Der Scheitelpunkt kommt genau auf dich zu.',
      next: 'Blick zum Scheitel, bevor sich das Lenkrad bewegt.',
    },
    'apex-missed': {
      say: (e) => `${atLeastOne(e.further_m)} näher nach innen: langsamer rein, Blick zum Scheitel.`,
      cue: 'Die Innenkante könntest du berühren.',
      next: 'Drei ruhige Runden, jedes Mal den Scheitel treffen.',
    },
    'exit-unused': {
      say: (e) => `Das Auto raustragen lassen: ${atLeastOne(e.left_m)} sind noch frei.`,
      cue: 'Die Hände öffnen sich, und das Auto treibt von selbst zum Rand.',
      next: 'Mit dem Gas die Lenkung öffnen, bis an den Rand.',
    },
    'exit-wide': {
      say: () => 'Eine Wagenlänge später einlenken, dann passt der Ausgang.',
      cue: 'Am Gas bleibt noch ein Meter bis zum Rand.',
      next: 'Halbes Gas, bis der Ausgang zu sehen ist.',
    },
    'limit-crossed': {
      say: () => 'Erst auf der Strecke bleiben: langsamer, dann an der Linie arbeiten.',
      cue: 'Alle Räder bleiben auf der Strecke.',
      next: 'Eine Tempostufe zurück, bis drei Runden innen bleiben.',
    },
    'wrong-lane': {
      say: () => 'Zurück in die vereinbarte Spur.',
      cue: 'Die Naht bleibt auf derselben Seite.',
      next: 'Vor jeder Kurve die Spur nennen.',
    },
    'too-much-road': {
      say: () => 'Der kürzere Weg: Ausholen bringt hier nichts.',
      cue: 'Gerade von Marke zu Marke.',
      next: 'Vom Ausgang davor auf den Scheitel zielen.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on the wheel, in German. */
const wheel = () =>
  ({
    'steer-notched': {
      say: () => 'Einmal einlenken, langsam und zunehmend.',
      cue: 'Die Hände bewegen sich einmal und warten dann.',
      next: 'Slalom in ruhigem, gleichmäßigem Rhythmus.',
    },
    'steer-pinched': {
      say: () => 'Lenkung öffnen, während du Gas gibst.',
      cue: 'Das Lenkrad kommt von selbst zurück.',
      next: 'Am Scheitel „auf“ sagen.',
    },
    'steer-caught': {
      say: () => 'Gut abgefangen; jetzt die Ursache suchen: Gas, Lupfen oder Bremse.',
      cue: 'Das Gas bewegt sich so langsam wie das Lenkrad.',
      next: 'Kreis auf dem Platz: ruhiges Gas bis an die Grenze.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on the throttle, in German. */
const throttle = () =>
  ({
    'throttle-early': {
      say: () => 'Einen Moment warten, dann ans Gas und dranbleiben.',
      cue: 'Einmal am Gas heißt: am Gas bleiben.',
      next: 'Gas erst, wenn der Ausgang zu sehen ist.',
    },
    'throttle-late': {
      say: () => 'Früher ruhig ans Gas.',
      cue: 'Das Auto setzt sich vor dem Scheitel.',
      next: 'Am Scheitelpunkt „Gas“ sagen.',
    },
    'throttle-dip': {
      say: () => 'Nur so viel Gas, wie du halten kannst: erst weniger, dann mehr.',
      cue: 'Der Fuß geht nur in eine Richtung.',
      next: 'Halbes Gas bis zum Ausgang, dann den Rest.',
    },
    'throttle-jab': {
      say: () => 'Das Gas über eine Sekunde aufbauen.',
      cue: 'Das Heck bleibt ruhig.',
      next: 'Acht fahren mit ruhigem Gasfuß.',
    },
    'slowest-early': {
      say: (e) => `Die Bremse später und sanfter lösen: ${lengths(e.later_m)}.`,
      cue: 'Kurz vor dem Scheitel wird das Auto noch etwas langsamer.',
      next: 'Hineinrollen, ohne die Bremse plötzlich loszulassen.',
    },
    'slowest-late': {
      say: (e) => `Früher fertig langsam sein: ${lengths(e.later_m)}.`,
      cue: 'Ab dem Scheitel wird das Auto nur noch schneller.',
      next: 'Vor dem Scheitel laut „langsam genug“ sagen.',
    },
    'throttle-full-late': {
      say: (e) => `Früher ganz aufs Gas: ${lengths(e.later_m)}.`,
      cue: 'Das Pedal ist am Anschlag, bevor das Auto am Rand ist.',
      next: 'Laut „ganz“ sagen, wenn der Fuß unten ist.',
    },
    'throttle-short': {
      say: () => 'Vollgas heißt: bis zum Anschlag, bis du bremst.',
      cue: 'Der Fuß spürt den Anschlag.',
      next: 'Eine Runde auf jeder Geraden mit dem Pedal am Anschlag.',
    },
    'lift-missing': {
      say: () => 'Lupfen, lenken, wieder Gas.',
      cue: 'Die Nase setzt sich, bevor du lenkst.',
      next: 'An der Marke laut „lupfen“ sagen.',
    },
    'lift-early': {
      say: (e) => `Länger am Gas bleiben, bevor du lupfst: ${lengths(e.later_m)}.`,
      cue: 'Die Marke ist neben dir, wenn der Fuß sich bewegt.',
      next: 'An der Marke laut „lupfen“ sagen, nicht vorher.',
    },
    'lift-late': {
      say: (e) => `Früher lupfen: ${lengths(e.later_m)}.`,
      cue: 'Erst lupfen, dann lenken.',
      next: 'An der Marke laut „lupfen“ sagen.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on gears, in German. */
const gears = () =>
  ({
    'shift-early': {
      say: () => 'Einen Moment später schalten, nach Gehör.',
      cue: 'Der Motor zieht noch, wenn du schaltest.',
      next: 'Nur auf eines achten: erst der Klang, dann schalten.',
    },
    'shift-late': {
      say: () => 'Schalten, bevor sich das Lenkrad bewegt.',
      cue: 'Beim Einlenken sind beide Hände am Lenkrad.',
      next: 'In der zweiten Hälfte des Bremsens schalten.',
    },
    'shift-slow': {
      say: () => 'Einen Gang nach dem anderen, ohne Pause dazwischen.',
      cue: 'Der letzte Gang ist drin, solange du noch kräftig bremst.',
      next: 'Beim Bremsen die Gänge laut herunterzählen.',
    },
    'wrong-gear': {
      say: (e) => `Hier ${ordinals[e.referenceGear] ?? `${e.referenceGear}.`} Gang, vor dem Einlenken.`,
      cue: 'Der Motor zieht am Ausgang sofort.',
      next: 'Vor jeder Kurve den Gang nennen.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice, in German, mistake by mistake. */
export const advice = (measures: Measures): AdviceTable => ({
  ...braking(measures),
  ...line(measures),
  ...wheel(),
  ...throttle(),
  ...gears(),
})
