import type { Knex } from 'knex'

/** Ids that were English words on screen, and what they are now. */
const levels: Readonly<Record<string, string>> = { 'first day': 'first-day' }
const skills: Readonly<Record<string, string>> = {
  'braking place': 'braking-point',
  'release of the brake': 'brake-release',
  'carrying speed': 'carrying-speed',
}
const schemes: Readonly<Record<string, string>> = { lakeside: 'pairs-and-colours' }
const schemeName = /^Lakeside: pairs brake/

/** Fields whose value is one of these ids, wherever they are in a document. */
const byField: Readonly<Record<string, Readonly<Record<string, string>>>> = { level: levels, skill: skills, schemeId: schemes }

/** A copy of a document with its ids renamed. Lists of levels are the values of `levels` in a briefing. */
const renamed = (value: unknown, field = ''): unknown => {
  if (Array.isArray(value)) return value.map((item) => renamed(item, field))
  if (value !== null && typeof value === 'object')
    return Object.fromEntries(
      Object.entries(value).map(([key, item]) => [key, renamed(item, key === 'levels' || field === 'levels' ? 'levels' : key)]),
    )
  if (typeof value !== 'string') return value
  if (field === 'levels') return levels[value] ?? value
  if (field === 'name') return value.replace(schemeName, 'Pairs brake')
  return byField[field]?.[value] ?? value
}

const documents = [
  { table: 'days', key: 'id', column: 'plan' },
  { table: 'runs', key: 'id', column: 'settings' },
  { table: 'student_events', key: 'id', column: 'doc' },
  { table: 'kit', key: 'id', column: 'doc' },
] as const

/** Keys of what is known of a log, by their new names. */
const reviewKeys: Readonly<Record<string, string>> = { bank: 'theoreticalBest', untold: 'undecidable', blindTo: 'undecidableCodes' }

/** Keys of evidence by their new names. */
const evidenceKeys: Readonly<Record<string, string>> = { farther_m: 'further_m' }

/** The document with its outer keys renamed. */
const withKeys = (json: string, names: Readonly<Record<string, string>>): string => {
  const entries = Object.entries(JSON.parse(json) as Record<string, unknown>)
  return JSON.stringify(Object.fromEntries(entries.map(([key, value]) => [names[key] ?? key, value])))
}

/** Stored ids become ids: levels, skills and the first ready-made cone scheme. The school's own things become “school settings”. */
const up = async (db: Knex): Promise<void> => {
  for (const [from, to] of Object.entries(levels)) await db('students').where({ level: from }).update({ level: to })
  for (const { table, key, column } of documents)
    for (const row of (await db(table).select(key, column)) as Record<string, string>[]) {
      const before = row[column]
      const after = JSON.stringify(renamed(JSON.parse(before)))
      if (after !== before)
        await db(table)
          .where({ [key]: row[key] })
          .update({ [column]: after })
    }
  await db.schema.renameTable('kit', 'school_settings')
  for (const { run_id, review } of (await db('logs').select('run_id', 'review')) as { run_id: string; review: string }[]) {
    const after = withKeys(review, reviewKeys)
    if (after !== review) await db('logs').where({ run_id }).update({ review: after })
  }
  const missed = (await db('findings').where({ code: 'apex-missed' }).select('id', 'evidence')) as { id: number; evidence: string }[]
  for (const { id, evidence } of missed)
    await db('findings')
      .where({ id })
      .update({ evidence: withKeys(evidence, evidenceKeys) })
}

/** Forward only: a backup is taken before every migration. */
const down = async (): Promise<void> => {
  throw new Error('Migrations only go forward; restore the backup instead.')
}

/** The migration as Knex runs it. */
export const ids: Knex.Migration = { up, down }
