import { ApiProblem } from '../api/api-client.ts'
import { type LostField, mergeFields } from './merge-fields.ts'

/** A write that found others' changes: what of the own ones was not kept. */
export type Written<R> = { written: R; lost: readonly LostField[] }

/** Times a write is tried again over newer versions. */
const TRIES = 4

/** Whether a write was refused because the document had changed. */
const changedMeanwhile = (error: unknown): boolean => error instanceof ApiProblem && error.problem.code === 'changed-meanwhile'

/**
 * Writes a document that others may have changed since `base` was read. Their changes and these come together field by field;
 * fields that both changed stay theirs and are told. @throws what `write` and `read` throw, but for changes meanwhile
 */
export const writeMerged = async <T, R>({
  base,
  mine,
  version,
  write,
  read,
}: {
  base: T
  mine: T
  version: number
  write: (doc: T, version: number) => Promise<R>
  read: () => Promise<{ doc: T; version: number }>
}): Promise<Written<R>> => {
  let next = { doc: mine, version, lost: [] as readonly LostField[] }
  for (let k = 1; ; k++) {
    try {
      return { written: await write(next.doc, next.version), lost: next.lost }
    } catch (error) {
      if (!changedMeanwhile(error) || k >= TRIES) throw error
      const theirs = await read()
      const { merged, lost } = mergeFields(base, mine, theirs.doc)
      next = { doc: merged, version: theirs.version, lost }
    }
  }
}
