import { spawnSync } from 'node:child_process'
import { appendFileSync, cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'

const root = new URL('..', import.meta.url).pathname
let copy = ''

beforeAll(() => {
  copy = mkdtempSync(join(tmpdir(), 'ochote-arrows-'))
  for (const workspace of ['core', 'contract', 'web']) {
    cpSync(join(root, 'packages', workspace, 'src'), join(copy, 'packages', workspace, 'src'), { recursive: true })
    cpSync(join(root, 'packages', workspace, 'package.json'), join(copy, 'packages', workspace, 'package.json'))
  }
  cpSync(join(root, 'tsconfig.base.json'), join(copy, 'tsconfig.base.json'))
  symlinkSync(join(root, 'node_modules'), join(copy, 'node_modules'))
})
afterAll(() => rmSync(copy, { recursive: true, force: true }))

const check = () => {
  const { status, stderr } = spawnSync(process.execPath, [join(root, 'scripts/check-arrows.mjs'), copy], { encoding: 'utf8' })
  return { status, stderr }
}

/** Adds a line to a file of the copy, checks, and puts the file back. */
const planted = (file, line) => {
  const path = join(copy, file)
  const before = readFileSync(path, 'utf8')
  appendFileSync(path, line)
  try {
    return check()
  } finally {
    writeFileSync(path, before)
  }
}

it('finds nothing in the tree as it is', () => {
  expect(check()).toEqual({ status: 0, stderr: '' })
})

it.each([
  ['the core, upward', 'packages/core/src/circuit/pin.ts', "export { markOf } from '../marks/mark.ts'\n", 'core-layers'],
  ['the core, upward by a type alone', 'packages/core/src/circuit/pin.ts', "export type { Plan } from '../plan/plan.ts'\n", 'core-layers'],
  ['a stage from what is shared', 'packages/web/src/shared/download.ts', "export * from '../stages/cones/reports.ts'\n", 'web-layers'],
  [
    'a ring of folders',
    'packages/web/src/shared/marks/dashes.ts',
    "export type { BandView } from '../band/band-geometry.ts'\n",
    'ring in web',
  ],
])('reports an import of %s', (_, file, line, rule) => {
  const { status, stderr } = planted(file, line)
  expect(status).toBe(1)
  expect(stderr).toContain(rule)
})
