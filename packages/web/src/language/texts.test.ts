import { readdirSync, readFileSync } from 'node:fs'
import { parseSync } from 'vite'
import { describe, expect, it } from 'vitest'
import server from './server-german.json' with { type: 'json' }
import german from './staff-german.json' with { type: 'json' }

const source = new URL('../', import.meta.url).pathname

/** Files of the pages, without tests. */
const files = readdirSync(source, { recursive: true, encoding: 'utf8' }).filter((f) => /\.tsx?$/.test(f) && !/\.test(-data)?\./.test(f))

type Node = { type: string; [key: string]: unknown }
const isNode = (value: unknown): value is Node => typeof value === 'object' && value !== null && 'type' in value

/** Every node below one, itself included. */
function* nodesOf(node: Node): Generator<Node> {
  yield node
  for (const value of Object.values(node))
    for (const child of Array.isArray(value) ? value : [value]) if (isNode(child)) yield* nodesOf(child)
}

/** The texts that a file says, each as the table has it. */
const saidIn = (file: string): string[] =>
  [...nodesOf(parseSync(file, readFileSync(source + file, 'utf8')).program as unknown as Node)].flatMap((node) => {
    if (node.type !== 'TaggedTemplateExpression' || (node.tag as { name?: string }).name !== 'say') return []
    const { quasis } = node.quasi as { quasis: { value: { cooked: string } }[] }
    return [quasis.map((q) => q.value.cooked).join('{}')]
  })

/** Text that a page shows between its tags, without a word around it. */
const bareIn = (file: string): string[] =>
  [...nodesOf(parseSync(file, readFileSync(source + file, 'utf8')).program as unknown as Node)].flatMap((node) => {
    if (node.type !== 'JSXText') return []
    const text = String(node.value).replace(/\s+/g, ' ').trim()
    return /\p{Letter}{2}.* .*\p{Letter}{2}/u.test(text) ? [`${file}: ${text}`] : []
  })

const folder = (name: string): string => new URL(`../../../${name}/src/`, import.meta.url).pathname
const filesOf = (name: string): string[] =>
  readdirSync(folder(name), { recursive: true, encoding: 'utf8' })
    .filter((f) => f.endsWith('.ts') && !/\.test(-data)?\.ts$/.test(f))
    .map((f) => folder(name) + f)

/** A text as it is written in the code, with {} for its parts; null for what is no text. */
const written = (node: unknown): string | null => {
  if (!isNode(node)) return null
  if (node.type === 'Literal' && typeof node.value === 'string') return node.value
  if (node.type !== 'TemplateLiteral') return null
  return (node.quasis as { value: { cooked: string } }[]).map((q) => q.value.cooked).join('{}')
}

/** What the server says of a problem, and what the contract says of a field, each as it is written. */
const toldBy = (file: string): string[] =>
  [...nodesOf(parseSync(file, readFileSync(file, 'utf8')).program as unknown as Node)].flatMap((node) => {
    const given = (node.arguments ?? []) as unknown[]
    const called = (node.callee as { name?: string; property?: { name?: string } } | undefined) ?? {}
    if (called.name === 'HttpProblem') return given.slice(2, 4).flatMap((one) => written(one) ?? [])
    if (called.name === 'make') return given.slice(2, 4).flatMap((one) => written(one) ?? [])
    if (!['min', 'regex', 'refine'].includes(called.property?.name ?? '')) return []
    return given.slice(1).flatMap((one) => written(one) ?? [])
  })

describe('texts of the server', () => {
  it('have German words, for whoever reads them on a page', () => {
    const told = ['server', 'contract'].flatMap(filesOf).flatMap(toldBy)
    expect(told.length).toBeGreaterThan(60)
    expect([...new Set(told)].filter((text) => !(text in server))).toEqual([])
  })
})

describe('texts of the pages', () => {
  it('all have German words', () => {
    const said = files.flatMap(saidIn)
    expect(said.length).toBeGreaterThan(1000)
    expect([...new Set(said)].filter((text) => !(text in german))).toEqual([])
  })

  it('stand nowhere between tags without being said in the staff’s language', () => {
    const elsewhere = /^(stages\/student|app\/parts-page)/
    expect(files.filter((f) => f.endsWith('.tsx') && !elsewhere.test(f)).flatMap(bareIn)).toEqual([])
  })
})
