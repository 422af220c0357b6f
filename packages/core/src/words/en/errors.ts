import { type ErrorTable, type PortalProblemCode, type ProblemWords, type VehicleWords, vehicleFieldName } from '../reader-words.ts'

/** Names of a vehicle's fields, in English. */
const vehicleWords: VehicleWords = {
  mass_kg: 'mass with driver',
  power_W: 'power at the wheels',
  maxDriveForce_N: 'largest drive force',
  maxBrake_mps2: 'brake limit',
  muX: 'longitudinal grip',
  muY: 'lateral grip',
  dragArea_m2: 'drag area',
  liftArea_m2: 'downforce area',
  rolling: 'rolling coefficient',
  driveShare: 'share of grip for drive',
  width_m: 'width',
  shiftEngineSpeed_rpm: 'engine speed for changing gear',
  margin_m: 'margin to the edges',
  wheelbase_m: 'wheelbase',
  cgHeight_m: 'centre of gravity height',
  cgToRear_m: 'distance from the centre of gravity to the rear axle',
  gears: 'number of gears',
  topSpeed: (gear) => `top speed in gear ${gear} (m/s)`,
}

/** Files that can be chosen in the wrong place: what each is, and where it belongs. */
const otherKinds: Record<string, { is: string; belongs: string }> = {
  vehicle: { is: 'a vehicle file', belongs: 'It belongs under Circuit, Vehicles: “Choose a vehicle file”. Nothing was stored here.' },
  circuit: { is: 'a circuit or a line on a map', belongs: 'It belongs under Circuit: “New circuit”. Nothing was stored here.' },
  log: {
    is: 'a log of a drive',
    belongs: 'It belongs to a run, in its debrief; as “driven laps” it can also become a circuit. Nothing was stored here.',
  },
  day: { is: 'the file of a day', belongs: 'It is for the command line (ochote cones --day). Nothing was stored here.' },
  student: { is: 'what was exported of a student', belongs: 'It is to be read and kept by the student. Nothing was stored here.' },
  school: { is: 'the archive of a school', belongs: 'It belongs under School, Settings, of an empty school. Nothing was stored here.' },
  people: { is: 'a list of people', belongs: 'It belongs under School, People: “Paste a list”. Nothing was stored here.' },
  picture: { is: 'a picture', belongs: 'Choose “a drawing over a picture” to draw a circuit over it. Nothing was stored here.' },
  document: {
    is: 'a document to be read or printed',
    belongs: 'Export the data themselves, as CSV, GPX, KML or GeoJSON. Nothing was stored here.',
  },
  archive: { is: 'a compressed folder', belongs: 'Unpack it and choose the file inside. Nothing was stored here.' },
  video: { is: 'a video', belongs: 'It belongs beside the laps of a debrief. Nothing was stored here.' },
}
const kindNames: Record<string, string> = { vehicle: 'vehicle file', circuit: 'circuit file', log: 'log', school: 'school’s archive' }

/** Problems with input, in English. */
export const errors: ErrorTable = {
  'file-unreadable': {
    message: (d) => `This ${d.expected} cannot be read: ${d.why}.`,
    remedy: () =>
      'Choose a CSV, GPX, KML or GeoJSON file of a circuit, or a log as CSV, GPX, NMEA or JSON lines; the guide lists the columns.',
  },
  'file-of-other-kind': {
    message: (d) => `This is not a ${kindNames[d.wanted]}, but ${d.is in otherKinds ? otherKinds[d.is].is : 'something else'}.`,
    remedy: (d) => (d.is in otherKinds ? otherKinds[d.is].belongs : 'Choose another file.'),
  },
  'file-empty': {
    message: (d) => `The ${d.what} holds no data rows.`,
    remedy: () => 'Check that the export finished, then choose the file again.',
  },
  'file-unwritable': {
    message: (d) => `The result could not be written (${d.why === 'ENOENT' ? 'there is no such folder' : d.why}).`,
    remedy: () => 'Make the folder first, or name another file; nothing was written.',
  },
  'columns-missing': {
    message: (d) => `Columns are missing: ${d.missing}. Found: ${d.found}.`,
    remedy: (d) => `Add the columns to the header row; needed are ${d.needed}.`,
  },
  'number-invalid': {
    message: (d) => `“${d.value}” in column ${d.column} is not a usable number.`,
    remedy: (d) => `Give a number ${d.range}; decimals with a point.`,
  },
  'circuit-too-few-points': {
    message: (d) => `A circuit of ${d.count} points is too coarse.`,
    remedy: (d) => `Survey at least ${d.min} points, about 5 m apart.`,
  },
  'circuit-duplicate-point': {
    message: () => 'Two neighbouring points lie on the same spot.',
    remedy: () => 'Delete one of the two rows.',
  },
  'circuit-jump': {
    message: (d) => `The centreline jumps ${d.distance_m} m between neighbouring points.`,
    remedy: (d) => `Points may be at most ${d.max_m} m apart; fill in the missing stretch or delete the stray point.`,
  },
  'circuit-open': {
    message: (d) => `The centreline does not close: ${d.gap_m} m lie between its last and its first point.`,
    remedy: (d) => `Survey the whole lap, so that the ends come within ${d.max_m} m of each other, or import it as an open course.`,
  },
  'circuit-self-crossing': {
    message: (d) => `The centreline crosses itself near ${d.at}.`,
    remedy: () => 'Check the order of the points there, or cut the figure into two layouts.',
  },
  'circuit-height': {
    message: (d) => `The road rises ${d.rise_m} m within ${d.length_m} m.`,
    remedy: () => 'Check the heights there; do all of them have the same unit, metres?',
  },
  'circuit-width': {
    message: (d) => `The road is ${d.width_m} m wide on its ${d.side} side.`,
    remedy: (d) => `Give a width from ${d.min_m} to ${d.max_m} m on each side of the centreline.`,
  },
  'circuit-bank': {
    message: (d) => `The road is banked by ${d.bank_deg}°.`,
    remedy: (d) => `Check the bank there: it is an angle in degrees, at most ${d.max_deg}° to either side.`,
  },
  'circuit-swapped': {
    message: (d) =>
      `A latitude of ${d.latitude} with a longitude of ${d.longitude} is nowhere on Earth; the other way round it is a place.`,
    remedy: () => 'If the two are swapped in the file, tick “Latitude and longitude are swapped” (--swapped on the command line).',
  },
  'circuit-too-short': {
    message: (d) => `The lap is only ${d.length_m} m long.`,
    remedy: (d) => `A circuit needs at least ${d.min_m} m. Are the units metres?`,
  },
  'circuit-several-tracks': {
    message: (d) => `The file holds ${d.count} tracks: ${d.names}.`,
    remedy: () => 'Say which track is the circuit.',
  },
  'circuit-no-place': {
    message: () => 'The circuit has no coordinates on the map: it was surveyed in local metres.',
    remedy: () => 'Export it as CSV, or give the place of its first point.',
  },
  'circuit-reversed': {
    message: (d) => `The new survey runs in the opposite direction to “${d.older}”.`,
    remedy: () => 'Tick “Driven in the other direction”, or import it as a circuit of its own.',
  },
  'circuit-elsewhere': {
    message: (d) => `Only ${d.share}% of the new survey lies on “${d.older}”.`,
    remedy: () => 'Choose the circuit that was surveyed again, or import it as a circuit of its own.',
  },
  'circuit-curls-inside-width': {
    message: (d) => `The bend is tighter (radius ${d.radius_m} m) than the road is wide on its inside (${d.width_m} m).`,
    remedy: () => 'Smooth the points there, or reduce the inside width.',
  },
  'vehicle-range': {
    message: (d) => `The vehicle’s ${vehicleFieldName(vehicleWords, d)} is ${d.value}; it must be ${d.min} to ${d.max}.`,
    remedy: (d) => `Enter a value from ${d.min} to ${d.max}.`,
  },
  'vehicle-unknown': {
    message: (d) => `There is no vehicle “${d.id}” in this file.`,
    remedy: (d) => `Choose one of: ${d.known}.`,
  },
  'setting-range': {
    message: (d) => `${d.field} is ${d.value}; it must be ${d.range}.`,
    remedy: (d) => `Give ${d.field} in ${d.range}.`,
  },
  'pace-above-limit': {
    message: (d) => `A pace of ${d.pace} is above the limit of ${d.limit} for a student’s plan.`,
    remedy: (d) => `Choose a pace up to ${d.limit}. On the command line --force plans above it, for nobody to follow.`,
  },
  'line-no-road': {
    message: (d) => `No road is left for a vehicle ${d.vehicle_m} m wide with ${d.margin_m} m of margin, because of ${d.cause}.`,
    remedy: () => 'Reduce the margin, or check the widths and what lies on the road there.',
  },
  'lap-not-drivable': {
    message: () => 'Even a slow lap exceeds the grip or power limits here.',
    remedy: () => 'Check slope and bank of the survey there, and the vehicle’s grip and power; or use the smoothest line.',
  },
  'profile-leaves-ground': {
    message: (d) => `The wheels would leave the ground at ${d.speed_kmh} km/h.`,
    remedy: () => 'Lower the pace, or check the heights of the survey there.',
  },
  'log-elsewhere': {
    message: (d) => `The log was not driven here: it stays ${d.distance_m} m or more from this circuit.`,
    remedy: () => 'Choose the circuit on which the log was recorded, or another log.',
  },
  'log-gap': {
    message: (d) => `The log has a gap of ${d.gap_s} s.`,
    remedy: () => 'Laps with the gap are skipped; the rest are used. Check the receiver’s view of the sky.',
  },
  'log-no-lap': {
    message: (d) => `The log holds no complete lap (it crosses the start line ${d.crossings} times).`,
    remedy: () => 'Record from before the start line until after it, at least once round.',
  },
  'log-stamps': {
    message: (d) => `The time runs backwards (${d.before} s, then ${d.after} s).`,
    remedy: () => 'Sort the rows by time, or export the log again.',
  },
  'log-reversed': {
    message: () => 'The log runs in the opposite direction on this circuit.',
    remedy: () => 'Choose the layout that was driven, or import the circuit as driven in the other direction.',
  },
  'log-no-fix': {
    message: (d) => `The receiver had no valid position in any of its ${d.sentences} sentences.`,
    remedy: () => 'Wait until the receiver has a fix, under open sky, then record again.',
  },
  'log-units': {
    message: (d) => `The header says ${d.unit}, but the distance between positions matches ${d.fits}.`,
    remedy: () => 'Say which unit the column really has; nothing was taken from the file so far.',
  },
  'log-too-long': {
    message: (d) => `The log has more than ${d.most} rows.`,
    remedy: () => 'Cut it into files of one run each, or export it at 100 rows a second or fewer.',
  },
  'reference-lap-missing': {
    message: (d) => `There is no complete lap ${d.lap}; complete laps are ${d.known}.`,
    remedy: () => 'Choose one of the complete laps as reference.',
  },
  'question-unknown': {
    message: () => 'This question is not asked any more: the plan of the day has changed.',
    remedy: () => 'Go on with the next question; your earlier answers are kept.',
  },
  'rotation-size': {
    message: ({ count }) => `A lead-follow train takes two to six students, not ${count}.`,
    remedy: () => 'Take two to six cars; the others go in another group.',
  },
  'day-times': {
    message: ({ from, to }) => `From ${from} to ${to} is no time of this day.`,
    remedy: () => 'Let it end after it begins, within the day and at whole steps of it.',
  },
  'day-overlap': {
    message: ({ from, to, other }) => `From ${from} to ${to} overlaps ${other}.`,
    remedy: () => 'Make one of the two, or let one begin where the other ends.',
  },
  'day-twice': {
    message: ({ what, id }) => `“${id}” is twice in the list of ${what}.`,
    remedy: () => 'Take one of the two out, or give it an id of its own.',
  },
  'day-unknown': {
    message: ({ what, id }) => `There is no “${id}” in the list of ${what}.`,
    remedy: () => 'Add it to that list, or name one that is in it.',
  },
  'day-nobody': {
    message: ({ what, id }) => (what === 'cars' ? `There is no car that “${id}” may drive.` : `Nobody teaches the group of “${id}”.`),
    remedy: ({ what }) =>
      what === 'cars'
        ? 'Open a car to them, or take out what needs one.'
        : 'Let an instructor teach that group, or put the student in another.',
  },
  'day-too-many': {
    message: ({ what, count, max }) => `${count} ${what} are more than a day is planned for: ${max} at most.`,
    remedy: () => 'Plan two days side by side, each with its own people.',
  },
}

/** Problems on a student's phone, in English. */
export const portal: Record<PortalProblemCode, ProblemWords> = {
  unreachable: {
    message: 'The server cannot be reached.',
    remedy: 'This was not saved; it stays here as long as this page is open. Try again when the server is back.',
  },
  'file-not-sent': {
    message: 'The connection dropped during the upload.',
    remedy: 'Nothing was stored. Once the server is back, check whether the file is there; if not, choose it again.',
  },
  'foreign-origin': {
    message: 'This did not come from this application’s own pages.',
    remedy: 'Open your link itself and try again there.',
  },
  'link-withdrawn': { message: 'This link is no longer valid.', remedy: 'Ask your instructor for a new one; nothing else is lost.' },
  'too-many-logs': {
    message: 'This link has reached its limit of logs.',
    remedy: 'Ask your instructor for a new link; your logs are safe.',
  },
  'too-large': { message: 'The file is too large.', remedy: 'Send a shorter log; nothing was stored.' },
  'too-short': { message: 'The entry is too short.', remedy: 'Write a little more; nothing was stored.' },
  'too-many-tries': { message: 'Too many tries in a short time.', remedy: 'Wait a few minutes and try again.' },
  'changed-meanwhile': {
    message: 'Somebody else has changed this in the meantime.',
    remedy: 'Yours was not stored. Look at what is there now, and save again what you want otherwise.',
  },
  'round-over': { message: 'This round of questions is over.', remedy: 'Begin another one; what you answered is kept.' },
  'run-of-another': {
    message: 'This log has the id of another drive.',
    remedy: 'Choose the file again and send it once more; nothing was stored.',
  },
  'disk-full': { message: 'The server’s disk is full.', remedy: 'This was not stored. Tell your instructor, and send it again later.' },
  'disk-read-only': {
    message: 'The server cannot store anything at the moment.',
    remedy: 'This was not stored. Tell your instructor, and send it again later.',
  },
  'too-busy': { message: 'Too many files are being sent at the moment.', remedy: 'Wait a minute and send it again; nothing was stored.' },
  'took-too-long': {
    message: 'Reading this file took too long and was stopped.',
    remedy: 'Send a shorter file, or another form of it; nothing was stored.',
  },
  'not-found': { message: 'This does not exist any more.', remedy: 'It may have been removed; go back and choose again.' },
  'no-log': { message: 'This run has no log.', remedy: 'Ask your instructor, or send one.' },
  'stored-broken': {
    message: 'Something that was stored cannot be read any more.',
    remedy: 'Tell your instructor; everything else is safe.',
  },
  invalid: { message: 'The entry is not valid.', remedy: 'Correct it and send it again; nothing was stored.' },
  internal: { message: 'Something went wrong on the server.', remedy: 'What was stored before is safe. Try again in a moment.' },
}

/** Words for the place of a problem. */
export const place = (place: string): string => `At ${place}.`
