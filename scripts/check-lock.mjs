// npm may leave platform packages out of the lock file without a word, and a fresh install then fails: name them here.
import { readFileSync } from 'node:fs'

const { packages } = JSON.parse(readFileSync('package-lock.json', 'utf8'))
const missing = []
for (const [place, entry] of Object.entries(packages))
  for (const name of Object.keys({ ...entry.dependencies, ...entry.optionalDependencies })) {
    // Node looks in the package's own node_modules, then in those of the folders above it.
    let at = place
    let found = false
    for (;;) {
      if (packages[`${at}${at === '' ? '' : '/'}node_modules/${name}`]) found = true
      if (found || at === '') break
      at = at.includes('/node_modules/')
        ? at.slice(0, at.lastIndexOf('/node_modules/'))
        : at.startsWith('node_modules/') || !at.includes('/')
          ? ''
          : at.slice(0, at.lastIndexOf('/'))
    }
    if (!found) missing.push(`${name} (needed by ${place || 'the root'})`)
  }
for (const name of missing) console.error(`Missing from package-lock.json: ${name}`)
console.log(`Lock file: ${Object.keys(packages).length} packages, ${missing.length} missing`)
process.exit(missing.length > 0 ? 1 : 0)
