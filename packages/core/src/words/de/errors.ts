import { type ErrorTable, type PortalProblemCode, type ProblemWords, type VehicleWords, vehicleFieldName } from '../reader-words.ts'

/** Names of a vehicle's fields, in German. */
const vehicleWords: VehicleWords = {
  mass_kg: 'Masse mit Fahrer',
  power_W: 'Leistung am Rad',
  maxDriveForce_N: 'größte Antriebskraft',
  maxBrake_mps2: 'Bremsgrenze',
  muX: 'Haftung längs',
  muY: 'Haftung quer',
  dragArea_m2: 'Widerstandsfläche',
  liftArea_m2: 'Abtriebsfläche',
  rolling: 'Rollwiderstandsbeiwert',
  driveShare: 'Haftungsanteil für den Antrieb',
  width_m: 'Breite',
  shiftEngineSpeed_rpm: 'Schaltdrehzahl',
  margin_m: 'Abstand zum Rand',
  wheelbase_m: 'Radstand',
  cgHeight_m: 'Schwerpunkthöhe',
  cgToRear_m: 'Abstand vom Schwerpunkt zur Hinterachse',
  gears: 'Zahl der Gänge',
  topSpeed: (gear) => `Höchstgeschwindigkeit im ${gear}. Gang (m/s)`,
}

/** Files that can be chosen in the wrong place: what each is, and where it belongs; in German. */
const otherKinds: Record<string, { is: string; belongs: string }> = {
  vehicle: { is: 'eine Fahrzeugdatei', belongs: 'Sie gehört unter Strecke, Fahrzeuge. Hier wurde nichts gespeichert.' },
  circuit: { is: 'eine Strecke oder eine Linie auf einer Karte', belongs: 'Sie gehört unter „Strecke“. Hier wurde nichts gespeichert.' },
  log: {
    is: 'die Aufzeichnung einer Fahrt',
    belongs: 'Sie gehört zu einer Fahrt, in deren Nachbesprechung. Hier wurde nichts gespeichert.',
  },
  day: { is: 'die Datei eines Tages', belongs: 'Sie ist für die Kommandozeile. Hier wurde nichts gespeichert.' },
  student: {
    is: 'was von einem Teilnehmer ausgegeben wurde',
    belongs: 'Der Teilnehmer kann sie lesen und behalten. Hier wurde nichts gespeichert.',
  },
  school: { is: 'das Archiv einer Schule', belongs: 'Es gehört in die Einstellungen einer leeren Schule. Hier wurde nichts gespeichert.' },
  people: { is: 'eine Liste von Personen', belongs: 'Sie gehört unter Schule, Personen. Hier wurde nichts gespeichert.' },
  picture: { is: 'ein Bild', belongs: 'Über ein Bild kann eine Strecke gezeichnet werden. Hier wurde nichts gespeichert.' },
  document: {
    is: 'ein Dokument zum Lesen oder Drucken',
    belongs: 'Gib die Daten selbst aus, als CSV, GPX, KML oder GeoJSON. Hier wurde nichts gespeichert.',
  },
  archive: { is: 'ein gepackter Ordner', belongs: 'Entpacke ihn und wähle die Datei darin. Hier wurde nichts gespeichert.' },
  video: { is: 'ein Video', belongs: 'Es gehört neben die Runden einer Nachbesprechung. Hier wurde nichts gespeichert.' },
}
const kindNames: Record<string, string> = {
  vehicle: 'keine Fahrzeugdatei',
  circuit: 'keine Streckendatei',
  log: 'keine Aufzeichnung',
  school: 'kein Archiv einer Schule',
}

/** Problems with input, in German. */
export const errors: ErrorTable = {
  'file-unreadable': {
    message: (d) => `Diese Datei ist nicht lesbar (erwartet: ${d.expected}): ${d.why}.`,
    remedy: () => 'Wähle eine Aufzeichnung als CSV, GPX, NMEA oder JSON-Zeilen, oder eine Strecke als CSV, GPX, KML oder GeoJSON.',
  },
  'file-of-other-kind': {
    message: (d) => `Das ist ${kindNames[d.wanted]}, sondern ${d.is in otherKinds ? otherKinds[d.is].is : 'etwas anderes'}.`,
    remedy: (d) => (d.is in otherKinds ? otherKinds[d.is].belongs : 'Wähle eine andere Datei.'),
  },
  'file-empty': {
    message: (d) => `Die Datei (${d.what}) enthält keine Datenzeilen.`,
    remedy: () => 'Prüfe, ob der Export fertig wurde, und wähle die Datei noch einmal.',
  },
  'file-unwritable': {
    message: (d) => `Das Ergebnis ließ sich nicht schreiben (${d.why === 'ENOENT' ? 'den Ordner gibt es nicht' : d.why}).`,
    remedy: () => 'Lege zuerst den Ordner an, oder nenne eine andere Datei; geschrieben wurde nichts.',
  },
  'columns-missing': {
    message: (d) => `Es fehlen Spalten: ${d.missing}. Gefunden: ${d.found}.`,
    remedy: (d) => `Ergänze sie in der Kopfzeile; gebraucht werden ${d.needed}.`,
  },
  'number-invalid': {
    message: (d) => `„${d.value}“ in Spalte ${d.column} ist keine brauchbare Zahl.`,
    remedy: (d) => `Gib eine Zahl an: ${d.range}; Dezimalstellen mit Punkt.`,
  },
  'circuit-too-few-points': {
    message: (d) => `Eine Strecke aus ${d.count} Punkten ist zu grob.`,
    remedy: (d) => `Vermiss mindestens ${d.min} Punkte im Abstand von etwa 5 m.`,
  },
  'circuit-duplicate-point': {
    message: () => 'Zwei benachbarte Punkte liegen auf derselben Stelle.',
    remedy: () => 'Lösche eine der beiden Zeilen.',
  },
  'circuit-jump': {
    message: (d) => `Die Mittellinie springt ${d.distance_m} m zwischen benachbarten Punkten.`,
    remedy: (d) => `Punkte dürfen höchstens ${d.max_m} m auseinander liegen; ergänze das fehlende Stück oder lösche den Ausreißer.`,
  },
  'circuit-open': {
    message: (d) => `Die Mittellinie ist nicht geschlossen: ${d.gap_m} m zwischen letztem und erstem Punkt.`,
    remedy: (d) => `Vermiss die ganze Runde, bis die Enden auf ${d.max_m} m zusammenkommen, oder importiere sie als offene Strecke.`,
  },
  'circuit-self-crossing': {
    message: (d) => `Die Mittellinie kreuzt sich bei ${d.at}.`,
    remedy: () => 'Prüfe dort die Reihenfolge der Punkte, oder teile die Figur in zwei Streckenvarianten.',
  },
  'circuit-height': {
    message: (d) => `Die Strecke steigt ${d.rise_m} m auf ${d.length_m} m.`,
    remedy: () => 'Prüfe dort die Höhen: stehen alle in Metern?',
  },
  'circuit-width': {
    message: (d) => `Die Strecke ist ${d.side === 'left' ? 'links' : 'rechts'} ${d.width_m} m breit.`,
    remedy: (d) => `Gib auf jeder Seite der Mittellinie eine Breite von ${d.min_m} bis ${d.max_m} m an.`,
  },
  'circuit-bank': {
    message: (d) => `Die Fahrbahn ist um ${d.bank_deg}° quer geneigt.`,
    remedy: (d) => `Prüfe dort die Querneigung: ein Winkel in Grad, höchstens ${d.max_deg}° nach jeder Seite.`,
  },
  'circuit-swapped': {
    message: (d) => `Breite ${d.latitude} mit Länge ${d.longitude} gibt es auf der Erde nicht; vertauscht ist es ein Ort.`,
    remedy: () => 'Sind die beiden in der Datei vertauscht, wähle „Breite und Länge sind vertauscht“ (--swapped auf der Befehlszeile).',
  },
  'circuit-too-short': {
    message: (d) => `Die Runde ist nur ${d.length_m} m lang.`,
    remedy: (d) => `Eine Strecke braucht mindestens ${d.min_m} m. Sind es Meter?`,
  },
  'circuit-several-tracks': {
    message: (d) => `Die Datei enthält ${d.count} Spuren: ${d.names}.`,
    remedy: () => 'Sag, welche Spur die Strecke ist.',
  },
  'circuit-no-place': {
    message: () => 'Die Strecke hat keine Koordinaten auf der Karte: sie wurde in örtlichen Metern vermessen.',
    remedy: () => 'Exportiere sie als CSV, oder gib die Lage ihres ersten Punkts an.',
  },
  'circuit-reversed': {
    message: (d) => `Die neue Vermessung läuft in der Gegenrichtung zu „${d.older}“.`,
    remedy: () => 'Wähle die andere Fahrtrichtung, oder importiere sie als eigene Strecke.',
  },
  'circuit-elsewhere': {
    message: (d) => `Nur ${d.share} % der neuen Vermessung liegen auf „${d.older}“.`,
    remedy: () => 'Wähle die Strecke, die neu vermessen wurde, oder importiere sie als eigene.',
  },
  'circuit-curls-inside-width': {
    message: (d) => `Die Kurve ist enger (Radius ${d.radius_m} m), als die Strecke innen breit ist (${d.width_m} m).`,
    remedy: () => 'Glätte dort die Punkte, oder verringere die Breite innen.',
  },
  'vehicle-range': {
    message: (d) => `Beim Fahrzeug ist der Wert für ${vehicleFieldName(vehicleWords, d)} ${d.value}; erlaubt ist ${d.min} bis ${d.max}.`,
    remedy: (d) => `Gib einen Wert von ${d.min} bis ${d.max} ein.`,
  },
  'vehicle-unknown': {
    message: (d) => `In dieser Datei gibt es kein Fahrzeug „${d.id}“.`,
    remedy: (d) => `Wähle eines von: ${d.known}.`,
  },
  'setting-range': {
    message: (d) => `${d.field} ist ${d.value}; erlaubt ist ${d.range}.`,
    remedy: (d) => `Gib ${d.field} so an: ${d.range}.`,
  },
  'pace-above-limit': {
    message: (d) => `Tempostufe ${d.pace} liegt über der Obergrenze von ${d.limit} für den Plan eines Schülers.`,
    remedy: (d) => `Wähle eine Tempostufe bis ${d.limit}. Auf der Befehlszeile plant --force auch darüber, aber für niemanden zum Fahren.`,
  },
  'line-no-road': {
    message: (d) => `Für ein ${d.vehicle_m} m breites Fahrzeug mit ${d.margin_m} m Abstand bleibt keine Breite, wegen: ${d.cause}.`,
    remedy: () => 'Verringere den Abstand, oder prüfe dort die Breiten und was auf der Strecke liegt.',
  },
  'lap-not-drivable': {
    message: () => 'Selbst eine langsame Runde überschreitet hier Haftung oder Leistung.',
    remedy: () => 'Prüfe dort Steigung und Querneigung, dazu Haftung und Leistung des Fahrzeugs; oder nimm die ruhigste Linie.',
  },
  'profile-leaves-ground': {
    message: (d) => `Bei ${d.speed_kmh} km/h würden die Räder abheben.`,
    remedy: () => 'Verringere das Tempo, oder prüfe dort die Höhen der Vermessung.',
  },
  'log-elsewhere': {
    message: (d) => `Die Aufzeichnung ist nicht von hier: sie bleibt mindestens ${d.distance_m} m von dieser Strecke entfernt.`,
    remedy: () => 'Wähle die Strecke, auf der du gefahren bist, oder eine andere Aufzeichnung.',
  },
  'log-gap': {
    message: (d) => `Die Aufzeichnung hat eine Lücke von ${d.gap_s} s.`,
    remedy: () => 'Runden mit der Lücke werden übersprungen, die übrigen genutzt. Prüfe, ob der Empfänger freie Sicht zum Himmel hat.',
  },
  'log-no-lap': {
    message: (d) => `Die Aufzeichnung enthält keine ganze Runde (sie überquert die Startlinie ${d.crossings}-mal).`,
    remedy: () => 'Zeichne von vor der Startlinie bis nach ihr auf, mindestens eine ganze Runde.',
  },
  'log-stamps': {
    message: (d) => `Die Zeit läuft rückwärts (${d.before} s, dann ${d.after} s).`,
    remedy: () => 'Sortiere die Zeilen nach der Zeit, oder exportiere die Aufzeichnung noch einmal.',
  },
  'log-reversed': {
    message: () => 'Die Aufzeichnung läuft auf dieser Strecke in der Gegenrichtung.',
    remedy: () => 'Wähle die gefahrene Streckenvariante.',
  },
  'log-no-fix': {
    message: (d) => `Der Empfänger hatte in keinem seiner ${d.sentences} Sätze eine gültige Position.`,
    remedy: () => 'Warte unter freiem Himmel, bis der Empfänger eine Position hat, und zeichne dann neu auf.',
  },
  'log-units': {
    message: (d) => `In der Kopfzeile steht ${d.unit}, aber die Wege zwischen den Positionen passen zu ${d.fits}.`,
    remedy: () => 'Sag, welche Einheit die Spalte wirklich hat; bisher wurde nichts übernommen.',
  },
  'log-too-long': {
    message: (d) => `Die Aufzeichnung hat mehr als ${d.most} Zeilen.`,
    remedy: () => 'Teile sie in eine Datei je Fahrt, oder exportiere sie mit höchstens 100 Zeilen je Sekunde.',
  },
  'reference-lap-missing': {
    message: (d) => `Es gibt keine ganze Runde ${d.lap}; ganze Runden sind ${d.known}.`,
    remedy: () => 'Wähle eine der ganzen Runden als Vergleich.',
  },
  'question-unknown': {
    message: () => 'Diese Frage gibt es nicht mehr: der Plan des Tages hat sich geändert.',
    remedy: () => 'Mach mit der nächsten Frage weiter; deine Antworten sind gespeichert.',
  },
  'rotation-size': {
    message: ({ count }) => `Hinter dem Führungsauto fahren zwei bis sechs Teilnehmer, nicht ${count}.`,
    remedy: () => 'Nimm zwei bis sechs Autos; die anderen fahren in einer weiteren Gruppe.',
  },
  'day-times': {
    message: ({ from, to }) => `Von ${from} bis ${to} ist keine Zeit dieses Tages.`,
    remedy: () => 'Lass es nach dem Anfang enden, innerhalb des Tages und zu ganzen Schritten.',
  },
  'day-overlap': {
    message: ({ from, to, other }) => `Von ${from} bis ${to} überschneidet sich mit ${other}.`,
    remedy: () => 'Mach eines daraus, oder lass das eine beginnen, wo das andere endet.',
  },
  'day-twice': {
    message: ({ what, id }) => `„${id}“ steht zweimal in der Liste „${what}“.`,
    remedy: () => 'Nimm eines heraus, oder gib ihm eine eigene Kennung.',
  },
  'day-unknown': {
    message: ({ what, id }) => `In der Liste „${what}“ gibt es kein „${id}“.`,
    remedy: () => 'Ergänze es dort, oder nenne eines, das dort steht.',
  },
  'day-nobody': {
    message: ({ what, id }) =>
      what === 'cars' ? `Es gibt kein Auto, das „${id}“ fahren darf.` : `Niemand unterrichtet die Gruppe von „${id}“.`,
    remedy: ({ what }) =>
      what === 'cars'
        ? 'Gib ein Auto für sie frei, oder lass weg, was eines braucht.'
        : 'Lass einen Instruktor diese Gruppe unterrichten, oder setze den Schüler in eine andere.',
  },
  'day-too-many': {
    message: ({ what, count, max }) => `${count} (${what}) sind mehr, als ein Tag geplant wird: höchstens ${max}.`,
    remedy: () => 'Plane zwei Tage nebeneinander, jeden mit seinen eigenen Leuten.',
  },
}

/** Problems on a student's phone, in German. */
export const portal: Record<PortalProblemCode, ProblemWords> = {
  unreachable: {
    message: 'Der Server ist nicht erreichbar.',
    remedy:
      'Das wurde nicht gespeichert; es bleibt hier, solange diese Seite offen ist. Versuche es noch einmal, sobald der Server wieder da ist.',
  },
  'file-not-sent': {
    message: 'Die Verbindung ist beim Senden abgebrochen.',
    remedy:
      'Es wurde nichts gespeichert. Schau nach, sobald der Server wieder da ist, ob die Datei angekommen ist; wenn nicht, wähle sie noch einmal.',
  },
  'foreign-origin': {
    message: 'Das kam nicht von den Seiten dieser Anwendung.',
    remedy: 'Öffne deinen Link selbst und versuche es dort noch einmal.',
  },
  'link-withdrawn': {
    message: 'Dieser Link gilt nicht mehr.',
    remedy: 'Bitte deinen Instruktor um einen neuen; sonst ist nichts verloren.',
  },
  'too-many-logs': {
    message: 'Über diesen Link kann keine weitere Aufzeichnung gesendet werden.',
    remedy: 'Bitte deinen Instruktor um einen neuen Link; deine Aufzeichnungen sind sicher.',
  },
  'too-large': { message: 'Die Datei ist zu groß.', remedy: 'Sende eine kürzere Aufzeichnung; es wurde nichts gespeichert.' },
  'too-short': { message: 'Die Eingabe ist zu kurz.', remedy: 'Schreib etwas mehr; es wurde nichts gespeichert.' },
  'too-many-tries': { message: 'Zu viele Versuche in kurzer Zeit.', remedy: 'Warte ein paar Minuten und versuch es dann noch einmal.' },
  'changed-meanwhile': {
    message: 'Jemand anderes hat das inzwischen geändert.',
    remedy: 'Deine Änderung wurde nicht gespeichert. Schau an, was jetzt da steht, und speichere noch einmal, was anders sein soll.',
  },
  'round-over': { message: 'Diese Fragerunde ist vorbei.', remedy: 'Beginne eine neue; was du beantwortet hast, bleibt.' },
  'run-of-another': {
    message: 'Diese Aufzeichnung trägt die Kennung einer anderen Fahrt.',
    remedy: 'Wähle die Datei neu aus und sende sie noch einmal; es wurde nichts gespeichert.',
  },
  'disk-full': {
    message: 'Der Speicher des Servers ist voll.',
    remedy: 'Das wurde nicht gespeichert. Sag es deinem Instruktor und sende es später noch einmal.',
  },
  'disk-read-only': {
    message: 'Der Server kann gerade nichts speichern.',
    remedy: 'Das wurde nicht gespeichert. Sag es deinem Instruktor und sende es später noch einmal.',
  },
  'too-busy': {
    message: 'Gerade werden zu viele Dateien gesendet.',
    remedy: 'Warte eine Minute und sende sie noch einmal; es wurde nichts gespeichert.',
  },
  'took-too-long': {
    message: 'Das Lesen dieser Datei hat zu lange gedauert und wurde abgebrochen.',
    remedy: 'Sende eine kürzere Datei oder eine andere Form davon; es wurde nichts gespeichert.',
  },
  'not-found': { message: 'Das gibt es nicht mehr.', remedy: 'Vielleicht wurde es entfernt; geh zurück und wähle neu.' },
  'no-log': { message: 'Zu dieser Fahrt gibt es keine Aufzeichnung.', remedy: 'Frag deinen Instruktor, oder sende eine.' },
  'stored-broken': {
    message: 'Etwas Gespeichertes lässt sich nicht mehr lesen.',
    remedy: 'Sag es deinem Instruktor; alles andere ist sicher.',
  },
  invalid: { message: 'Die Eingabe ist nicht gültig.', remedy: 'Berichtige sie und sende sie noch einmal; es wurde nichts gespeichert.' },
  internal: {
    message: 'Auf dem Server ist etwas schiefgegangen.',
    remedy: 'Was vorher gespeichert war, ist sicher. Versuch es gleich noch einmal.',
  },
}

/** Nouns of places in files and on circuits. */
const nouns: Readonly<Record<string, string>> = {
  circuit: 'Strecke',
  column: 'Spalte',
  feature: 'Element',
  file: 'Datei',
  mapping: 'Zuordnung',
  point: 'Punkt',
  row: 'Zeile',
  station: 'Station',
}

/** Words for the place of a problem. */
export const place = (place: string): string => `Stelle: ${place.replace(/[a-z]+/g, (word) => nouns[word] ?? word)}.`
