// How the source of a workspace is built: its files, functions, imports and rings.
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, normalize, relative } from 'node:path'
import { parseSync } from '@swc/core'

const isSource = (name) => /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name)

/** Walks a syntax tree depth first. */
const walk = (node, visit) => {
  if (!node || typeof node !== 'object') return
  if (Array.isArray(node)) {
    for (const item of node) walk(item, visit)
    return
  }
  if (typeof node.type === 'string') visit(node)
  for (const value of Object.values(node)) if (value && typeof value === 'object') walk(value, visit)
}

const functionTypes = new Set(['ArrowFunctionExpression', 'FunctionExpression', 'FunctionDeclaration', 'ClassMethod', 'MethodProperty'])

/** A function's text, in lines: what lies between the start and end of its span. */
const linesIn = (bytes, from, to) => {
  let lines = 1
  for (let i = from; i < to; i++) if (bytes[i] === 10) lines++
  return lines
}

/** The name a function is known by, where it is bound to one. */
const namesOf = (module) => {
  const names = new Map()
  walk(module, (node) => {
    if (node.type === 'VariableDeclarator' && node.init && node.id?.value) names.set(node.init, node.id.value)
    if (node.type === 'FunctionDeclaration') names.set(node, node.identifier.value)
    if (node.type === 'KeyValueProperty' && node.key?.value) names.set(node.value, node.key.value)
  })
  return names
}

/** Exports of a file, and how many of them have a doc comment right above them. */
const exportsOf = (source) => {
  const lines = source.split('\n')
  let count = 0
  let documented = 0
  lines.forEach((line, i) => {
    if (!/^export (const|function|type|class|async function|abstract class)\b/.test(line)) return
    count++
    if (/\*\/\s*$/.test(lines[i - 1] ?? '')) documented++
  })
  return { count, documented }
}

const readFileFacts = (file) => {
  const source = readFileSync(file, 'utf8')
  const bytes = Buffer.from(source)
  const module = parseSync(source, { syntax: 'typescript', tsx: file.endsWith('x'), target: 'es2023' })
  // The parser counts bytes on from file to file; a module's span begins at its first token.
  const base = module.span.start - leadingTrivia(source)
  const names = namesOf(module)
  const functions = []
  walk(module, (node) => {
    if (!functionTypes.has(node.type)) return
    const span = node.type.startsWith('Method') || node.type === 'ClassMethod' ? (node.function?.span ?? node.span) : node.span
    functions.push({ name: names.get(node) ?? node.key?.value ?? '(inline)', lines: linesIn(bytes, span.start - base, span.end - base) })
  })
  const imports = module.body
    .filter((item) => item.source && /^\./.test(item.source.value))
    .map((item) => normalize(join(dirname(file), item.source.value)))
  return { file, lines: source.split('\n').length - 1, functions, imports, ...exportsOf(source) }
}

/** Bytes of comments and blanks before a file's first token. */
const leadingTrivia = (source) => {
  const match = /^(?:\s|\/\/[^\n]*\n|\/\*[\s\S]*?\*\/)*/.exec(source)
  return Buffer.byteLength(match?.[0] ?? '')
}

const quantiles = (values) => {
  const sorted = [...values].sort((a, b) => a - b)
  const at = (share) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0
  return { median: at(0.5), p90: at(0.9), max: sorted.at(-1) ?? 0 }
}

/** Strongly connected parts of a graph, each as a list; those of one node are left out. */
const ringsOf = (graph) => {
  const index = new Map()
  const low = new Map()
  const stack = []
  const rings = []
  const visit = (node) => {
    index.set(node, index.size)
    low.set(node, index.get(node))
    stack.push(node)
    for (const next of graph.get(node) ?? []) {
      if (!index.has(next)) {
        visit(next)
        low.set(node, Math.min(low.get(node), low.get(next)))
      } else if (stack.includes(next)) low.set(node, Math.min(low.get(node), index.get(next)))
    }
    if (low.get(node) !== index.get(node)) return
    const ring = stack.splice(stack.indexOf(node))
    if (ring.length > 1) rings.push(ring.sort())
  }
  for (const node of graph.keys()) if (!index.has(node)) visit(node)
  return rings
}

/** The longest way from file to file along imports, types included; files of one ring count once. */
const longestChain = (graph) => {
  const best = new Map()
  const open = new Set()
  const from = (node) => {
    if (best.has(node)) return best.get(node)
    open.add(node)
    let chain = []
    for (const next of graph.get(node) ?? []) {
      if (open.has(next)) continue
      const rest = from(next)
      if (rest.length > chain.length) chain = rest
    }
    open.delete(node)
    const own = [node, ...chain]
    best.set(node, own)
    return own
  }
  let longest = []
  for (const node of graph.keys()) if (from(node).length > longest.length) longest = from(node)
  return longest
}

/** Structure of a checkout's workspace. Tests are left out, imports of types are not. */
export const measureWorkspace = (root, workspace) => {
  const src = join(root, 'packages', workspace, 'src')
  const files = readdirSync(src, { recursive: true })
    .filter(isSource)
    .map((name) => readFileFacts(join(src, name)))
  const own = new Set(files.map((f) => f.file))
  // An index only passes names on; a chain through it would count them twice.
  const graph = new Map(
    files
      .filter((f) => !f.file.endsWith('/index.ts'))
      .map((f) => [f.file, f.imports.filter((i) => own.has(i) && !i.endsWith('/index.ts'))]),
  )
  const folders = new Map()
  for (const [file, imports] of graph) {
    const folder = relative(src, dirname(file)) || '.'
    const others = imports.map((i) => relative(src, dirname(i)) || '.').filter((other) => other !== folder)
    folders.set(folder, new Set([...(folders.get(folder) ?? []), ...others]))
  }
  const functions = files.flatMap((f) => f.functions.map((fn) => ({ ...fn, file: relative(root, f.file) })))
  const chain = longestChain(graph)
  return {
    workspace,
    files: files.length,
    fileLines: quantiles(files.map((f) => f.lines)),
    functions: functions.length,
    functionLines: quantiles(functions.map((f) => f.lines)),
    longFunctions: functions.filter((f) => f.lines > 60).sort((a, b) => b.lines - a.lines),
    longFiles: files.filter((f) => f.lines > 300).map((f) => ({ file: relative(root, f.file), lines: f.lines })),
    documented: files.reduce((sum, f) => sum + f.documented, 0),
    exports: files.reduce((sum, f) => sum + f.count, 0),
    imports: [...graph].flatMap(([from, list]) => list.map((to) => [relative(src, from), relative(src, to)])),
    longestChain: chain.map((f) => relative(src, f)),
    fileRings: ringsOf(graph).map((ring) => ring.map((f) => relative(src, f))),
    folderRings: ringsOf(folders),
  }
}
