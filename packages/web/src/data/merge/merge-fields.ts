/** A field that two people changed at the same time: theirs is kept, what was entered here is not. */
export type LostField = { path: readonly string[]; mine: unknown; theirs: unknown }

/** A document in which the changes of two people came together. */
export type Merged<T> = { merged: T; lost: readonly LostField[] }

type Plain = Record<string, unknown>

const isPlain = (value: unknown): value is Plain => typeof value === 'object' && value !== null && !Array.isArray(value)

/** Equal in all that JSON carries, whatever the order of the fields. */
const same = (a: unknown, b: unknown): boolean => {
  if (a === b) return true
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((one, i) => same(one, b[i]))
  if (!isPlain(a) || !isPlain(b)) return false
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every((key) => same(a[key], b[key]))
}

/** A list whose members have ids: each is a field of its own, whatever its place. */
const isListed = (value: unknown): value is { id: string }[] =>
  Array.isArray(value) && value.every((one) => isPlain(one) && typeof one.id === 'string')
const byId = (list: readonly { id: string }[]): Plain => Object.fromEntries(list.map((one) => [one.id, one]))

const mergeAt = (base: unknown, mine: unknown, theirs: unknown, path: readonly string[], lost: LostField[]): unknown => {
  if (same(mine, theirs) || same(mine, base)) return theirs
  if (same(theirs, base)) return mine
  if (isListed(base) && isListed(mine) && isListed(theirs)) return mergeLists(base, mine, theirs, path, lost)
  if (isPlain(base) && isPlain(mine) && isPlain(theirs)) return mergePlain(base, mine, theirs, path, lost)
  lost.push({ path, mine, theirs })
  return theirs
}

const mergePlain = (base: Plain, mine: Plain, theirs: Plain, path: readonly string[], lost: LostField[]): Plain => {
  const merged: Plain = {}
  for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const value = mergeAt(base[key], mine[key], theirs[key], [...path, key], lost)
    if (value !== undefined) merged[key] = value
  }
  return merged
}

/** Members in their order, then those that only this side added. */
const mergeLists = (
  base: readonly { id: string }[],
  mine: readonly { id: string }[],
  theirs: readonly { id: string }[],
  path: readonly string[],
  lost: LostField[],
): unknown[] => {
  const merged = mergePlain(byId(base), byId(mine), byId(theirs), path, lost)
  // An order that only this side changed stays as it was put here.
  const untouched = same(
    base.map((one) => one.id),
    theirs.map((one) => one.id),
  )
  const order = untouched ? [...mine, ...theirs] : [...theirs, ...mine]
  return [...new Set(order.map((one) => one.id))].flatMap((id) => (id in merged ? [merged[id]] : []))
}

/**
 * Brings two changes of one document together: what only one side changed is kept, field by field; where both changed the same
 * field differently, theirs stays and the field is told. A list of members with ids is merged by its members, other lists whole.
 */
export const mergeFields = <T>(base: T, mine: T, theirs: T): Merged<T> => {
  const lost: LostField[] = []
  return { merged: mergeAt(base, mine, theirs, [], lost) as T, lost }
}
