import type { Role } from './account.ts'
import type { api } from './api.ts'

/**
 * Who may call: anyone; whoever holds a link (its token stands in the path); or people who are signed in, from this role on
 * (a lead may whatever an instructor may, an instructor whatever a volunteer may).
 */
export type Who = 'anyone' | 'link' | Role

/**
 * How far the right of an instructor goes: days with them on the list, their own runs (or those that nobody has), runs of such a day,
 * students of such a day. Leads are not bound by it. A volunteer is bound to one day in everything.
 */
export type Within = 'own-days' | 'own-runs' | 'runs-of-own-days' | 'own-students'

/** What the trail keeps of a call: that personal data were seen, changed, taken out, or erased. */
export type Trail = 'seen' | 'changed' | 'exported' | 'erased'

/** The rule of one call. `trail`: absent where nothing personal is touched, or where the call appends events that name their author. */
export type Permission = { who: Who; within?: Within; trail?: Trail }

/** The name of a call. */
export type CallName = keyof typeof api

/** Who may what: one row for every call of the API. The compiler refuses a call without a row. */
export const permissions: { readonly [name in CallName]: Permission } = {
  health: { who: 'anyone' },
  serverState: { who: 'volunteer' },
  serverHealth: { who: 'lead' },
  metrics: { who: 'lead' },
  network: { who: 'volunteer' },

  session: { who: 'anyone' },
  signIn: { who: 'anyone' },
  signInDemo: { who: 'anyone' },
  firstAccount: { who: 'anyone' },
  pairDevice: { who: 'anyone' },
  signOut: { who: 'volunteer' },
  changeOwnPassword: { who: 'instructor', trail: 'changed' },
  ownSessions: { who: 'instructor' },
  endOwnSession: { who: 'instructor', trail: 'changed' },
  beginCodes: { who: 'instructor' },
  confirmCodes: { who: 'instructor', trail: 'changed' },
  endCodes: { who: 'instructor', trail: 'changed' },

  accounts: { who: 'volunteer' },
  addAccount: { who: 'lead', trail: 'changed' },
  changeAccount: { who: 'lead', trail: 'changed' },
  signOutAccount: { who: 'lead', trail: 'changed' },
  pairings: { who: 'instructor', within: 'own-days' },
  pair: { who: 'instructor', within: 'own-days', trail: 'changed' },
  unpair: { who: 'instructor', within: 'own-days', trail: 'changed' },

  circuits: { who: 'volunteer' },
  circuit: { who: 'volunteer' },
  lookAtCircuit: { who: 'lead' },
  importCircuit: { who: 'lead', trail: 'changed' },
  reviseCircuit: { who: 'lead', trail: 'changed' },
  saveNotes: { who: 'lead', trail: 'changed' },
  archiveCircuit: { who: 'lead', trail: 'changed' },
  nameCircuit: { who: 'lead', trail: 'changed' },
  removeCircuit: { who: 'lead', trail: 'erased' },
  venues: { who: 'volunteer' },
  putVenue: { who: 'lead', trail: 'changed' },
  removeVenue: { who: 'lead', trail: 'erased' },
  vehicles: { who: 'volunteer' },
  importVehicles: { who: 'lead', trail: 'changed' },
  putVehicle: { who: 'lead', trail: 'changed' },
  removeVehicle: { who: 'lead', trail: 'erased' },
  cars: { who: 'volunteer' },
  putCar: { who: 'instructor', trail: 'changed' },
  removeCar: { who: 'lead', trail: 'erased' },
  carHistory: { who: 'instructor' },
  carConditions: { who: 'volunteer' },
  schoolSettings: { who: 'volunteer' },
  saveSchoolSettings: { who: 'lead', trail: 'changed' },
  questions: { who: 'instructor' },
  putQuestion: { who: 'instructor', trail: 'changed' },
  removeQuestion: { who: 'instructor', trail: 'erased' },

  students: { who: 'volunteer' },
  studentLines: { who: 'instructor' },
  addStudent: { who: 'instructor', trail: 'changed' },
  addStudents: { who: 'instructor', trail: 'changed' },
  changeStudent: { who: 'instructor', within: 'own-students', trail: 'changed' },
  archiveStudent: { who: 'instructor', within: 'own-students', trail: 'changed' },
  mergeStudents: { who: 'lead', trail: 'changed' },
  tellOfStudent: { who: 'instructor', within: 'own-students', trail: 'changed' },
  record: { who: 'instructor', trail: 'seen' },
  exportStudent: { who: 'lead', trail: 'exported' },
  eraseStudent: { who: 'lead', trail: 'erased' },

  days: { who: 'volunteer' },
  day: { who: 'volunteer' },
  dayFile: { who: 'instructor', trail: 'exported' },
  boardLink: { who: 'instructor', within: 'own-days' },
  dayCalendar: { who: 'instructor', trail: 'exported' },
  addDay: { who: 'lead', trail: 'changed' },
  changeDay: { who: 'instructor', within: 'own-days', trail: 'changed' },
  removeDay: { who: 'lead', trail: 'erased' },
  dayEvents: { who: 'volunteer' },
  addDayEvents: { who: 'volunteer' },
  history: { who: 'volunteer' },
  group: { who: 'instructor', trail: 'seen' },
  live: { who: 'volunteer' },
  receivers: { who: 'volunteer' },
  assignReceiver: { who: 'instructor' },
  devices: { who: 'volunteer' },
  setDevices: { who: 'instructor' },

  runs: { who: 'volunteer' },
  run: { who: 'volunteer' },
  startRun: { who: 'instructor' },
  runEvents: { who: 'volunteer' },
  addEvents: { who: 'volunteer' },
  simulateLogger: { who: 'instructor', within: 'runs-of-own-days' },
  stopLogger: { who: 'instructor', within: 'runs-of-own-days' },
  endRun: { who: 'instructor', within: 'runs-of-own-days' },

  lookAtLog: { who: 'instructor' },
  reading: { who: 'anyone' },
  uploadLog: { who: 'instructor', within: 'own-runs', trail: 'changed' },
  judgeAgain: { who: 'instructor', within: 'own-runs', trail: 'changed' },
  judgingAnew: { who: 'instructor' },
  debriefLines: { who: 'instructor' },
  debrief: { who: 'instructor', trail: 'seen' },
  trace: { who: 'instructor' },
  references: { who: 'instructor' },
  addPicture: { who: 'instructor', within: 'own-runs', trail: 'changed' },
  picture: { who: 'instructor', trail: 'seen' },
  runSheet: { who: 'instructor', trail: 'seen' },
  sheetLink: { who: 'instructor' },
  giveSheet: { who: 'instructor', within: 'own-runs', trail: 'exported' },
  sheetPrinted: { who: 'instructor', within: 'own-runs', trail: 'exported' },
  withdrawSheet: { who: 'instructor', within: 'own-runs', trail: 'changed' },

  links: { who: 'instructor', within: 'own-days' },
  giveLinks: { who: 'instructor', within: 'own-days', trail: 'changed' },
  giveLink: { who: 'instructor', within: 'own-days', trail: 'changed' },
  withdrawLink: { who: 'instructor', within: 'own-days', trail: 'changed' },
  portal: { who: 'link' },
  portalSendLog: { who: 'link' },
  portalDrive: { who: 'link' },
  portalCalendar: { who: 'link' },
  portalPicture: { who: 'link' },
  portalProfile: { who: 'link' },
  portalAcknowledge: { who: 'link' },
  portalQuiz: { who: 'link' },
  portalAnswer: { who: 'link' },
  portalRecall: { who: 'link' },
  portalRecalled: { who: 'link' },
  sheet: { who: 'link' },
  dayBoard: { who: 'link' },

  exportSchool: { who: 'lead', trail: 'exported' },
  importSchool: { who: 'lead', trail: 'changed' },
  backups: { who: 'lead' },
  makeBackup: { who: 'lead', trail: 'exported' },
  compareBackup: { who: 'lead' },
  restoreBackup: { who: 'lead', trail: 'changed' },
  trail: { who: 'lead' },
}

/** The rule of a call. */
export const permissionOf = ({ id }: { id: string }): Permission => permissions[id as CallName]

/** Order of the roles: each may whatever those before it may. */
const roleOrder: readonly Role[] = ['volunteer', 'instructor', 'lead']

/** True where a role may call what needs another one at least. */
export const mayAs = (role: Role, needed: Role): boolean => roleOrder.indexOf(role) >= roleOrder.indexOf(needed)
