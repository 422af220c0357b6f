// Lists what ships: as a bill of materials (CycloneDX 1.6, written by the build), and its licences: node scripts/sbom.mjs --licences
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'

/** Where the build leaves the bill of materials. */
const FILE = 'packages/server/dist/sbom.cdx.json'

/** Licences under which everything that ships may be given away with the product. */
const free =
  /^(MIT|MIT-0|ISC|0BSD|BSD-2-Clause|BSD-3-Clause|Apache-2\.0|CC0-1\.0|CC-BY-4\.0|OFL-1\.1|Unlicense|BlueOak-1\.0\.0|Python-2\.0|Zlib|WTFPL)$/

const lock = JSON.parse(readFileSync('package-lock.json', 'utf8'))

const manifestOf = (place) => {
  try {
    return JSON.parse(readFileSync(`${place}/package.json`, 'utf8'))
  } catch {
    // A package for another system is in the lock file only.
    return null
  }
}

/** The licence of a package as one expression; older manifests hold objects. */
const licenceOf = (place, entry) => {
  const said = entry.license ?? manifestOf(place)?.license ?? manifestOf(place)?.licenses
  if (Array.isArray(said)) return said.map((one) => one.type ?? one).join(' OR ')
  return typeof said === 'object' && said !== null ? said.type : said
}

/** Packages that ship, as the lock file fixes them: those of development and of other systems are left out. */
const shipped = Object.entries(lock.packages)
  .filter(([place, entry]) => place.includes('node_modules/') && !entry.dev && !entry.link && manifestOf(place))
  .map(([place, entry]) => ({
    name: place.slice(place.lastIndexOf('node_modules/') + 'node_modules/'.length),
    version: entry.version,
    licence: licenceOf(place, entry) ?? null,
    integrity: entry.integrity,
    deprecated: entry.deprecated ?? null,
  }))
  .sort((a, b) => `${a.name} ${a.version}`.localeCompare(`${b.name} ${b.version}`))

const purl = ({ name, version }) => `pkg:npm/${name.replace('@', '%40')}@${version}`

const component = (one) => ({
  type: 'library',
  'bom-ref': purl(one),
  name: one.name,
  version: one.version,
  purl: purl(one),
  ...(one.licence ? { licenses: [{ expression: one.licence }] } : {}),
  ...(one.integrity?.startsWith('sha512-')
    ? { hashes: [{ alg: 'SHA-512', content: Buffer.from(one.integrity.slice(7), 'base64').toString('hex') }] }
    : {}),
})

/** Writes the bill of materials. The same lock file gives the same bytes. */
export const writeSbom = () => {
  const { version } = JSON.parse(readFileSync('package.json', 'utf8'))
  const unique = [...new Map(shipped.map((one) => [purl(one), one])).values()]
  const bill = {
    bomFormat: 'CycloneDX',
    specVersion: '1.6',
    version: 1,
    metadata: { component: { type: 'application', name: 'ochote', version: version ?? manifestOf('packages/server').version } },
    components: unique.map(component),
  }
  mkdirSync('packages/server/dist', { recursive: true })
  writeFileSync(FILE, `${JSON.stringify(bill, null, 1)}\n`)
  return unique.length
}

/** An expression may offer a choice: one free licence is enough; where all are asked for, all must be free. */
const isFree = (licence) =>
  (licence ?? '')
    .replace(/[()]/g, '')
    .split(/\s+OR\s+/i)
    .some((choice) => choice.split(/\s+AND\s+/i).every((one) => free.test(one.trim())))

if (process.argv.includes('--licences')) {
  const groups = shipped.reduce((map, one) => map.set(one.licence, [...(map.get(one.licence) ?? []), one]), new Map())
  for (const [licence, all] of [...groups].sort((a, b) => b[1].length - a[1].length))
    console.log(`${String(licence).padEnd(28)} ${all.length}`)
  const bad = shipped.filter((one) => !isFree(one.licence))
  for (const one of bad) console.error(`! ${one.name} ${one.version}: ${one.licence ?? 'no licence named'}`)
  const old = shipped.filter((one) => one.deprecated)
  for (const one of old) console.error(`! ${one.name} ${one.version} is deprecated: ${one.deprecated}`)
  console.log(`${shipped.length} packages ship; ${bad.length} with a licence to be looked at, ${old.length} deprecated.`)
  process.exit(bad.length > 0 ? 1 : 0)
}
