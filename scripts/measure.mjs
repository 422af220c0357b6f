// Prints how long files and functions are, how much of the public code is documented, and how deep imports go, per
// workspace: npm run measure [-- --json] [-- --long] [-- --root DIR]
import { measureWorkspace } from './structure.mjs'

const option = (name) => {
  const at = process.argv.indexOf(name)
  return at < 0 ? undefined : process.argv[at + 1]
}
const root = option('--root') ?? new URL('..', import.meta.url).pathname
const workspaces = ['core', 'contract', 'server', 'web', 'cli']

const results = workspaces.map((workspace) => measureWorkspace(root, workspace))
if (process.argv.includes('--json')) console.log(JSON.stringify(results, null, 2))
else {
  const three = ({ median, p90, max }) => `${median} / ${p90} / ${max}`
  console.log(
    '| workspace | files | lines of a file | functions | lines of a function | documented exports | longest import chain | rings of files, folders |',
  )
  console.log('| --- | --- | --- | --- | --- | --- | --- | --- |')
  for (const r of results)
    console.log(
      `| ${r.workspace} | ${r.files} | ${three(r.fileLines)} | ${r.functions} | ${three(r.functionLines)} | ${r.documented} of ${r.exports} | ${r.longestChain.length} | ${r.fileRings.length}, ${r.folderRings.length} |`,
    )
  console.log('\nLines: median / nine tenths / most. Tests are not counted; imports of types are.')
  if (process.argv.includes('--long'))
    for (const r of results) for (const f of r.longFunctions) console.log(`${String(f.lines).padStart(4)}  ${f.name}  ${f.file}`)
}
